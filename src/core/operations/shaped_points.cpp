#include "core/operations/shaped_points.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/curve_measures.h"
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

// The address of a point in as many numbers as its net has directions.
Json address_json(const Shaping& s, PointIndex p) {
  Json j = Json::array({p.i});
  if (!s.v.knots.empty()) j.push_back(p.j);
  if (!s.w.knots.empty()) j.push_back(p.k);
  return j;
}

// Only points that were changed are written: [i, j, dx, dy, dz] and [i, j, factor]; of a curve
// without j.
// Of a form: [name of the point, dx, dy, dz].
Json form_shaping_json(const Shaping& s) {
  Json moves = Json::array();
  for (std::size_t k = 0; k < s.tags.size(); ++k)
    if (const Vec3& d = s.displacements.values()[k]; d != Vec3{})
      moves.push_back(Json::array({fmt::format("{:016x}", s.tags[k]), d.x, d.y, d.z}));
  return Json{{"form", std::move(moves)}};
}

Json shaping_json(const Shaping& s) {
  if (s.empty()) return Json::object();
  if (!s.tags.empty()) return form_shaping_json(s);
  Json moves = Json::array();
  Json weights = Json::array();
  for (int i = 0; i < s.displacements.rows(); ++i)
    for (int j = 0; j < s.displacements.columns(); ++j)
      for (int k = 0; k < s.displacements.layers(); ++k) {
        const Vec3& d = s.displacements(i, j, k);
        if (d != Vec3{}) {
          Json move = address_json(s, {0, i, j, k});
          for (const double x : {d.x, d.y, d.z}) move.push_back(x);
          moves.push_back(std::move(move));
        }
        if (s.weight_factor(i, j, k) == 1.0) continue;
        Json weight = address_json(s, {0, i, j, k});
        weight.push_back(s.weight_factor(i, j, k));
        weights.push_back(std::move(weight));
      }
  Json result{{"u", knots_json(s.u)}};
  if (!s.v.knots.empty()) result["v"] = knots_json(s.v);
  if (!s.w.knots.empty()) result["w"] = knots_json(s.w);
  if (s.face != 0) result["face"] = fmt::format("{:016x}", s.face);
  result["moves"] = std::move(moves);
  result["weights"] = std::move(weights);
  return result;
}

Tag tag_of(const std::string& text) {
  Tag tag = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), tag, 16);
  if (error != std::errc() || end != text.data() + text.size())
    throw Error(say("The name of a face or point that was shaped is not written as it should be."));
  return tag;
}

Shaping form_shaping_of(const Json& moves) {
  Shaping s;
  std::vector<Vec3> all;
  for (const Json& m : moves) {
    if (m.size() != 4) throw Error(say("A shaped point is not written as it should be."));
    s.tags.push_back(tag_of(m[0].get<std::string>()));
    all.push_back({m[1].get<double>(), m[2].get<double>(), m[3].get<double>()});
  }
  if (all.empty()) return {};
  s.displacements = Grid<Vec3>::layered(static_cast<int>(all.size()), 1, 1);
  s.displacements.values() = std::move(all);
  check(s);
  return s;
}

Shaping shaping_of(const Json& j) {
  if (j.empty()) return {};
  if (j.contains("form")) return form_shaping_of(j.at("form"));
  Shaping s;
  s.u = knots_of(j.at("u"), "u direction of the shaped grid");
  const bool curve = !j.contains("v");
  if (!curve) s.v = knots_of(j.at("v"), "v direction of the shaped grid");
  if (j.contains("face")) s.face = tag_of(j.at("face").get<std::string>());
  const bool cage = j.contains("w");
  if (cage && curve) throw Error(say("A shaped cage is not written as it should be."));
  if (cage) s.w = knots_of(j.at("w"), "w direction of the shaped grid");
  const int nu = s.u.point_count();
  const int nv = curve ? 1 : s.v.point_count();
  const int nw = cage ? s.w.point_count() : 1;
  if (static_cast<double>(nu) * nv * nw > 4'000'000.0)
    throw Error(say("The shaped grid has {} × {} points, more than can be used.", nu, nv * nw));
  s.displacements = Grid<Vec3>::layered(nu, nv, nw);
  const std::size_t numbers = curve ? 1 : (cage ? 3 : 2);
  const auto place = [&](const Json& entry, std::size_t size) {
    if (entry.size() != numbers + size)
      throw Error(say("A shaped point is not written as it should be."));
    const PointIndex p{0, entry[0].get<int>(), curve ? 0 : entry[1].get<int>(),
                       cage ? entry[2].get<int>() : 0};
    if (p.i < 0 || p.i >= nu || p.j < 0 || p.j >= nv || p.k < 0 || p.k >= nw)
      throw Error(
          say("The point [{},{}] is outside the shaped grid of {} × {}.", p.i, p.j, nu, nv));
    return p;
  };
  for (const Json& m : j.at("moves")) {
    const PointIndex p = place(m, 3);
    s.displacements(p.i, p.j, p.k) = {m[numbers].get<double>(), m[numbers + 1].get<double>(),
                                      m[numbers + 2].get<double>()};
  }
  for (const Json& w : j.at("weights")) {
    const PointIndex p = place(w, 1);
    if (s.weight_factors.empty()) s.weight_factors = Grid<double>::layered(nu, nv, nw, 1.0);
    s.weight_factors(p.i, p.j, p.k) = w[numbers].get<double>();
  }
  check(s);
  return s;
}

}  // namespace

