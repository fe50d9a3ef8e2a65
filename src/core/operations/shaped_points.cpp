#include "core/operations/shaped_points.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

Json knots_json(const KnotVector& k) {
  return Json{{"degree", k.degree}, {"periodic", k.periodic}, {"knots", k.knots}};
}

KnotVector knots_of(const Json& j, const char* what) {
  KnotVector k;
  k.degree = j.at("degree").get<int>();
  k.periodic = j.at("periodic").get<bool>();
  k.knots = j.at("knots").get<std::vector<double>>();
  check(k, what);
  return k;
}

// Only points that were changed are written: [i, j, dx, dy, dz] and [i, j, factor].
Json shaping_json(const Shaping& s) {
  if (s.empty()) return Json::object();
  Json moves = Json::array();
  Json weights = Json::array();
  for (int i = 0; i < s.displacements.rows(); ++i)
    for (int j = 0; j < s.displacements.columns(); ++j) {
      const Vec3& d = s.displacements(i, j);
      if (d != Vec3{}) moves.push_back({i, j, d.x, d.y, d.z});
      if (s.weight_factor(i, j) != 1.0) weights.push_back({i, j, s.weight_factor(i, j)});
    }
  return Json{
      {"u", knots_json(s.u)}, {"v", knots_json(s.v)}, {"moves", moves}, {"weights", weights}};
}

Shaping shaping_of(const Json& j) {
  if (j.empty()) return {};
  Shaping s;
  s.u = knots_of(j.at("u"), "u direction of the shaped grid");
  s.v = knots_of(j.at("v"), "v direction of the shaped grid");
  const int nu = s.u.point_count();
  const int nv = s.v.point_count();
  if (static_cast<long>(nu) * nv > 4'000'000)
    throw Error(fmt::format("The shaped grid has {} × {} points, more than can be used.", nu, nv));
  s.displacements = Grid<Vec3>(nu, nv);
  const auto place = [&](const Json& entry, std::size_t size) {
    if (entry.size() != size) throw Error("A shaped point is not written as it should be.");
    const int i = entry[0].get<int>();
    const int k = entry[1].get<int>();
    if (i < 0 || i >= nu || k < 0 || k >= nv)
      throw Error(
          fmt::format("The point [{},{}] is outside the shaped grid of {} × {}.", i, k, nu, nv));
    return std::pair{i, k};
  };
  for (const Json& m : j.at("moves")) {
    const auto [i, k] = place(m, 5);
    s.displacements(i, k) = {m[2].get<double>(), m[3].get<double>(), m[4].get<double>()};
  }
  for (const Json& w : j.at("weights")) {
    const auto [i, k] = place(w, 3);
    if (s.weight_factors.empty()) s.weight_factors = Grid<double>(nu, nv, 1.0);
    s.weight_factors(i, k) = w[2].get<double>();
  }
  check(s);
  return s;
}

std::vector<double> numbers(std::string_view text) {
  std::vector<double> result;
  const char* at = text.data();
  const char* end = text.data() + text.size();
  while (at < end) {
    double value = 0.0;
    const auto [next, error] = std::from_chars(at, end, value);
    if (error != std::errc()) throw Error(fmt::format("'{}' is not a list of numbers.", text));
    result.push_back(value);
    at = next;
    if (at < end && *at != ',') throw Error(fmt::format("'{}' is not a list of numbers.", text));
    if (at < end) ++at;
  }
  return result;
}

}  // namespace

std::string ShapingData::to_json() const {
  Json j = Json::array();
  for (const Shaping& s : surfaces) j.push_back(shaping_json(s));
  return j.dump();
}

void ShapingData::from_json(const std::string& text) {
  try {
    std::vector<Shaping> read;
    for (const Json& j : Json::parse(text)) read.push_back(shaping_of(j));
    surfaces = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error("The shaped points are not written as they should be.");
  }
}

