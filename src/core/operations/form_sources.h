// Subdivision forms to begin with (E1, A1): a few faces that are pulled into shape.
#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"
#include "core/operations/offers.h"
#include "core/operations/rows.h"

namespace evenclay {

/// A box of faces.
class FormBoxOperation : public OperationOf<FormBoxOperation> {
 public:
  Vec3 size{60, 60, 60};
  Vec3 centre;
  int faces_x = 2, faces_y = 2, faces_z = 2;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_box",
        .label = "Form box",
        .help = "A subdivision form from a box, its faces counted along each side.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "box",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A rectangle of faces.
class FormPlaneOperation : public OperationOf<FormPlaneOperation> {
 public:
  double length_x = 60.0, length_y = 60.0;
  Vec3 centre;
  FlatPlane plane = FlatPlane::XY;
  int faces_x = 2, faces_y = 2;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_plane",
        .label = "Form plane",
        .help = "A subdivision form from a flat rectangle of faces.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "grid-3x3",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A cylinder of faces, with or without caps.
class FormCylinderOperation : public OperationOf<FormCylinderOperation> {
 public:
  double radius = 20.0, height = 50.0;
  Vec3 centre;  ///< of its foot
  int around = 8, along = 2;
  bool caps = true;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_cylinder",
        .label = "Form cylinder",
        .help = "A subdivision form from an upright cylinder, open or with caps.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "cylinder",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A ball from a box, without poles.
class FormBallOperation : public OperationOf<FormBallOperation> {
 public:
  double radius = 30.0;
  Vec3 centre;
  int faces = 2;  ///< along each side of the box

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_ball",
        .label = "Form ball",
        .help = "A subdivision form from a box blown up to a ball, without poles.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "circle-dot",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A ring of faces.
class FormTorusOperation : public OperationOf<FormTorusOperation> {
 public:
  double ring = 40.0, tube = 12.0;
  Vec3 centre;
  FlatPlane plane = FlatPlane::XY;
  int around = 12, across = 6;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_torus",
        .label = "Form torus",
        .help = "A subdivision form from a ring, closed both ways.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "torus",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E10: a face drawn by clicking its corners, from which others are pulled out.
class FormFaceOperation : public OperationOf<FormFaceOperation>, public DrawsPoints {
 public:
  PlacesData corners{};

  FormFaceOperation();
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_face",
        .label = "Form face",
        .help = "A face drawn by clicking its corners; pull its edges out for more.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "square-plus",
        .hint = "Click the corners in the view; Backspace takes one back, Enter keeps.",
        .part_name = "Form"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override { return corners.places; }
  OperationPtr with_drawn_points(std::vector<Vec3> places) const override;
  bool places_are_net() const override { return true; }
  bool can_close() const override { return false; }
  OperationPtr drawn_closed(Leg) const override { return nullptr; }
};

/// E15: the control net of surfaces, or the faces of a mesh, as the cage of a form.
class FormOfPartOperation : public OperationOf<FormOfPartOperation> {
 public:
  PartRef part;
  double flat = 5.0;  ///< degrees within which two triangles become one quadrangle

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_of_part",
        .label = "Form from a part",
        .help =
            "Makes a form of another part: of surfaces their control nets, of a mesh its faces, of "
            "a form its copy.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "package",
        .part_name = "Form"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A world axis.
enum class FlatAxis { X, Y, Z };

/// The control points of a curve extruded or revolved into faces (E2).
class FormFromCurveOperation : public OperationOf<FormFromCurveOperation> {
 public:
  enum class Way { Extrude, Revolve };
  PartRef curve;
  Way way = Way::Extrude;
  Vec3 by{0, 0, 40};  ///< extruded: the whole way
  int rows = 2;       ///< extruded: faces along it
  Vec3 axis_at;
  FlatAxis axis = FlatAxis::Z;
  double angle = 360.0;
  int around = 12;  ///< revolved: faces over the angle

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "form_from_curve",
        .label = "Form from a curve",
        .help = "Extrudes or revolves the control points of a curve into the faces of a form.",
        .stage = Stage::Source,
        .group = "Forms",
        .icon = "spline",
        .part_name = "Form"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
