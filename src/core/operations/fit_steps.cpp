#include "core/operations/fit_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/grid/fair.h"
#include "core/mesh/repair.h"
#include "core/operations/watching.h"
#include "core/points/symmetry.h"
#include "core/scan/fit_scan.h"

namespace evenclay {

namespace {

constexpr int kMostAway = 50;  // percent of the scan that may look away

const ScanFit& said(const ScanFit& fit, std::vector<std::string>& notes) {
  notes.push_back(
      say("Off the scan by at most {:.3f} mm, {:.3f} mm on average; 95 % of it within {:.3f} mm.",
          fit.max, fit.mean, fit.percentile95));
  return fit;
}

std::vector<Vec3> normals_of_scan(const Shape& shape) {
  if (const auto* mesh = std::get_if<TriangleMesh>(&shape))
    return mesh->normals.empty() ? averaged_normals(*mesh) : mesh->normals;
  const auto* cloud = std::get_if<PointCloud>(&shape);
  return cloud != nullptr ? cloud->normals : std::vector<Vec3>();
}

// How much of the scan looks away from the side it is fitted from, where that is known.
double share_away(const std::vector<Vec3>& normals, const Vec3& off) {
  if (normals.empty()) return 0.0;
  const auto away = std::count_if(normals.begin(), normals.end(),
                                  [&](const Vec3& n) { return dot(n, off) < 0.0; });
  return static_cast<double>(away) / static_cast<double>(normals.size());
}

// Normals of a scan whose triangles do not agree, by neighbours that do; says how many were turned. Looked for only where the
// normals cancel each other out: a scan of a million triangles is not to wait for it.
std::size_t with_triangles_alike(const Shape& shape, std::vector<Vec3>& normals) {
  const auto* mesh = std::get_if<TriangleMesh>(&shape);
  if (mesh == nullptr || normals.empty()) return 0;
  Vec3 mean;
  for (const Vec3& n : normals) mean += n;
  const bool agree = length(mean) > 0.0 && share_away(normals, mean) < 0.02;
  if (agree) return 0;
  TriangleMesh alike = *mesh;
  const std::size_t turned = turn_alike(alike);
  if (turned > 0) normals = averaged_normals(alike);
  return turned;
}

}  // namespace

void FitSurfaceOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> ways{
      {{"counts", "Chosen counts"}, {"tolerance", "Fewest for a tolerance"}}};
  visit_choice(v,
               {"by", "Grid",
                "Counts of your own, or the fewest that keep 95 % of the scan within a tolerance."},
               by, ways);
  if (by == FitBy::Counts) {
    v.count({"points_u", "Points u", "Control points along u."}, points_u, {2, 200});
    v.count({"points_v", "Points v", "Control points along v."}, points_v, {2, 200});
  } else {
    v.number({"tolerance", "Tolerance", "95 % of the scan lie within it."}, tolerance,
             {0.001, 100.0, "mm", 0.05, 3});
  }
  v.count({"degree_u", "Degree u", "Degree along u."}, degree_u, {1, kMaxDegree});
  v.count({"degree_v", "Degree v", "Degree along v."}, degree_v, {1, kMaxDegree});
  v.number({"smoothing", "Smoothing", "0 follows every point, 100 bends as little as it can."},
           smoothing, {0.0, 100.0, "%", 5.0, 1});
  static constexpr std::array<Choice, 5> sides{{{"best", "Best fit"},
                                                {"x", "Along x"},
                                                {"y", "Along y"},
                                                {"z", "Along z"},
                                                {"direction", "A direction"}}};
  visit_choice(v,
               {"off", "Off the surface",
                "The direction that points off the surface; u and v run across it."},
               off, sides);
  if (off == FitOff::Direction) describe_place(v, direction, "Direction", "direction");
  v.part({"follow", "u follows",
          "A curve or edge whose direction u takes; none: the longest way of the scan, or the "
          "world axis."},
         follow);
  v.number({"turn", "Turn", "Turns u and v about the direction off the surface."}, turn,
           {-180.0, 180.0, "°", 5.0, 2});
  v.toggle({"flip", "Flip", "The outside is on the other side."}, flip);
  v.number(
      {"margin", "Margin", "How far the surface reaches beyond the scan; below 0 it stays inside."},
      margin, {-100.0, 100.0, "mm", 1.0, 2});
  v.toggle({"leave_out_stray", "Leave out stray points", "Points far off all others do not pull."},
           leave_out_stray);
  v.count({"corrections", "Corrections", "Rounds in which the parameters follow the surface."},
          corrections, {0, 20});
}

