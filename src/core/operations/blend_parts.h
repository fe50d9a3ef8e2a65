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

}  // namespace evenclay
