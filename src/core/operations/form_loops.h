// Edits of the edges of subdivision forms, each a build step: loops, creases, bevels, finer faces. What they work on is
// picked in the view, and stays the same whatever is changed below.
#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"

namespace evenclay {

/// E3: a loop of edges across a ring, on one or both sides.
class InsertLoopOperation : public OperationOf<InsertLoopOperation> {
 public:
  std::vector<Pick> edges;
  double place = 0.5;  ///< share of the way along the picked edge
  bool both_sides = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "insert_loop",
        .label = "Insert loop",
        .help = "Puts a loop of edges across the ring of the picked edge, on one or both sides.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "columns-3",
        .takes = kForm,
        .hint = "Pick an edge that the new loop is to cross; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E13: a loop moved along the edges beside it.
class SlideLoopOperation : public OperationOf<SlideLoopOperation> {
 public:
  std::vector<Pick> edges;
  double share = 0.25;
  bool whole_loop = true;  ///< the loops of the picked edges, not they alone

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "slide_loop",
                                         .label = "Slide loop",
                                         .help = "Moves a loop of edges along the edges beside it.",
                                         .stage = Stage::Shaped,
                                         .group = "Form",
                                         .icon = "move-horizontal",
                                         .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E6: all faces, or the picked ones.
class SubdivideOperation : public OperationOf<SubdivideOperation> {
 public:
  std::vector<Pick> faces;
  bool all = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "subdivide",
        .label = "Subdivide",
        .help =
            "Divides the picked faces in four, or all of them without changing the smooth shape.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "grid-3x3",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E4: edges made sharp, fully or partly, or smooth again.
class CreaseOperation : public OperationOf<CreaseOperation> {
 public:
  std::vector<Pick> edges;
  double sharpness = 10.0;  ///< 0 … kSharp

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "crease",
        .label = "Crease",
        .help = "Makes the picked edges sharp, fully or partly, or smooth again.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "chevrons-up",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E5: edges become strips of faces.
class BevelOperation : public OperationOf<BevelOperation> {
 public:
  std::vector<Pick> edges;
  double width = 4.0;
  int segments = 1;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "bevel",
                                         .label = "Bevel",
                                         .help = "Makes a strip of faces out of each picked edge.",
                                         .stage = Stage::Shaped,
                                         .group = "Form",
                                         .icon = "blend",
                                         .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