std::string FitSurfaceOperation::summary() const {
  if (by == FitBy::Tolerance)
    return say("within {:g} mm, degree {} × {}", tolerance, degree_u, degree_v);
  return grid_words(points_u, points_v, degree_u, degree_v);
}

namespace {

Vec3 followed(const PartRef& follow, const Inputs& inputs) {
  if (follow.empty()) return {};
  const auto found = inputs.parts.find(follow);
  const auto* set = found != inputs.parts.end() && found->second
                        ? std::get_if<CurveSet>(found->second.get())
                        : nullptr;
  if (set == nullptr || set->curves.empty())
    throw Error(say("u follows a curve. Choose a part that is one, or none."));
  const Curve& c = set->curves.front();
  const Vec3 along =
      evaluate(c, c.knots.last() - (c.knots.periodic ? 0.5 * c.knots.length() : 0.0)) -
      evaluate(c, c.knots.first());
  if (!(length(along) > 1e-6))
    throw Error(say("The curve that u follows ends where it begins. Choose an open one."));
  return along;
}

Frame frame_of(const FitSurfaceOperation& o, std::span<const Vec3> points,
               std::span<const Vec3> normals, const Vec3& along) {
  Frame f;
  if (o.off == FitOff::BestFit) {
    f = best_frame(points, normals);
    if (length(along) > 0.0) f = frame_facing(points, f.z, along);
  } else {
    const Vec3 z = o.off == FitOff::X
                       ? Vec3{1, 0, 0}
                       : (o.off == FitOff::Y ? Vec3{0, 1, 0}
                                             : (o.off == FitOff::Z ? Vec3{0, 0, 1} : o.direction));
    const Vec3 axis = o.off == FitOff::X ? Vec3{0, 1, 0} : Vec3{1, 0, 0};
    f = frame_facing(points, z,
                     length(along) > 0.0 ? along : (o.off == FitOff::Direction ? Vec3{} : axis));
  }
  if (o.flip) f = {f.origin, f.x, -f.y, -f.z};
  const double a = radians(o.turn);
  return {f.origin, f.x * std::cos(a) + f.y * std::sin(a), f.y * std::cos(a) - f.x * std::sin(a),
          f.z};
}

}  // namespace

