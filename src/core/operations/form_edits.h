// Edits of subdivision forms, each a build step (E2 to E15). What they work on is picked in the view, and stays the same
// whatever is changed below.
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

/// E11: a wall of even thickness.
class ThickenFormOperation : public OperationOf<ThickenFormOperation> {
 public:
  double thickness = 3.0;
  bool inward = true;
  double crease = 0.0;  ///< of the rims

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "thicken_form",
        .label = "Thicken form",
        .help = "Gives a form a second skin at a distance, with rims along its borders.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "layers",
        .takes = kForm};
    return kInfo;
  }
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

/// E12: the other half, joined along the mirror.
class MirrorFormOperation : public OperationOf<MirrorFormOperation> {
 public:
  FlatPlane plane = FlatPlane::XZ;
  double place = 0.0;
  bool join = true;
  double near = 0.01;  ///< mm from the mirror within which border points are joined

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "mirror_form",
        .label = "Mirror form",
        .help = "Adds the mirror image of a form and joins both where they meet the mirror.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "flip-horizontal-2",
        .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E15: the limit as a joined body of few large surfaces.
class FormToSurfacesOperation : public OperationOf<FormToSurfacesOperation> {
 public:
  double within = 0.0;  ///< mm; 0: the tolerance of the project

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "form_to_surfaces",
                                         .label = "Convert to surfaces",
                                         .help =
                                             "Makes a joined body of few large surfaces out of a "
                                             "form; the form below stays editable.",
                                         .stage = Stage::CutAndJoin,
                                         .group = "Solids",
                                         .icon = "package",
                                         .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// H8: the points of faces that cross, drawn towards their neighbours.
class PullInCrossingsOperation : public OperationOf<PullInCrossingsOperation> {
 public:
  double share = 0.5;
  int passes = 20;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "pull_in_crossings",
        .label = "Pull in crossings",
        .help = "Draws the points of faces that run through each other towards their neighbours.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "minimize-2",
        .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Another form becomes part of this one, so that both can be bridged or stitched.
class TakeInFormOperation : public OperationOf<TakeInFormOperation> {
 public:
  PartRef part;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "take_in_form",
        .label = "Take in a form",
        .help = "Adds the faces of another form, so that both can be bridged or stitched.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "file-input",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
