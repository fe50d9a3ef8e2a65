#include "core/operations/cage.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/cage/cage.h"
#include "core/operations/common.h"
#include "core/source/curve_work.h"

namespace evenclay {

namespace {

// Control points and vertices of a shape.
void add_places(const Shape& shape, std::vector<Vec3>& places) {
  struct Add {
    std::vector<Vec3>& to;
    void operator()(const Body& body) const {
      for (const Face& f : body.faces) (*this)(f.surface->points.values());
    }
    void operator()(const TriangleMesh& mesh) const { (*this)(mesh.points); }
    void operator()(const CurveSet& set) const {
      for (const Curve& c : set.curves) (*this)(c.points);
    }
    void operator()(const Picture&) const {}
    void operator()(const Cage&) const {}
    void operator()(const Form& form) const { (*this)(form.points); }
    void operator()(const PointCloud& cloud) const { (*this)(cloud.points); }
    void operator()(const std::vector<Vec3>& more) const {
      to.insert(to.end(), more.begin(), more.end());
    }
  };
  std::visit(Add{places}, shape);
}

Box3 box_in(const Frame& f, const std::vector<Vec3>& places) {
  Box3 box;
  for (const Vec3& p : places) box.add(f.to_local(p));
  return box;
}

double content(const Box3& b) {
  const Vec3 s = b.max - b.min;
  return std::max(s.x, 1e-3) * std::max(s.y, 1e-3) * std::max(s.z, 1e-3);
}

// Along the principal axes of the places (I. Jolliffe, Principal Component Analysis, 2002, from memory), the nearest of
// them to x and z named so.
Frame principal_frame(const std::vector<Vec3>& places) {
  Vec3 mean;
  for (const Vec3& p : places) mean += p;
  mean = mean / static_cast<double>(places.size());
  Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
  for (const Vec3& p : places) {
    const Eigen::Vector3d d(p.x - mean.x, p.y - mean.y, p.z - mean.z);
    m += d * d.transpose();
  }
  const Eigen::Matrix3d axes = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(m).eigenvectors();
  std::array<Vec3, 3> v;
  for (int k = 0; k < 3; ++k) v[static_cast<std::size_t>(k)] = {axes(0, k), axes(1, k), axes(2, k)};
  const auto take = [&](std::size_t axis, std::size_t from) {
    for (std::size_t k = from + 1; k < 3; ++k)
      if (std::abs(v[k][axis]) > std::abs(v[from][axis])) std::swap(v[k], v[from]);
    if (v[from][axis] < 0.0) v[from] = -v[from];
  };
  take(2, 0);
  take(0, 1);
  Frame f;
  f.z = v[0];
  f.x = v[1];
  f.y = cross(f.z, f.x);
  return f;
}

// Whole hundredths of a degree, as they are shown.
void set_angles(CageOperation& cage, const Frame& f) {
  const PlaneAngles a = angles_of(f, 0.01);
  cage.turn = a.turn;
  cage.tilt = a.tilt;
  cage.roll = a.roll;
}

}  // namespace

// Around the picked parts, a little larger, so that nothing reaches out: along the work plane when one is set, else
// along the axes, or along the parts' own where that box is clearly smaller.
void CageOperation::suit(const Beginning& b) {
  std::vector<Vec3> places;
  for (const PartId part : b.picked) {
    const auto known = b.parts.find(part);
    if (part == b.chosen && b.before)
      add_places(*b.before, places);
    else if (known != b.parts.end() && known->second)
      add_places(*known->second, places);
  }
  if (places.empty()) return;
  if (b.plane) {
    set_angles(*this, *b.plane);
  } else {
    constexpr double kClearly = 0.75;
    const Frame own = principal_frame(places);
    if (content(box_in(own, places)) < kClearly * content(box_in({}, places)))
      set_angles(*this, own);
  }
  const Frame f = turned_frame({turn, tilt, roll});
  const Box3 box = box_in(f, places);
  centre = f.to_world(box.centre());
  const double least = std::max(1.0, 0.02 * box.size());
  const auto around = [&](double low, double high) {
    return std::ceil(std::max(least, 1.02 * (high - low)));
  };
  length_x = around(box.min.x, box.max.x);
  length_y = around(box.min.y, box.max.y);
  length_z = around(box.min.z, box.max.z);
}

void CageOperation::describe(ParameterVisitor& v) {
  v.count({"points_x", "Points along x", "Points of the cage."}, points_x, {2, 12});
  v.count({"points_y", "Points along y", "Points of the cage."}, points_y, {2, 12});
  v.count({"points_z", "Points along z", "Points of the cage."}, points_z, {2, 12});
  describe_place(v, centre, "Middle", "centre");
  const NumberRange length{0.001, 100000.0, "mm", 1.0, 3};
  v.number({"length_x", "Length x", "Of the box."}, length_x, length);
  v.number({"length_y", "Length y", "Of the box."}, length_y, length);
  v.number({"length_z", "Length z", "Of the box."}, length_z, length);
  const NumberRange angle{-360.0, 360.0, "°", 15.0, 2};
  v.number({"turn", "Turned", "The box about z."}, turn, angle);
  v.number({"tilt", "Tilted", "Then about its own y."}, tilt, angle);
  v.number({"roll", "Rolled", "Then about its own x."}, roll, angle);
  v.number({"band", "Transition",
            "0 bends everything; above 0 what is outside the box stays, and the bending fades in "
            "behind its walls."},
           band, {0.0, 50.0, "%", 5.0, 1});
}

std::string CageOperation::summary() const {
  return fmt::format("{} × {} × {}", points_x, points_y, points_z);
}

Outcome CageOperation::apply(const Shape&, const Inputs&, Progress&) const {
  Frame f = turned_frame({turn, tilt, roll});
  f.origin = centre - f.x * (0.5 * length_x) - f.y * (0.5 * length_y) - f.z * (0.5 * length_z);
  return {make_cage(f, {length_x, length_y, length_z}, points_x, points_y, points_z, band / 100.0),
          {}};
}

void InCageOperation::suit(const Beginning& b) {
  for (const auto& [part, shape] : b.parts)
    if (shape && std::holds_alternative<Cage>(*shape)) {
      cage = part;
      return;
    }
}

void InCageOperation::describe(ParameterVisitor& v) {
  v.part({"cage", "Cage", "The part that is a cage."}, cage);
  static constexpr std::array<Choice, 2> modes{
      {{"grid", "By control points"}, {"exact", "Exactly, within the tolerance"}}};
  visit_choice(
      v,
      {"mode", "Bends",
       "By control points keeps the counts; exactly bends every place and adds points as needed."},
      mode, modes);
}

std::string InCageOperation::summary() const {
  return mode == CageMode::Grid ? "by control points" : "exactly";
}

namespace {

constexpr int kMostHalvings = 4;

// All surfaces are refined alike, so that what they share stays shared.
Body exactly(const Body& body, const CageMap& map, double tolerance, Progress& progress,
             double& worst) {
  for (int halvings = 0;; ++halvings) {
    std::vector<Surface> made;
    worst = 0.0;
    for (const Face& f : body.faces) {
      CarriedSurface c = carried(*f.surface, map, halvings, progress);
      worst = std::max(worst, c.worst);
      made.push_back(std::move(c.surface));
    }
    if (worst <= tolerance || halvings == kMostHalvings)
      return with_surfaces(body, std::move(made), NewParameters::Scaled);
  }
}

struct Bend {
  const CageMap& map;
  CageMode mode;
  double tolerance;
  Progress& progress;
  std::vector<std::string>& notes;