Outcome FitSurfaceOperation::apply(const Shape& before, const Inputs& inputs,
                                   Progress& progress) const {
  const std::vector<Vec3> points = scan_points(before);
  if (points.empty())
    throw Error(
        say("Fit surface works on a scan: points or triangles. Clip a region of one first."));
  std::vector<Vec3> normals = normals_of_scan(before);
  const std::size_t turned = with_triangles_alike(before, normals);
  ScanFitPlan plan{.frame = frame_of(*this, points, normals, followed(follow, inputs)),
                   .points_u = points_u,
                   .points_v = points_v,
                   .degree_u = degree_u,
                   .degree_v = degree_v,
                   .smoothing = smoothing / 100.0,
                   .margin = margin,
                   .leave_out_stray = leave_out_stray,
                   .corrections = corrections};
  const double away = share_away(normals, flip ? -plan.frame.z : plan.frame.z);
  if (away * 100.0 > kMostAway)
    throw Error(
        say("Most of the scan looks away from the direction off the surface, so that it would be "
            "fitted from its back. Choose the opposite "
            "direction, or another one."));
  const ScanFit fit = by == FitBy::Counts ? fit_scan(points, plan, progress)
                                          : fit_scan_within(points, plan, tolerance, 60, progress);
  std::vector<std::string> notes;
  said(fit, notes);
  if (turned > 0)
    notes.push_back(say(
        "{} triangles of the scan looked to the other side than their neighbours; they were taken "
        "as those.",
        turned));
  if (by == FitBy::Tolerance)
    notes.push_back(
        say("{} × {} control points.", fit.surface.points.rows(), fit.surface.points.columns()));
  if (fit.strays > 0)
    notes.push_back(
        say_of(fit.strays, "{} stray point left out.", "{} stray points left out.", fit.strays));
  if (fit.seen < 0.95)
    notes.push_back(
        say("{:.0f} % of the surface has no scan beneath it; there it bends as little as it can.",
            100.0 * (1.0 - fit.seen)));
  if (away > 0.02)
    notes.push_back(
        say("{:.0f} % of the scan looks the other way and may be folded over. Clip it off, "
            "or turn the direction.",
            100.0 * away));
  return {body_of({fit.surface}, inputs.step), std::move(notes)};
}

std::string PointAddresses::text() const {
  std::string t;
  for (const auto& p : points) t += fmt::format("{}{},{}", t.empty() ? "" : " ", p[0], p[1]);
  return t;
}

std::string PointAddresses::to_json() const {
  return nlohmann::json(points).dump();
}

void PointAddresses::from_json(const std::string& text) {
  try {
    auto read = nlohmann::json::parse(text).get<std::vector<std::array<int, 2>>>();
    if (read.size() > kMost) throw Error(say("More points are held than can be used."));
    points = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The held points cannot be read from this text."));
  }
}

