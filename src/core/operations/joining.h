// Faces and parts joined and taken apart, openings filled, edges split, merged and laid anew.
#pragma once

#include "core/operations/body_picks.h"
#include "core/operations/offers.h"

namespace evenclay {

/// All faces turned so that neighbours agree about outside; the first face of each shell decides.
Body facing_alike(Body body);
/// Closed shells turned so that they enclose a volume; hollows inside others stay turned in.
Body facing_outward(Body body, Progress& progress);

/// Openings filled: those that hold one of the edges (of the edged body), all when none are given. Flat ones get flat faces, others the surface that
/// bends least (source/border_surface.h), raised by `puff` mm. What was done is added to the notes. Throws Error.
Body with_filled_openings(const Body& body, const std::vector<std::size_t>& edges,
                          const Inputs& inputs, double puff, std::vector<std::string>& notes,
                          Progress& progress);

/// G7: faces of this part and others joined, with a report of the gaps.
class JoinPartsOperation : public OperationOf<JoinPartsOperation> {
 public:
  std::vector<PartRef> others;
  double tolerance = 0.01;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "join_parts",
        .label = "Join",
        .help =
            "Joins faces where their edges meet; gaps are measured, nothing is joined beyond the "
            "tolerance.",
        .stage = Stage::CutAndJoin,
        .group = "Join",
        .icon = "link",
        .takes = kBody,
        .hint = "Choose the other parts in the settings, or click them; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override { others = other_picked_bodies(beginning); }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

class TakeApartOperation : public OperationOf<TakeApartOperation> {
 public:
  std::vector<Pick> faces;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "take_apart",
        .label = "Take apart",
        .help = "Faces come off their neighbours: all, or the picked ones.",
        .stage = Stage::CutAndJoin,
        .group = "Join",
        .icon = "unlink",
        .takes = kBody,
        .hint = "Click the faces that come off, or leave it to take all; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

class FillOpeningsOperation : public OperationOf<FillOpeningsOperation> {
 public:
  std::vector<Pick> edges;
  double puff = 0.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "fill_openings",
        .label = "Fill openings",
        .help = "Puts a face into openings: all, or those of picked edges.",
        .stage = Stage::CutAndJoin,
        .group = "Join",
        .icon = "square",
        .takes = kBody,
        .hint = "Click an edge of each opening, or leave it to take all; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// B8.
class SplitEdgeOperation : public OperationOf<SplitEdgeOperation>, public TakesEdgePlace {
 public:
  std::vector<Pick> edges;
  int pieces = 2;
  bool at_place = false;
  double share = 0.5;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "split_edges",
                                         .label = "Split edges",
                                         .help = "Picked edges in equal pieces, or at a place.",
                                         .stage = Stage::CutAndJoin,
                                         .group = "Edges",
                                         .icon = "git-commit-horizontal",
                                         .takes = kBody,
                                         .hint =
                                             "Click edges, or tick At a place and click "
                                             "where one is to be split; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  bool wants_edge_place() const override { return at_place; }
  OperationPtr with_edge_place(const Pick& edge, double at) const override;
};

class MergeEdgesOperation : public OperationOf<MergeEdgesOperation> {
 public:
  std::vector<Pick> edges;
  double degrees = 0.1;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "merge_edges",
        .label = "Merge edges",
        .help = "Edges that go on smoothly become one; corners are named.",
        .stage = Stage::CutAndJoin,
        .group = "Edges",
        .icon = "git-merge",
        .takes = kBody,
        .hint = "Click the edges, or leave it to take all; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

class RefreshEdgesOperation : public OperationOf<RefreshEdgesOperation> {
 public:
  double reach = 2.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "refresh_edges",
        .label = "Refresh edges",
        .help = "Edges built anew from the faces' own borders, where they lie near them.",
        .stage = Stage::CutAndJoin,
        .group = "Edges",
        .icon = "refresh-cw",
        .takes = kBody};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
