// Edits of the faces of subdivision forms, each a build step: pulled, joined, taken away, filled, flattened. What they work on
// is picked in the view, and stays the same whatever is changed below.
#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"

namespace evenclay {

/// Which way faces or edges are pulled.
enum class PullWay { OwnNormal, X, Y, Z };

/// E2: faces moved off the form, walls around them.
class ExtrudeFacesOperation : public OperationOf<ExtrudeFacesOperation> {
 public:
  std::vector<Pick> faces;
  double distance = 10.0;
  PullWay way = PullWay::OwnNormal;
  double scale = 1.0;  ///< of the faces about their middle
  int rows = 1;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "extrude_faces",
        .label = "Extrude faces",
        .help = "Pulls the picked faces out, with walls around them, once or in several rows.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "arrow-up-from-line",
        .takes = kForm,
        .hint = "Pick faces in the view and type how far; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E2, E10: border edges pulled out into faces.
class PullEdgesOperation : public OperationOf<PullEdgesOperation> {
 public:
  std::vector<Pick> edges;
  Vec3 by{0, 0, 10};

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "pull_edges",
                                         .label = "Pull edges out",
                                         .help = "Draws new faces out of the picked border edges.",
                                         .stage = Stage::Shaped,
                                         .group = "Form",
                                         .icon = "expand",
                                         .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E7: two borders, or two groups of faces, joined by rows of faces.
class BridgeOperation : public OperationOf<BridgeOperation> {
 public:
  std::vector<Pick> faces;
  std::vector<Pick> edges;
  int twist = 0, segments = 1;
  double crease = 0.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "bridge",
        .label = "Bridge",
        .help = "Joins two borders, or two groups of faces, by rows of faces.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "link",
        .takes = kForm,
        .hint = "Pick two groups of faces, or an edge of each border; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E8: two border chains of any counts closed by a strip of faces.
class StitchOperation : public OperationOf<StitchOperation> {
 public:
  std::vector<Pick> edges;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "stitch",
        .label = "Stitch",
        .help = "Closes two border chains of any counts of edges by a strip of faces.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "waypoints",
        .takes = kForm,
        .hint = "Pick an edge of each of two borders, or all edges of two runs; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E9: edges and points taken out, their faces becoming one.
class MeltOperation : public OperationOf<MeltOperation> {
 public:
  std::vector<Pick> edges;
  std::vector<Pick> points;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "melt",
        .label = "Melt",
        .help = "Takes the picked edges or points out; the faces beside them become one.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "droplet",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E9: an opening instead of faces.
class DeleteFacesOperation : public OperationOf<DeleteFacesOperation> {
 public:
  std::vector<Pick> faces;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "delete_faces",
        .label = "Delete faces",
        .help = "Takes the picked faces out, which leaves an opening.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "square-minus",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E10: holes closed by a face each.
class FillHoleOperation : public OperationOf<FillHoleOperation> {
 public:
  std::vector<Pick> edges;
  bool all = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "fill_hole",
        .label = "Fill hole",
        .help = "Closes the hole at each picked border edge with one face, or all holes.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "circle-dashed",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E10: a face drawn between points.
class AddFaceOperation : public OperationOf<AddFaceOperation> {
 public:
  std::vector<Pick> points;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "add_face",
        .label = "Draw a face",
        .help = "Puts a face between the picked points, in the order in which they were picked.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "square-plus",
        .takes = kForm,
        .hint = "Pick three or more points one after the other; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Faces brought into one plane.
class FlattenFacesOperation : public OperationOf<FlattenFacesOperation> {
 public:
  std::vector<Pick> faces;
  enum class Onto { Mean, X, Y, Z };
  Onto onto = Onto::Mean;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "flatten_faces",
        .label = "Flatten faces",
        .help = "Brings the picked faces into one plane: their mean plane, or across an axis.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "minus",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