std::string ShapingData::to_json() const {
  Json j = Json::array();
  for (const Shaping& s : nets) j.push_back(shaping_json(s));
  return j.dump();
}

void ShapingData::from_json(const std::string& text) {
  try {
    std::vector<Shaping> read;
    for (const Json& j : Json::parse(text)) read.push_back(shaping_of(j));
    nets = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The shaped points are not written as they should be."));
  }
}

namespace {

// "[i,j]", "[surface,i,j]" or "[i]" as a point of the nets. Throws Error.
PointIndex point_at(std::string_view address, const Shapings& nets) {
  constexpr const char* kHow =
      "A control point is addressed as point[i,j], as point[surface,i,j], and on a curve as "
      "point[i].";
  if (address.size() < 2 || address.front() != '[' || address.back() != ']') throw Error(kHow);
  const std::vector<double> at = numbers_in(address.substr(1, address.size() - 2));
  if (at.empty() || at.size() > 3) throw Error(kHow);
  for (const double x : at)
    if (!(x >= 0.0 && x < 1e6 && x == std::floor(x))) throw Error(kHow);
  PointIndex p{};
  if (!nets.empty() && !nets[0].tags.empty())
    throw Error(
        say("The points of a form have no addresses in rows. Move them with --shape instead."));
  const bool cage =
      at.size() == 3 && nets.size() == 1 && !nets[0].empty() && !nets[0].w.knots.empty();
  if (cage) {
    p = {0, static_cast<int>(at[0]), static_cast<int>(at[1]), static_cast<int>(at[2])};
    const Grid<Vec3>& d = nets[0].displacements;
    if (p.i >= d.rows() || p.j >= d.columns() || p.k >= d.layers())
      throw Error(say("The point [{},{},{}] is outside the cage of {} × {} × {}.", p.i, p.j, p.k,
                      d.rows(), d.columns(), d.layers()));
    return p;
  }
  if (at.size() == 3) p.net = static_cast<int>(at[0]);
  if (p.net >= static_cast<int>(nets.size()) || nets[static_cast<std::size_t>(p.net)].empty())
    throw Error(say("No point of that surface has been shaped in this step yet."));
  const Shaping& s = nets[static_cast<std::size_t>(p.net)];
  const bool curve = s.v.knots.empty();
  if (curve != (at.size() == 1)) throw Error(kHow);
  p.i = static_cast<int>(curve ? at[0] : at[at.size() - 2]);
  p.j = static_cast<int>(curve ? 0.0 : at[at.size() - 1]);
  if (p.i >= s.displacements.rows() || p.j >= s.displacements.columns())
    throw Error(say("The point [{},{}] is outside the grid of {} × {}.", p.i, p.j,
                    s.displacements.rows(), s.displacements.columns()));
  return p;
}

}  // namespace

void ShapingData::set(std::string_view address, std::string_view text) {
  const PointIndex p = point_at(address, nets);
  const std::vector<double> value = numbers_in(text);
  if (value.size() < 3 || value.size() > 4)
    throw Error(say("A point's move is given as dx,dy,dz or dx,dy,dz,weight factor."));
  Shaping changed = nets[static_cast<std::size_t>(p.net)];
  if (value.size() == 4 && !changed.w.knots.empty())
    throw Error(say("The points of a cage have no weights."));
  changed.displacements(p.i, p.j, p.k) = {value[0], value[1], value[2]};
  if (value.size() == 4) {
    if (changed.weight_factors.empty())
      changed.weight_factors =
          Grid<double>(changed.displacements.rows(), changed.displacements.columns(), 1.0);
    changed.weight_factors(p.i, p.j) = value[3];
  }
  check(changed);
  nets[static_cast<std::size_t>(p.net)] = std::move(changed);
}