void PointAddresses::set(std::string_view address, std::string_view text) {
  if (!address.empty()) throw Error(say("Held points are set all at once, as held=2,3 4,5."));
  std::vector<std::array<int, 2>> read;
  while (!text.empty()) {
    const auto end = std::min(text.find(' '), text.size());
    if (end > 0) {
      const std::vector<double> ij = numbers_in(text.substr(0, end));
      if (ij.empty() || ij.size() > 2 || std::any_of(ij.begin(), ij.end(), [](double x) {
            return !(x >= 0.0 && x < 4096.0) || x != std::floor(x);
          }))
        throw Error(say("'{}' is not a control point; write its two numbers, as 2,3.",
                        text.substr(0, end)));
      read.push_back({static_cast<int>(ij[0]), ij.size() > 1 ? static_cast<int>(ij[1]) : 0});
    }
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  if (read.size() > kMost) throw Error(say("More points are held than can be used."));
  points = std::move(read);
}

std::string PointAddresses::summary() const {
  return points.empty() ? "none" : text();
}

std::optional<std::string> PointAddresses::typed() const {
  return points.size() > 200 ? std::nullopt : std::optional(text());
}

std::vector<char> PointAddresses::signs(int rows, int columns) const {
  std::vector<char> held(static_cast<std::size_t>(rows) * static_cast<std::size_t>(columns), 0);
  for (const auto& [i, j] : points) {
    if (i < 0 || j < 0 || i >= rows || j >= columns)
      throw Error(say("There is no control point {},{} to be held; the grid is {} × {}.", i, j,
                      rows, columns));
    held[static_cast<std::size_t>(i * columns + j)] = 1;
  }
  return held;
}

void PointAddresses::take(const std::vector<std::array<int, 4>>& picked) {
  points.clear();
  for (const auto& p : picked)
    if (p[0] == 0 && points.size() < kMost) points.push_back({p[1], p[2]});
}

void FitAgainOperation::suit(const Beginning& b) {
  held.take(b.points);
  for (const auto& [part, shape] : b.parts)
    if (part != b.chosen && shape && (kind_of(*shape) & (kMesh | kPoints)) != 0) scan = part;
}

void FitAgainOperation::describe(ParameterVisitor& v) {
  v.part({"scan", "Scan", "The points or triangles that the surface is brought to."}, scan);
  v.number({"reach", "Reach", "Points of the scan farther away than this do not count."}, reach,
           {0.001, 1000.0, "mm", 0.5, 2});
  v.number({"smoothing", "Smoothing", "How much the change from the shape before resists bending."},
           smoothing, {0.0, 100.0, "%", 5.0, 1});
  v.count({"rows", "Rows held",
           "Rows of control points that stay at every edge: 1 keeps its place, 2 its tangents."},
          rows, {0, 4});
  v.data({"held", "Points held", "Control points that stay, as 2,3 4,5."}, held);
}

std::string FitAgainOperation::summary() const {
  return held.points.empty() ? std::string("all points") : say("{} held", held.points.size());
}

namespace {

const Surface& whole_surface(const Shape& before, std::string_view label) {
  const Body& body = faces_of(before, label);
  if (body.faces.size() != 1)
    throw Error(
        say("{} works on one surface at a time; this part has {}.", label, body.faces.size()));
  refuse_trimmed(body.faces.front(), label);
  return *body.faces.front().surface;
}

}  // namespace

Outcome FitAgainOperation::apply(const Shape& before, const Inputs& inputs,
                                 Progress& progress) const {
  const Surface& s = whole_surface(before, label());
  const auto found = inputs.parts.find(scan);
  if (found == inputs.parts.end() || !found->second)
    throw Error(say("Fit again has no scan yet. Choose one in its settings."));
  const std::vector<Vec3> points = scan_points(*found->second);
  if (points.empty())
    throw Error(say("Fit again needs a scan: points or triangles. Choose a part that is one."));
  std::vector<char> signs = held.signs(s.points.rows(), s.points.columns());
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const bool near_u = !s.u.periodic && std::min(i, s.points.rows() - 1 - i) < rows;
      const bool near_v = !s.v.periodic && std::min(j, s.points.columns() - 1 - j) < rows;
      if (near_u || near_v) signs[static_cast<std::size_t>(i * s.points.columns() + j)] = 1;
    }
  const ScanFit fit = fit_again(s, points, signs, smoothing / 100.0, reach, progress);
  std::vector<std::string> notes;
  said(fit, notes);
  if (fit.strays > 0)
    notes.push_back(say("{} points lie beyond the reach and do not count.", fit.strays));
  return {with_surfaces(std::get<Body>(before), {fit.surface}, NewParameters::Scaled),
          std::move(notes)};
}

namespace {

double average_span(const Shape& shape) {
  const Vec3 extent = rough_box(shape).max - rough_box(shape).min;
  const double size = std::max({extent.x, extent.y, extent.z});
  if (const auto* body = std::get_if<Body>(&shape); body != nullptr && !body->faces.empty()) {
    const Surface& s = *body->faces.front().surface;
    return size /
           static_cast<double>(std::max(breakpoints(s.u).size(), breakpoints(s.v).size()) - 1);
  }
  if (const auto* set = std::get_if<CurveSet>(&shape); set != nullptr && !set->curves.empty())
    return size / static_cast<double>(breakpoints(set->curves.front().knots).size() - 1);
  return size / 10.0;
}

}  // namespace

void FairOperation::suit(const Beginning& b) {
  held.take(b.points);
  if (b.before && !is_empty(*b.before))
    shorter_than = std::clamp(std::ceil(5.0 * average_span(*b.before)), 1.0, 10000.0);
}