void ShapingData::set(std::string_view address, std::string_view text) {
  if (address.size() < 2 || address.front() != '[' || address.back() != ']')
    throw Error("A control point is addressed as point[i,j].");
  const std::vector<double> at = numbers(address.substr(1, address.size() - 2));
  const std::vector<double> value = numbers(text);
  if (at.size() < 2 || at.size() > 3) throw Error("A control point is addressed as point[i,j].");
  if (value.size() < 3 || value.size() > 4)
    throw Error("A point's move is given as dx,dy,dz or dx,dy,dz,weight factor.");
  const double number = at.size() == 3 ? at[0] : 0.0;
  if (number < 0.0 || number >= static_cast<double>(surfaces.size()) ||
      surfaces[static_cast<std::size_t>(number)].empty())
    throw Error("No point of that surface has been shaped in this step yet.");
  Shaping& s = surfaces[static_cast<std::size_t>(number)];
  const double i = at[at.size() - 2];
  const double j = at[at.size() - 1];
  if (i < 0 || j < 0 || i >= s.displacements.rows() || j >= s.displacements.columns())
    throw Error(fmt::format("The point [{},{}] is outside the grid of {} × {}.", i, j,
                            s.displacements.rows(), s.displacements.columns()));
  const int a = static_cast<int>(i);
  const int b = static_cast<int>(j);
  Shaping changed = s;
  changed.displacements(a, b) = {value[0], value[1], value[2]};
  if (value.size() == 4) {
    if (changed.weight_factors.empty())
      changed.weight_factors =
          Grid<double>(changed.displacements.rows(), changed.displacements.columns(), 1.0);
    changed.weight_factors(a, b) = value[3];
  }
  check(changed);
  s = std::move(changed);
}

std::string ShapingData::summary() const {
  long moved = 0;
  long weighted = 0;
  double farthest = 0.0;
  for (const Shaping& s : surfaces) {
    for (const Vec3& d : s.displacements.values()) {
      if (d != Vec3{}) ++moved;
      farthest = std::max(farthest, length(d));
    }
    weighted += std::count_if(s.weight_factors.values().begin(), s.weight_factors.values().end(),
                              [](double w) { return w != 1.0; });
  }
  if (moved == 0 && weighted == 0) return "no point moved yet";
  std::string text = fmt::format("{} moved, farthest {:.3g} mm", moved, farthest);
  if (weighted > 0) text += fmt::format(", {} weighted", weighted);
  return text;
}

void ShapedPointsOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 8> planes{{{"none", "Off"},
                                                 {"yz", "y–z, left–right"},
                                                 {"xz", "x–z, front–back"},
                                                 {"xy", "x–y, up–down"},
                                                 {"yz_xz", "y–z and x–z"},
                                                 {"xz_xy", "x–z and x–y"},
                                                 {"yz_xy", "y–z and x–y"},
                                                 {"all", "all three planes"}}};
  visit_choice(v,
               {"symmetry", "Symmetry",
                "While on, every move and weight is mirrored to the partner points."},
               symmetry, planes);
  static constexpr std::array<Choice, 5> kinds{{{"free", "Free"},
                                                {"position", "Position"},
                                                {"tangent", "Tangent"},
                                                {"curvature", "Curvature"},
                                                {"change", "Change of curvature"}}};
  static constexpr std::array<ParameterInfo, 4> edges{
      {{"hold_u_begin", "Hold where u begins", "What this edge keeps while points are moved."},
       {"hold_u_end", "Hold where u ends", "What this edge keeps while points are moved."},
       {"hold_v_begin", "Hold where v begins", "What this edge keeps while points are moved."},
       {"hold_v_end", "Hold where v ends", "What this edge keeps while points are moved."}}};
  for (std::size_t e = 0; e < edges.size(); ++e) visit_choice(v, edges[e], holds[e], kinds);
  v.data({"point", "Points", "Moves and weights of the control points."}, point);
}

std::array<int, 4> ShapedPointsOperation::held_rows() const {
  std::array<int, 4> rows{};
  for (std::size_t e = 0; e < rows.size(); ++e) rows[e] = static_cast<int>(holds[e]);
  return rows;
}

std::string ShapedPointsOperation::summary() const {
  return point.summary();
}

Outcome ShapedPointsOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  Outcome outcome;
  SurfaceSet result = surfaces_of(before, label());
  for (std::size_t k = 0; k < result.surfaces.size() && k < point.surfaces.size(); ++k) {
    Surface& s = result.surfaces[k];
    const CarriedShaping carried = carry(point.surfaces[k], s);
    s = evenclay::apply(s, carried.shaping);
    if (!carried.refitted) continue;
    const Deviation d = deviation({{&carried.wanted, 1}, nullptr}, {{&s, 1}, nullptr}, progress);
    if (!outcome.kept || d.max > outcome.kept->max) outcome.kept = KeptShape{d.max, d.mean, d.at};
    outcome.notes.push_back(fmt::format(
        "Shaped on a grid of {} × {}, kept on {} × {}: the shape differs by at most {:.3g} mm, "
        "{:.2g} mm on average.",
        point.surfaces[k].u.point_count(), point.surfaces[k].v.point_count(), s.u.point_count(),
        s.v.point_count(), d.max, d.mean));
  }
  if (result.surfaces.size() < point.surfaces.size())
    outcome.notes.push_back(
        "Some of the moves belong to surfaces that the shape below no longer has.");
  outcome.shape = std::move(result);
  return outcome;
}

}  // namespace evenclay