std::string ShapingData::summary() const {
  long moved = 0;
  long weighted = 0;
  double farthest = 0.0;
  for (const Shaping& s : nets) {
    for (const Vec3& d : s.displacements.values()) {
      if (d != Vec3{}) ++moved;
      farthest = std::max(farthest, length(d));
    }
    weighted += std::count_if(s.weight_factors.values().begin(), s.weight_factors.values().end(),
                              [](double w) { return w != 1.0; });
  }
  if (moved == 0 && weighted == 0) return say("no point moved yet");
  std::string text = say("{} moved, farthest {:.3g} mm", moved, farthest);
  if (weighted > 0) text += say(", {} weighted", weighted);
  return text;
}

void describe_symmetry(ParameterVisitor& v, SymmetryPlane& symmetry) {
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
}

void ShapedPointsOperation::describe(ParameterVisitor& v) {
  describe_symmetry(v, symmetry);
  static constexpr std::array<Choice, 6> kinds{{{"free", "Free"},
                                                {"position", "Position"},
                                                {"tangent", "Tangent"},
                                                {"curvature", "Curvature"},
                                                {"change", "Change of curvature"},
                                                {"free_tangent", "Free, tangent kept"}}};
  static constexpr std::array<ParameterInfo, 4> edges{
      {{"hold_u_begin", "Hold where u begins", "What this edge keeps while points are moved."},
       {"hold_u_end", "Hold where u ends", "What this edge keeps while points are moved."},
       {"hold_v_begin", "Hold where v begins", "What this edge keeps while points are moved."},
       {"hold_v_end", "Hold where v ends", "What this edge keeps while points are moved."}}};
  for (std::size_t e = 0; e < edges.size(); ++e) visit_choice(v, edges[e], holds[e], kinds);
  v.data({"point", "Points", "Moves and weights of the control points."}, point);
}

std::string ShapedPointsOperation::summary() const {
  return point.summary();
}

namespace {

// How far the shape kept on the net is from the one wanted.
KeptShape kept_shape(const Net& wanted, const Net& got, Progress& progress) {
  if (wanted.curve() != nullptr) {
    const CurveDeviation d = deviation(*wanted.curve(), *got.curve(), progress);
    return {d.max, d.mean, d.at};
  }
  const Deviation d = deviation(*wanted.surface(), *got.surface(), progress);
  return {d.max, d.mean, d.at};
}

std::string counts_of(const KnotVector& u, const KnotVector* v) {
  if (v == nullptr || v->knots.empty()) return say("{} points", u.point_count());
  return say("a grid of {} × {}", u.point_count(), v->point_count());
}

}  // namespace

namespace {

// Tag of the face that the piece of a net belongs to, with the range of its parameters there.
const Shaping* made_on(const Shapings& all, Tag face) {
  for (const Shaping& s : all)
    if (face != 0 && s.face == face && !s.empty()) return &s;
  return nullptr;
}

Shaping on_piece(const Shaping& whole, const Surface& piece) {
  return restricted(
      whole, std::max(piece.u.first(), whole.u.first()), std::min(piece.u.last(), whole.u.last()),
      std::max(piece.v.first(), whole.v.first()), std::min(piece.v.last(), whole.v.last()));
}

}  // namespace

std::vector<Shaping> ShapedPointsOperation::matched(const Shape& before, const Nets& below,
                                                    std::size_t* waiting) const {
  std::vector<Shaping> result(below.nets.size());
  std::set<const Shaping*> used;
  const auto* body = std::get_if<Body>(&before);
  const auto of = body != nullptr ? nets_of_faces(*body) : NetsOfFaces{};
  for (std::size_t n = 0; n < result.size(); ++n) {
    const Shaping* found = nullptr;
    bool piece = false;
    if (body != nullptr)
      for (const std::size_t f : of.faces_of_net[n]) {
        if (found == nullptr) found = made_on(point.nets, body->faces[f].tag);
        if (found != nullptr) break;
        found = made_on(point.nets, body->faces[f].piece_of);
        piece = found != nullptr;
      }
    if (found == nullptr && n < point.nets.size() && point.nets[n].face == 0)
      found = &point.nets[n];
    if (found == nullptr) continue;
    used.insert(found);
    result[n] = piece ? on_piece(*found, *below.nets[n].surface()) : *found;
    if (body != nullptr) result[n].face = body->faces[of.faces_of_net[n].front()].tag;
  }
  if (waiting != nullptr)
    *waiting = static_cast<std::size_t>(
        std::count_if(point.nets.begin(), point.nets.end(),
                      [&](const Shaping& s) { return !s.empty() && !used.contains(&s); }));
  return result;
}