  Shape by_points(const Shape& shape) const {
    Nets nets = nets_of(shape, "In cage");
    for (std::size_t n = 0; n < nets.nets.size(); ++n)
      for_each_point(nets.nets[n], 0, [&](PointIndex p) {
        nets.nets[n].set_point(p.i, p.j, p.k, map(nets.nets[n].point(p.i, p.j, p.k)));
      });
    return with_nets(shape, nets);
  }
  Shape operator()(const Body& body) const {
    if (mode == CageMode::Grid) return by_points(body);
    double worst = 0.0;
    Body bent = exactly(body, map, 0.5 * tolerance, progress, worst);
    notes.push_back(say("Within {:.4f} mm of the bent shape.", worst));
    if (worst > tolerance) notes.back() += say(" Where it is sharp no more points were added.");
    return bent;
  }
  Shape operator()(const CurveSet& set) const {
    if (mode == CageMode::Grid) return by_points(set);
    CurveSet bent;
    for (const Curve& c : set.curves) {
      const CurveEvaluator e(c);
      Curve made =
          fitted_curve([&](double t) { return map(e.point(t)); }, c.knots.first(), c.knots.last(),
                       static_cast<int>(breakpoints(c.knots).size()) - 1, 0.5 * tolerance);
      bent.curves.push_back(c.knots.periodic ? closed_curve(made, tolerance) : made);
    }
    return bent;
  }
  Shape operator()(const TriangleMesh& mesh) const {
    TriangleMesh bent = mesh;
    for (Vec3& p : bent.points) p = map(p);
    if (!bent.normals.empty()) bent.normals = averaged_normals(bent);
    return bent;
  }
  Shape operator()(const Form& form) const { return by_points(form); }
  Shape operator()(const Picture&) const { refuse(); }
  Shape operator()(const Cage&) const { refuse(); }
  Shape operator()(const PointCloud& cloud) const {
    PointCloud bent;
    for (const Vec3& p : cloud.points) bent.points.push_back(map(p));
    return bent;
  }
  [[noreturn]] static void refuse() {
    throw Error(say(
        "Only surfaces, forms, meshes and curves can be put into a cage. Choose another part."));
  }
};

}  // namespace

Outcome InCageOperation::apply(const Shape& before, const Inputs& inputs,
                               Progress& progress) const {
  if (cage.empty())
    throw Error(say("No cage is chosen yet. Make one (Cage), and choose it in the settings."));
  const auto* box = std::get_if<Cage>(inputs.parts.at(cage).get());
  if (box == nullptr)
    throw Error(say("The part that should bend this one is no cage. Choose another part."));
  if (is_empty(before)) throw Error(say("There is no shape to put into the cage yet."));
  const CageMap map(*box);
  if (map.idle()) return {before, {}};
  std::vector<std::string> notes;
  Shape bent = std::visit(Bend{map, mode, inputs.tolerance, progress, notes}, before);
  return {std::move(bent), std::move(notes)};
}

}  // namespace evenclay