void FairOperation::describe(ParameterVisitor& v) {
  v.number({"tolerance", "Tolerance", "No place moves farther than this."}, tolerance,
           {0.0001, 100.0, "mm", 0.01, 4});
  v.number({"shorter_than", "Waves shorter than",
            "Waves of this length lose half, shorter ones nearly all; longer ones stay."},
           shorter_than, {0.01, 100000.0, "mm", 5.0, 2});
  static constexpr std::array<Choice, 5> kinds{{{"free", "Free"},
                                                {"position", "Position"},
                                                {"tangent", "Tangent"},
                                                {"curvature", "Curvature"},
                                                {"change", "Change of curvature"}}};
  static constexpr std::array<ParameterInfo, 4> edges{
      {{"hold_u_begin", "Hold where u begins", "What this edge keeps."},
       {"hold_u_end", "Hold where u ends", "What this edge keeps."},
       {"hold_v_begin", "Hold where v begins", "What this edge keeps."},
       {"hold_v_end", "Hold where v ends", "What this edge keeps."}}};
  for (std::size_t e = 0; e < edges.size(); ++e) visit_choice(v, edges[e], holds[e], kinds);
  v.data({"held", "Points held", "Control points of the first net that stay, as 2,3 4,5."}, held);
}

std::string FairOperation::summary() const {
  return say("within {:g} mm, waves under {:g} mm", tolerance, shorter_than);
}

namespace {

constexpr std::array<SymmetryPlane, 3> kPlanes{SymmetryPlane::YZ, SymmetryPlane::XZ,
                                               SymmetryPlane::XY};

// Each point the mean of itself and its partner's image, in the planes that were a symmetry before.
Nets kept_symmetric(const Nets& before, Nets after, std::vector<std::string>& notes) {
  for (const SymmetryPlane plane : kPlanes) {
    const auto map = find_mirror(before, plane, 1e-6);
    if (!map) continue;
    const Nets now = after;
    for_each_point(now, [&](PointIndex p) {
      const Vec3 mean = (now.point(p) + mirrored(now.point(map->partner(p)), plane)) * 0.5;
      after.nets[static_cast<std::size_t>(p.net)].set_point(p.i, p.j, p.k, mean);
    });
    notes.push_back(
        say("Kept symmetric about {}.",
            plane == SymmetryPlane::YZ ? "y–z" : (plane == SymmetryPlane::XZ ? "x–z" : "x–y")));
  }
  return after;
}

std::string words_of(const FairReport& r, double tolerance) {
  std::string words = say(
      "Combs turn over {} → {} times; energy of the waves {:.2g} → {:.2g}; moved by at most {:.3f} "
      "mm, {:.3f} mm on average.",
      r.turns_before, r.turns_after, r.energy_before, r.energy_after, r.greatest, r.mean);
  if (r.at_limit) words += say(" The tolerance of {:g} mm keeps more from going.", tolerance);
  return words;
}

}  // namespace

Outcome FairOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  Nets nets = nets_of(before, label());
  const Nets old = nets;
  std::vector<std::string> notes;
  FairPlan plan;
  plan.tolerance = tolerance;
  plan.shorter_than = shorter_than;
  for (std::size_t e = 0; e < holds.size(); ++e) plan.rows_held[e] = rows_held(holds[e]);
  for (std::size_t n = 0; n < nets.nets.size(); ++n) {
    FairReport r;
    if (const Surface* s = nets.nets[n].surface()) {
      plan.held = n == 0 ? held.signs(s->points.rows(), s->points.columns()) : std::vector<char>();
      nets.nets[n] = Net(faired(*s, plan, progress, &r));
    } else if (const Curve* c = nets.nets[n].curve()) {
      plan.held = n == 0 ? held.signs(c->point_count(), 1) : std::vector<char>();
      nets.nets[n] = Net(faired(*c, plan, progress, &r));
    } else {
      throw Error(say("Fair works on surfaces and curves. Choose a part made of those."));
    }
    notes.push_back(words_of(r, tolerance));
  }
  nets = kept_symmetric(old, std::move(nets), notes);
  return {with_nets(before, nets), std::move(notes)};
}

}  // namespace evenclay
