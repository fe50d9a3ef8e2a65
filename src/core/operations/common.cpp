#include "core/operations/common.h"

#include <fmt/format.h>

#include <Eigen/Geometry>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

Frame turned_frame(const PlaneAngles& angles) {
  const double d = std::numbers::pi / 180.0;
  const Eigen::Matrix3d m = (Eigen::AngleAxisd(angles.turn * d, Eigen::Vector3d::UnitZ()) *
                             Eigen::AngleAxisd(angles.tilt * d, Eigen::Vector3d::UnitY()) *
                             Eigen::AngleAxisd(angles.roll * d, Eigen::Vector3d::UnitX()))
                                .toRotationMatrix();
  Frame f;
  f.x = {m(0, 0), m(1, 0), m(2, 0)};
  f.y = {m(0, 1), m(1, 1), m(2, 1)};
  f.z = {m(0, 2), m(1, 2), m(2, 2)};
  return f;
}

PlaneAngles angles_of(const Frame& f, double step) {
  const auto degrees = [&](double radians) {
    return std::round(radians * 180.0 / std::numbers::pi / step) * step;
  };
  return {degrees(std::atan2(f.x.y, f.x.x)), degrees(std::asin(std::clamp(-f.x.z, -1.0, 1.0))),
          degrees(std::atan2(f.y.z, f.z.z))};
}

namespace {

constexpr std::array<Choice, 4> kPlanes{{{"xy", "x–y, seen from top"},
                                         {"xz", "x–z, seen from front"},
                                         {"yz", "y–z, seen from side"},
                                         {"turned", "turned by angles"}}};

}  // namespace

void describe_flat_plane(ParameterVisitor& v, FlatPlane& plane) {
  visit_choice(v, {"plane", "Lies in", "The world plane it lies in."}, plane,
               std::span(kPlanes).first(3));
}

void describe_flat_plane(ParameterVisitor& v, FlatPlane& plane, PlaneAngles& angles) {
  visit_choice(v, {"plane", "Lies in", "The plane it lies in."}, plane, kPlanes);
  if (plane != FlatPlane::Turned) return;
  const NumberRange range{-180.0, 180.0, "°", 5.0, 4};
  v.number({"plane_turn", "Turned about z", "First of the turns from x–y."}, angles.turn, range);
  v.number({"plane_tilt", "… about its y", "Second turn, about the turned y."}, angles.tilt, range);
  v.number({"plane_roll", "… about its x", "Third turn, about the turned x."}, angles.roll, range);
}