ShapesPoints::Offer ShapedPointsOperation::offered(const Shape& before) const {
  Offer offer{nets_of(before, label()), {}};
  const std::vector<Shaping> all = matched(before, offer.below, nullptr);
  const auto* body = std::get_if<Body>(&before);
  const auto of = body != nullptr ? nets_of_faces(*body) : NetsOfFaces{};
  for (std::size_t n = 0; n < all.size(); ++n) {
    Shaping s = carry(all[n], offer.below.nets[n]).shaping;
    s.face = body != nullptr ? body->faces[of.faces_of_net[n].front()].tag : 0;
    offer.shapings.push_back(std::move(s));
  }
  return offer;
}

namespace {

// Of a form: what belongs to points that are not there now waits for them.
void keep_waiting(const Shaping& old, Shaping& now) {
  if (old.tags.empty() || now.tags.empty()) return;
  const std::set<Tag> there(now.tags.begin(), now.tags.end());
  std::vector<Vec3> moves = now.displacements.values();
  for (std::size_t k = 0; k < old.tags.size(); ++k) {
    const Vec3& d = old.displacements.values()[k];
    if (d == Vec3{} || there.contains(old.tags[k])) continue;
    now.tags.push_back(old.tags[k]);
    moves.push_back(d);
  }
  now.displacements = Grid<Vec3>::layered(static_cast<int>(moves.size()), 1, 1);
  now.displacements.values() = std::move(moves);
}

}  // namespace

// What belongs to faces that are not there now waits for them.
OperationPtr ShapedPointsOperation::with_shapings(Shapings shapings) const {
  auto changed = std::make_shared<ShapedPointsOperation>(*this);
  changed->point.nets = std::move(shapings);
  for (const Shaping& old : point.nets)
    if (old.face != 0 && !old.empty() && made_on(changed->point.nets, old.face) == nullptr &&
        std::none_of(changed->point.nets.begin(), changed->point.nets.end(),
                     [&](const Shaping& s) { return s.face == old.face; }))
      changed->point.nets.push_back(old);
  if (!point.nets.empty() && !changed->point.nets.empty())
    keep_waiting(point.nets.front(), changed->point.nets.front());
  return changed;
}

OperationPtr ShapedPointsOperation::with_symmetry(SymmetryPlane planes) const {
  auto changed = std::make_shared<ShapedPointsOperation>(*this);
  changed->symmetry = planes;
  return changed;
}

Outcome ShapedPointsOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  Outcome outcome;
  Nets result = nets_of(before, label());
  std::size_t waiting = 0;
  const std::vector<Shaping> shapings = matched(before, result, &waiting);
  for (std::size_t k = 0; k < result.nets.size(); ++k) {
    if (shapings[k].empty()) continue;
    Net& net = result.nets[k];
    const CarriedShaping carried = carry(shapings[k], net);
    net = with_shaping(net, carried.shaping);
    if (!carried.refitted) continue;
    if (!carried.wanted) {
      outcome.notes.push_back(say("Shaped on a cage of {} × {} × {}, carried over to other counts.",
                                  shapings[k].u.point_count(), shapings[k].v.point_count(),
                                  shapings[k].w.point_count()));
      continue;
    }
    const KeptShape d = kept_shape(*carried.wanted, net, progress);
    if (!outcome.kept || d.max > outcome.kept->max) outcome.kept = d;
    outcome.notes.push_back(say(
        "Shaped on {}, kept on {}: the shape differs by at most {:.3g} mm, {:.2g} mm on average.",
        counts_of(shapings[k].u, &shapings[k].v), counts_of(*net.knots(0), net.knots(1)), d.max,
        d.mean));
  }
  if (waiting > 0)
    outcome.notes.push_back(say(
        "Some of the moves belong to surfaces that the shape below no longer has. They are kept "
        "and "
        "come back with them."));
  outcome.shape = with_nets(before, result);
  return outcome;
}

}  // namespace evenclay
