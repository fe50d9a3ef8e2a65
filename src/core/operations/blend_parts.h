// A surface between edges of two parts that goes on from both and follows them.
#pragma once

#include "core/cut/blend.h"
#include "core/operations/body_picks.h"
#include "core/operations/offers.h"

namespace evenclay {

/// G6: see core/cut/blend.h.
class BlendOperation : public OperationOf<BlendOperation>, public PicksOnParts {
 public:
  PartRef first, second;
  std::vector<Pick> first_edges, second_edges;
  BlendSide at_first{2, 1.0}, at_second{2, 1.0};
  bool reversed = false;
  double seam = 0.0;
  std::string sections_text() const;
  std::vector<BlendSection> sections;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "blend",
        .label = "Blend",
        .help =
            "A surface between two chains of edges that goes on from both, up to G3, and follows "
            "them.",
        .stage = Stage::CutAndJoin,
        .group = "Join",
        .icon = "blend",
        .takes = kBody,
        .hint = "The nearest open edges are blended; click others of either part. Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  PartRef picks_on(std::string_view parameter) const override {
    return parameter == "second_edges" ? second : first;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G6: see core/cut/match.h.
class MatchOperation : public OperationOf<MatchOperation>, public PicksOnParts {
 public:
  std::vector<Pick> edges;  ///< one, on the part itself
  PartRef other;
  std::vector<Pick> other_edges;
  int continuity = 1;
  bool ends_to_ends = true, reversed = false, add_points = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "match",
        .label = "Match",
        .help =
            "Brings an edge of a surface to a neighbour, up to G3, by moving its first rows of "
            "points.",
        .stage = Stage::CutAndJoin,
        .group = "Join",
        .icon = "align-center",
        .takes = kBody,
        .hint = "The edge nearest to the other part is matched; click others. Enter keeps."};
    return kInfo;
  }
  PartRef picks_on(std::string_view parameter) const override {
    return parameter == "other_edges" ? other : PartRef{};
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override { return "G" + std::to_string(continuity); }
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
