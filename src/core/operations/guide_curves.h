// Guide curves on a face: the face follows them as they are pulled.
#pragma once

#include "core/operations/common.h"
#include "core/operations/offers.h"
#include "core/operations/shaped_points.h"
#include "core/points/guide_curves.h"

namespace evenclay {

/// Where the guides lie, typed as "25, 50, 75": percent of the way across the face; "40:25" goes through the place at
/// 40 % of u and 25 % of v.
class GuidePlacesData : public DataParameter {
 public:
  std::vector<GuidePlace> places;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
  std::optional<std::string> typed() const override { return summary(); }
};

/// What the hand did to the guides, and how they lay then.
class GuidesData : public ShapingData {
 public:
  GuideLayout layout;
  int points = 0;
  bool through = false;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
};

enum class GuideDirection { AlongU, AlongV, Turned };

/// C13: see core/points/guide_curves.h. What was done to the guides is carried over when others are laid.
class GuideCurvesOperation : public OperationOf<GuideCurvesOperation>,
                             public ShapesPoints,
                             public TakesPlace,
                             public CyclesEdges {
 public:
  OnFace on;
  GuideDirection direction = GuideDirection::AlongU;
  double angle = 45.0;  ///< of Turned
  GuidePlacesData places;
  bool both_sides = false;
  int points = 7;
  bool through = false;
  int density_u = 16, density_v = 16;
  GuideHold edges = GuideHold::Tangent;
  std::vector<Pick> free, position, tangent, curvature;  ///< edges with a rule of their own
  SymmetryPlane symmetry = SymmetryPlane::None;
  GuidesData guides;

  GuideCurvesOperation() { places.places = {{0.25, {}}, {0.5, {}}, {0.75, {}}}; }

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "guide_curves",
        .label = "Guide curves",
        .help =
            "Curves laid across a face; pull their points, and the face follows as one surface.",
        .stage = Stage::Shaped,
        .group = "Skin",
        .icon = "spline",
        .takes = kBody,
        .hint =
            "Click the face where guides should lie, and again on one to take it away; a click on "
            "an "
            "edge changes what it keeps. Enter keeps, then pull the points."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
  bool adds_places() const override { return true; }
  OperationPtr with_next_rule(const std::vector<Pick>& edges) const override;
  std::string_view rule_of(const Pick& edge) const override;

  Offer offered(const Shape& before) const override;
  OperationPtr with_shapings(Shapings shapings) const override;
  SymmetryPlane symmetry_planes() const override { return symmetry; }
  OperationPtr with_symmetry(SymmetryPlane planes) const override;
  std::array<EdgeRule, 4> edge_rules() const override;

 private:
  struct OnGuides {
    std::vector<Curve> moves;
    std::vector<std::vector<Vec3>> own;  ///< of the points
    bool carried = false;                ///< made on other guides
  };
  OnGuides on_guides(const Face& face, const GuidedFace& plan, const GuideOptions& options,
                     const Inputs& inputs, Progress& progress) const;
  std::shared_ptr<const HandNets> hand_on(const GuidedFace& plan, const OnGuides& moved,
                                          const Surface& made, bool flipped) const;
  GuideLayout layout() const;
  GuideHold hold_of(const Pick& edge) const;
  std::vector<HeldEdge> held_edges(const Body& body, std::size_t face,
                                   std::vector<std::string>& notes) const;
};

}  // namespace evenclay
