#include "core/operations/scan_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/trimmed.h"
#include "core/exchange/export.h"
#include "core/operations/common.h"
#include "core/operations/curves.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

Vec3 direction_of(ScannedFrom from, const Vec3& view) {
  switch (from) {
    case ScannedFrom::Above:
      return {0, 0, 1};
    case ScannedFrom::Below:
      return {0, 0, -1};
    case ScannedFrom::Front:
      return {0, -1, 0};
    case ScannedFrom::Back:
      return {0, 1, 0};
    case ScannedFrom::Left:
      return {-1, 0, 0};
    case ScannedFrom::Right:
      return {1, 0, 0};
    case ScannedFrom::View:
      break;
  }
  if (!(length(view) > 1e-9))
    throw Error(say("The direction of the scan has no length. Give it one."));
  return normalized(view);
}

}  // namespace

void PracticeScannerOperation::suit(const Beginning& b) {
  if (b.view) view = -*b.view;
  if (b.before && (kind_of(*b.before) & (kBody | kMesh | kForm)) != 0) of = b.chosen;
}

void PracticeScannerOperation::describe(ParameterVisitor& v) {
  v.part({"of", "Part",
          "The part that is scanned; none: the palm rest of clay that comes with the program."},
         of);
  if (of.empty()) describe_place(v, centre, "Stands at", "centre");
  static constexpr std::array<Choice, 2> results{
      {{"triangles", "Triangles"}, {"points", "Points"}}};
  visit_choice(v, {"result", "Gives", "Points joined by triangles, or points alone."}, result,
               results);
  static constexpr std::array<Choice, 7> sides{{{"above", "Above"},
                                                {"below", "Below"},
                                                {"front", "The front"},
                                                {"back", "The back"},
                                                {"left", "The left"},
                                                {"right", "The right"},
                                                {"view", "A view"}}};
  visit_choice(v, {"from", "Seen from", "Where the scanner stands; it looks along parallel rays."},
               from, sides);
  if (from == ScannedFrom::View) describe_place(v, view, "Towards", "view");
  v.number({"resolution", "Resolution", "Distance of neighbouring rays."}, resolution,
           {0.01, 100.0, "mm", 0.05, 3});
  v.number({"noise", "Noise", "Standard deviation of the places along the ray."}, noise,
           {0.0, 10.0, "mm", 0.05, 3});
  v.number({"torn", "Torn borders", "How far open borders are torn away at most."}, torn,
           {0.0, 100.0, "mm", 0.5, 2});
  v.count({"holes", "Holes", "Round places where nothing is seen."}, holes, {0, 200});
  v.number({"hole_size", "Hole size", "Their mean diameter."}, hole_size,
           {0.0, 100.0, "mm", 1.0, 2});
  v.number({"outliers", "Stray points", "Share of the points that lie 3 to 10 mm off."}, outliers,
           {0.0, 100.0, "%", 0.1, 3});
  v.count({"passes", "Passes", "Views from around the z axis, not joined to each other."}, passes,
          {1, 24});
  if (passes > 1) {
    v.number({"turn", "Turn", "Angle from one pass to the next."}, turn,
             {-360.0, 360.0, "°", 15.0, 1});
    v.number({"drift", "Drift", "How far later passes lie beside their place."}, drift,
             {0.0, 100.0, "mm", 0.1, 3});
    v.number({"drift_angle", "Drift angle", "How far they are turned besides."}, drift_angle,
             {0.0, 45.0, "°", 0.1, 3});
  }
  v.count({"seed", "Seed", "Another number tears and shakes the scan otherwise."}, seed,
          {1, 1000000});
}

std::string PracticeScannerOperation::summary() const {
  return say("every {:g} mm, noise {:g} mm", resolution, noise);
}

Outcome PracticeScannerOperation::apply(const Shape&, const Inputs& inputs,
                                        Progress& progress) const {
  TriangleMesh form;
  if (of.empty()) {
    form = palm_rest();
    for (Vec3& p : form.points) p += centre;
  } else {
    const auto found = inputs.parts.find(of);
    if (found == inputs.parts.end() || !found->second || is_empty(*found->second))
      throw Error(say(
          "The part to be scanned has no shape. Mend its build steps, or choose another part."));
    if ((kind_of(*found->second) & (kBody | kMesh | kForm)) == 0)
      throw Error(
          say("Only surfaces, meshes and subdivision forms can be scanned. Choose another part."));
    form = mesh_of(*found->second, std::min(0.05, 0.2 * resolution), progress);
  }
  TriangleMesh mesh = scanned(form,
                              {.from = direction_of(from, view),
                               .passes = passes,
                               .turn = turn,
                               .spacing = resolution,
                               .noise = noise,
                               .outliers = outliers / 100.0,
                               .torn = torn,
                               .holes = holes,
                               .hole_size = hole_size,
                               .drift = drift,
                               .drift_angle = drift_angle,
                               .seed = static_cast<std::uint64_t>(seed)},
                              progress);
  std::vector<std::string> notes{
      say("{} points, {} triangles.", mesh.points.size(), mesh.triangles.size())};
  if (result == ScanResult::Points) {
    notes = {say("{} points.", mesh.points.size())};
    return {PointCloud{std::move(mesh.points), std::move(mesh.normals)}, std::move(notes)};
  }
  // What a scanner hands over has the normals of its own triangles, noise and all.
  mesh.normals.clear();
  if (mesh.triangles.empty())
    throw Error(
        say("No three neighbouring points were seen. Scan more finely, or take the points alone."));
  return {std::move(mesh), std::move(notes)};
}