Frame frame_in(FlatPlane plane, const Vec3& origin, const PlaneAngles& angles) {
  if (plane == FlatPlane::XZ) return {origin, {1, 0, 0}, {0, 0, 1}, {0, -1, 0}};
  if (plane == FlatPlane::YZ) return {origin, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  Frame f = plane == FlatPlane::Turned ? turned_frame(angles) : Frame{};
  f.origin = origin;
  return f;
}

void lie_in(const Frame& frame, FlatPlane& plane, PlaneAngles& angles) {
  for (const FlatPlane p : {FlatPlane::XY, FlatPlane::XZ, FlatPlane::YZ}) {
    const Frame world = frame_in(p, {});
    if (distance(world.x, frame.x) + distance(world.z, frame.z) > 1e-9) continue;
    plane = p;
    return;
  }
  plane = FlatPlane::Turned;
  angles = angles_of(frame, 1e-4);
}

FlatPlane plane_through(const Vec3& a, const Vec3& b, FlatPlane now, const PlaneAngles& angles) {
  const Vec3 d{std::abs(b.x - a.x), std::abs(b.y - a.y), std::abs(b.z - a.z)};
  if (!(length(d) > 1e-9)) return now;
  // Angles are kept in steps, so what was clicked in the plane leaves it by a little.
  if (now == FlatPlane::Turned &&
      std::abs(frame_in(now, a, angles).to_local(b).z) < 1e-4 * length(d))
    return now;
  if (d.z <= d.x && d.z <= d.y) return FlatPlane::XY;
  return d.y <= d.x ? FlatPlane::XZ : FlatPlane::YZ;
}

void describe_place(ParameterVisitor& visitor, Vec3& place, std::string_view label,
                    std::string_view name) {
  static constexpr const char* axes[3] = {"x", "y", "z"};
  for (std::size_t a = 0; a < 3; ++a) {
    const std::string n = fmt::format("{}_{}", name, axes[a]);
    const std::string l = fmt::format("{} {}", label, axes[a]);
    const std::string h = say("{} along {}.", label, axes[a]);
    visitor.number({n, l, h}, place[a], {-100000.0, 100000.0, "mm", 1.0, 3});
  }
}

namespace {

[[noreturn]] void refuse_mesh(std::string_view label) {
  throw Error(
      say("{} works on surfaces, but the shape below is a mesh. Put this step before the mesh is "
          "made, or on the part the mesh was made from.",
          label));
}

}  // namespace

const Body& faces_of(const Shape& shape, std::string_view label) {
  const auto* body = std::get_if<Body>(&shape);
  if (std::holds_alternative<Form>(shape))
    throw Error(say(
        "{} works on surfaces, but the part is a subdivision form. Add Convert to surfaces first.",
        label));
  if (std::holds_alternative<Picture>(shape) || std::holds_alternative<Cage>(shape))
    throw Error(say("{} works on surfaces, but the part is a {}. Choose another part.", label,
                    std::holds_alternative<Cage>(shape) ? "cage" : "reference picture"));
  if (std::holds_alternative<CurveSet>(shape))
    throw Error(say(
        "{} works on surfaces, but the part is a curve. Choose a part made of surfaces.", label));
  if (body == nullptr) refuse_mesh(label);
  if (body->faces.empty())
    throw Error(
        say("{} has no surface to work on. Mend or switch on the steps below it first.", label));
  return *body;
}

NetsOfFaces nets_of_faces(const Body& body) {
  NetsOfFaces result;
  std::map<const Surface*, std::size_t> number;
  for (std::size_t f = 0; f < body.faces.size(); ++f) {
    const auto [at, fresh] =
        number.try_emplace(body.faces[f].surface.get(), result.faces_of_net.size());
    if (fresh) result.faces_of_net.emplace_back();
    result.net_of_face.push_back(at->second);
    result.faces_of_net[at->second].push_back(f);
  }
  return result;
}

Nets nets_of(const Shape& shape, std::string_view label) {
  std::vector<Net> nets;
  if (const auto* curves = std::get_if<CurveSet>(&shape))
    nets.assign(curves->curves.begin(), curves->curves.end());
  else if (const auto* cage = std::get_if<Cage>(&shape))
    nets.emplace_back(cage->now);
  else if (const auto* form = std::get_if<Form>(&shape))
    nets.emplace_back(FormNet{form->points, links_of(*form)});
  else if (const auto* body = std::get_if<Body>(&shape))
    for (const auto& faces : nets_of_faces(*body).faces_of_net)
      nets.emplace_back(*body->faces[faces.front()].surface);
  else
    refuse_mesh(label);
  if (nets.empty())
    throw Error(
        say("{} has nothing to work on. Mend or switch on the steps below it first.", label));
  return Nets(std::move(nets));
}

Shape with_nets(const Shape& shape, const Nets& nets) {
  if (const auto* body = std::get_if<Body>(&shape)) {
    Body result = *body;
    const NetsOfFaces of = nets_of_faces(*body);
    std::vector<std::size_t> changed;
    for (std::size_t n = 0; n < of.faces_of_net.size(); ++n) {
      const auto surface = std::make_shared<const Surface>(*nets.nets[n].surface());
      for (const std::size_t f : of.faces_of_net[n]) {
        result.faces[f].surface = surface;
        if (result.faces[f].trimmed()) changed.push_back(f);
      }
    }
    if (!changed.empty()) refresh_edges(result, changed);
    return result;
  }
  if (const auto* cage = std::get_if<Cage>(&shape)) {
    Cage result = *cage;
    result.now = *nets.nets.front().lattice();
    return result;
  }
  if (const auto* form = std::get_if<Form>(&shape)) {
    Form result = *form;
    result.points = nets.nets.front().form()->points;
    result.links = nets.nets.front().form()->links;
    return result;
  }
  CurveSet curves;
  for (const Net& n : nets.nets) curves.curves.push_back(*n.curve());
  return curves;
}

Outcome each_surface(const Shape& shape, std::string_view label,
                     const std::function<Surface(const Surface&)>& change,
                     NewParameters parameters) {
  const Body& body = faces_of(shape, label);
  std::vector<Surface> surfaces;
  for (const Face& face : body.faces) surfaces.push_back(change(*face.surface));
  return {with_surfaces(body, std::move(surfaces), parameters), {}};
}

Body with_surface(const Body& body, std::size_t face, Surface surface, NewParameters parameters) {
  std::vector<Surface> surfaces = surfaces_of(body);
  surfaces[face] = std::move(surface);
  return with_surfaces(body, std::move(surfaces), parameters);
}

void describe_face(ParameterVisitor& v, OnFace& on) {
  v.count({"surface", "Surface", "Number of the surface in the part, unless a face is picked."},
          on.number, {1, 1000});
  v.picks(
      {"face", "Face", "The face picked in the view; it stays the same one, whatever is added."},
      on.picked, {{PickKind::Face}, 1});
}

void describe_face_place(ParameterVisitor& v, OnFace& on) {
  v.number({"place_u", "Place along u", "Share of the way along u; pick it on the surface."}, on.u,
           {0.0, 1.0, "", 0.01, 4});
  v.number({"place_v", "Place along v", "Share of the way along v; pick it on the surface."}, on.v,
           {0.0, 1.0, "", 0.01, 4});
  describe_face(v, on);
}

FacePlace located(const Body& body, const OnFace& on) {
  if (on.picked.empty()) {
    if (on.number < 1 || on.number > static_cast<int>(body.faces.size()))
      throw Error(say("There is no surface {}; the part has {}.", on.number, body.faces.size()));
    return {static_cast<std::size_t>(on.number - 1), on.u, on.v, {}};
  }
  const Pick& pick = on.picked.front();
  const auto found = find_face(body, pick);
  if (!found) throw Error(say("The part has no faces. Pick a face of a part made of surfaces."));
  if (found->by_tag) return {found->index, on.u, on.v, {}};
  const Surface& s = *body.faces[found->index].surface;
  return {found->index, (found->u - s.u.first()) / s.u.length(),
          (found->v - s.v.first()) / s.v.length(),
          pick.tag == 0
              ? std::string()
              : "The face that was picked is no longer there as it was; this works on the "
                "one nearest to it."};
}

std::vector<std::string> notes_of(const FacePlace& place, std::string said) {
  std::vector<std::string> notes;
  if (!place.note.empty()) notes.push_back(place.note);
  notes.push_back(std::move(said));
  return notes;
}

const Surface* first_surface(const ShapePtr& shape) {
  const auto* body = shape ? std::get_if<Body>(shape.get()) : nullptr;
  return body != nullptr && !body->faces.empty() ? body->faces.front().surface.get() : nullptr;
}

namespace {

struct RoughBox {
  Box3& box;
  void operator()(const Body& body) const {
    for (const Face& f : body.faces)
      for (const Vec3& p : f.surface->points.values()) box.add(p);
  }
  void operator()(const TriangleMesh& mesh) const { box.add(evenclay::box(mesh)); }
  void operator()(const CurveSet& set) const {
    for (const Curve& c : set.curves)
      for (const Vec3& p : c.points) box.add(p);
  }
  void operator()(const PointCloud& cloud) const { box.add(evenclay::box(cloud)); }
  void operator()(const Cage& c) const {
    for (const Vec3& p : c.now.points.values()) box.add(p);
  }
  void operator()(const Form& form) const {
    for (const Vec3& p : form.points) box.add(p);
  }
  void operator()(const Picture& p) const {
    for (const double x : {-0.5, 0.5})
      for (const double y : {-0.5, 0.5})
        box.add(p.frame.to_world({x * p.width, y * p.height, 0.0}));
  }
};

}  // namespace

Box3 rough_box(const Shape& shape) {
  Box3 box;
  std::visit(RoughBox{box}, shape);
  return box;
}

void refuse_trimmed(const Face& face, std::string_view label) {
  if (face.trimmed())
    throw Error(
        say("{} works on whole surfaces, but this one has been cut. Move this step below the cut.",
            label));
}

std::vector<double> numbers_in(std::string_view text) {
  std::vector<double> result;
  const char* at = text.data();
  const char* end = text.data() + text.size();
  const auto skip = [&] {
    while (at < end && *at == ' ') ++at;
  };
  for (skip(); at < end; skip()) {
    double value = 0.0;
    const auto [next, error] = std::from_chars(at, end, value);
    if (error != std::errc()) throw Error(say("'{}' is not a list of numbers.", text));
    result.push_back(value);
    at = next;
    skip();
    if (at < end && *at != ',') throw Error(say("'{}' is not a list of numbers.", text));
    if (at < end) ++at;
  }
  return result;
}

std::string grid_words(int nu, int nv, int pu, int pv) {
  return say("{} × {}, degree {} × {}", nu, nv, pu, pv);
}

}  // namespace evenclay