namespace {

Json place(const Vec3& p) {
  return Json{p.x, p.y, p.z};
}
Vec3 read_place(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()};
}

// Looking along a world axis, from its positive side; from the front for y.
Frame view_along(char axis) {
  if (axis == 'x') return {{}, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  if (axis == 'y') return {{}, {1, 0, 0}, {0, 0, 1}, {0, -1, 0}};
  return {};
}

Lasso one_lasso(std::string_view text) {
  const auto wrong = [&] {
    return Error(
        say("'{}' is not a line around a region; write it as 'z: x,y x,y x,y', with "
            "'remove' or 'visible' before "
            "it where wanted.",
            text));
  };
  Lasso l;
  const auto colon = text.find(':');
  if (colon == std::string_view::npos) throw wrong();
  std::string_view head = trimmed(text.substr(0, colon)), rest = trimmed(text.substr(colon + 1));
  char axis = 0;
  while (!head.empty()) {
    const auto end = std::min(head.find(' '), head.size());
    const std::string_view word = head.substr(0, end);
    if (word == "remove")
      l.remove = true;
    else if (word == "keep")
      l.remove = false;
    else if (word == "visible")
      l.visible_only = true;
    else if (word == "x" || word == "y" || word == "z")
      axis = word.front();
    else
      throw wrong();
    head = trimmed(head.substr(end));
  }
  if (axis == 0) throw wrong();
  l.view = view_along(axis);
  while (!rest.empty()) {
    const auto end = std::min(rest.find(' '), rest.size());
    const std::vector<double> xy = numbers_in(rest.substr(0, end));
    if (xy.size() != 2) throw wrong();
    l.outline.push_back({xy[0], xy[1], 0.0});
    rest = trimmed(rest.substr(end));
  }
  check(l);
  return l;
}

void check_count(std::size_t count) {
  if (count > LassosData::kMost)
    throw Error(say("{} lines around regions are more than the {} that can be used.", count,
                    LassosData::kMost));
}

}  // namespace

std::string LassosData::to_json() const {
  Json all = Json::array();
  for (const Lasso& l : lassos) {
    Json outline = Json::array();
    for (const Vec3& p : l.outline) outline.push_back(Json{p.x, p.y});
    Json j{{"view", Json{place(l.view.origin), place(l.view.x), place(l.view.y), place(l.view.z)}},
           {"outline", outline}};
    if (l.eye > 0.0) j["eye"] = l.eye;
    if (l.remove) j["remove"] = true;
    if (l.visible_only) j["visible_only"] = true;
    all.push_back(std::move(j));
  }
  return all.dump();
}

void LassosData::from_json(const std::string& text) {
  std::vector<Lasso> read;
  try {
    const Json all = Json::parse(text);
    check_count(all.size());
    for (const Json& j : all) {
      Lasso l;
      const Json& v = j.at("view");
      l.view = {read_place(v.at(0)), read_place(v.at(1)), read_place(v.at(2)), read_place(v.at(3))};
      l.eye = j.value("eye", 0.0);
      l.remove = j.value("remove", false);
      l.visible_only = j.value("visible_only", false);
      for (const Json& p : j.at("outline"))
        l.outline.push_back({p.at(0).get<double>(), p.at(1).get<double>(), 0.0});
      check(l);
      read.push_back(std::move(l));
    }
  } catch (const Json::exception&) {
    throw Error(say("The lines around regions of a scan cannot be read from this text."));
  }
  lassos = std::move(read);
}

void LassosData::set(std::string_view address, std::string_view text) {
  if (!address.empty())
    throw Error(say("The lines around regions are set all at once, as regions=z: x,y x,y x,y; …"));
  std::vector<Lasso> read;
  while (!trimmed(text).empty()) {
    const auto end = std::min(text.find(';'), text.size());
    if (!trimmed(text.substr(0, end)).empty())
      read.push_back(one_lasso(trimmed(text.substr(0, end))));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  check_count(read.size());
  lassos = std::move(read);
}

std::string LassosData::summary() const {
  if (lassos.empty()) return say("none; drag a line in the view");
  const auto removing =
      std::count_if(lassos.begin(), lassos.end(), [](const Lasso& l) { return l.remove; });
  const auto keeping = static_cast<std::ptrdiff_t>(lassos.size()) - removing;
  std::string words = counted(static_cast<std::size_t>(keeping), "region");
  if (removing > 0) words += say(", {} taken away", removing);
  return words;
}

void ClipScanOperation::suit(const Beginning& b) {
  scan = b.chosen;
  for (const PartId p : b.picked)
    if (const auto known = b.parts.find(p); p != b.chosen && known != b.parts.end() &&
                                            known->second &&
                                            std::holds_alternative<CurveSet>(*known->second))
      curve = p;
}

void ClipScanOperation::describe(ParameterVisitor& v) {
  v.part({"scan", "Scan", "The part that the region is taken from."}, scan);
  v.data(
      {"regions", "Regions", "Lines drawn around what is kept or taken away, one after the other."},
      regions);
  v.number({"border", "Along borders",
            "What lies as near to torn borders and holes of the scan is left out."},
           border, {0.0, 100.0, "mm", 0.5, 2});
  v.number({"least", "Smallest piece",
            "Pieces with fewer triangles than this share of the largest are left out."},
           least, {0.0, 100.0, "%", 1.0, 1});
  v.part({"curve", "Curve", "A closed curve of another part around what is kept."}, curve);
  if (curve.empty()) return;
  static constexpr std::array<Choice, 3> ways{
      {{"x", "Along x"}, {"y", "Along y"}, {"z", "Along z"}}};
  visit_choice(v, {"carried", "Carried", "The direction in which the curve is carried."}, carried,
               ways);
}

std::string ClipScanOperation::summary() const {
  if (regions.lassos.empty() && curve.empty()) return say("all of it");
  return regions.lassos.empty() ? std::string("by a curve") : regions.summary();
}

OperationPtr ClipScanOperation::with_lassos(std::vector<Lasso> lassos) const {
  auto changed = std::make_shared<ClipScanOperation>(*this);
  changed->regions.lassos = std::move(lassos);
  return changed;
}

namespace {

Lasso lasso_of(const Shape& shape, char axis) {
  const auto* set = std::get_if<CurveSet>(&shape);
  if (set == nullptr || set->curves.size() != 1)
    throw Error(say("Clip scan takes one closed curve. Choose a part that is one."));
  const Curve& c = set->curves.front();
  Lasso l;
  l.view = view_along(axis);
  for (const double t : sample_places(c.knots, 24)) {
    const Vec3 q = l.view.to_local(evaluate(c, t));
    l.outline.push_back({q.x, q.y, 0.0});
  }
  const Vec3 first = evaluate(c, c.knots.first()), last = evaluate(c, c.knots.last());
  if (!c.knots.periodic && distance(first, last) > 1e-3 * size(c))
    throw Error(say("The curve that clips the scan is open. Close it first."));
  return l;
}

std::string said(const ClipReport& r, std::size_t of, bool mesh) {
  std::string words = say("{} of {} points", r.kept, of);
  if (mesh)
    words += say_of(r.borders, "; {} open border of the scan in the region",
                    "; {} open borders of the scan in the region", r.borders);
  if (r.torn > 0) words += say("; {} points along borders left out", r.torn);
  if (r.pieces > 0)
    words += say_of(r.pieces, "; {} small piece left out", "; {} small pieces left out", r.pieces);
  return words + ".";
}

}  // namespace

Outcome ClipScanOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  const auto found = inputs.parts.find(scan);
  if (found == inputs.parts.end() || !found->second || is_empty(*found->second))
    throw Error(say("Clip scan has no scan to work on. Choose one in its settings."));
  ClipPlan plan{regions.lassos, border, least / 100.0};
  if (!curve.empty()) {
    const auto by = inputs.parts.find(curve);
    if (by == inputs.parts.end() || !by->second)
      throw Error(say("The curve that clips the scan has no shape. Choose another one."));
    plan.lassos.insert(plan.lassos.begin(), lasso_of(*by->second, "xyz"[carried]));
  }
  ClipReport report;
  if (const auto* mesh = std::get_if<TriangleMesh>(found->second.get())) {
    TriangleMesh kept = clipped(*mesh, plan, progress, &report);
    return {std::move(kept), {said(report, mesh->points.size(), true)}};
  }
  if (const auto* cloud = std::get_if<PointCloud>(found->second.get())) {
    PointCloud kept = clipped(*cloud, plan, progress, &report);
    return {std::move(kept), {said(report, cloud->points.size(), false)}};
  }
  throw Error(say("Clip scan works on scans: points or triangles. Choose a part that is one."));
}

}  // namespace evenclay
