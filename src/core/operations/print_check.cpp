#include "core/operations/print_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/box_edges.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/walls.h"
#include "core/exchange/export.h"
#include "core/mesh/area_vector.h"
#include "core/mesh/repair.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

constexpr double kChord = 0.02;  // mm of the triangles that are printed

// The beds that ship, and one's own.
const std::vector<Choice>& bed_choices() {
  static const std::vector<Choice> all = [] {
    std::vector<Choice> list;
    for (const PrintBed& bed : print_beds()) list.push_back({bed.name, bed.label});
    list.push_back({"own", "Own size"});
    return list;
  }();
  return all;
}

TriangleMesh triangles_of(const Shape& shape, bool repair, std::vector<std::string>& notes,
                          Progress& progress) {
  TriangleMesh mesh = mesh_of(shape, kChord, progress);
  if (mesh.triangles.empty())
    throw Error(say("There is nothing to print: the part has no triangles."));
  const EdgeReport edges = check_edges(mesh);
  if (edges.watertight() && volume(mesh) > 0.0) {
    notes.emplace_back(say("The triangles are watertight."));
    return mesh;
  }
  const std::string wrong = edges.watertight() ? say("Its outside is inside")
                                               : say("Not watertight: {} open edges, {} tangled",
                                                     edges.open, edges.tangled);
  if (!repair) {
    notes.push_back(say("{}. Switch Repaired copy on to print a mended one.", wrong));
    return mesh;
  }
  Repaired r = repaired(mesh, 1e-4 * box(mesh).size(), progress);
  const EdgeReport now = check_edges(r.mesh);
  notes.push_back(say(
      "{}. The copy is mended: {} vertices welded, {} triangles left out, {} turned, {} openings "
      "filled; it is {}.",
      wrong, r.mended.welded, r.mended.dropped, r.mended.turned, r.mended.filled,
      now.watertight() ? "watertight" : "still open, so mend the part itself"));
  return std::move(r.mesh);
}

std::string fit_note(const Lay& lay, const Vec3& bed) {
  const std::string size =
      fmt::format("{:.1f} × {:.1f} × {:.1f} mm", lay.size.x, lay.size.y, lay.size.z);
  if (lay.fits)
    return say("Fits: {} on a bed of {:g} × {:g} × {:g} mm.", size, bed.x, bed.y, bed.z);
  const double wide = std::max(lay.size.x, lay.size.y) - std::max(bed.x, bed.y),
               deep = std::min(lay.size.x, lay.size.y) - std::min(bed.x, bed.y),
               high = lay.size.z - bed.z;
  return say("Does not fit: {} is too large by {:.1f} mm. Choose a larger bed or another lay.",
             size, std::max({wide, deep, high}));
}

void note_walls(const TriangleMesh& mesh, const PrintSettings& s, std::vector<std::string>& notes,
                Progress& progress) {
  const std::vector<double> thick = wall_thickness(mesh, RayScene(mesh), progress);
  double least = kNoWall, thin = 0.0, all = 0.0;
  for (std::size_t k = 0; k < thick.size(); ++k) {
    const double area = length(area_vector(mesh, mesh.triangles[k]));
    all += area;
    least = std::min(least, thick[k]);
    if (thick[k] < 2.0 * s.line) thin += area;
  }
  if (least == kNoWall) return;
  const double share = all > 0.0 ? 100.0 * thin / all : 0.0;
  notes.push_back(share < 0.05
                      ? say("Walls: at least {:.2f} mm.", least)
                      : say("Walls too thin: down to {:.2f} mm; {:.1f} % of the skin is thinner "
                            "than two lines ({:.2f} mm).",
                            least, share, 2.0 * s.line));
}

std::string time_in_words(double hours) {
  const int minutes = static_cast<int>(std::lround(hours * 60.0));
  return minutes < 60 ? say("{} min", minutes) : say("{} h {} min", minutes / 60, minutes % 60);
}

// Each outline as an upright band of its layer's height, a little rounded in its light as laid material is. Of very many layers
// every n-th, as high as n.
TriangleMesh bands(const std::vector<Slice>& layers, double height, std::size_t first,
                   std::size_t end) {
  constexpr std::size_t kMost = 600, kMostPoints = 2000;
  constexpr double kBulge = 0.5;  // how far the normals of a band's borders lean outwards along z
  TriangleMesh m;
  const std::size_t step = std::max<std::size_t>(1, (end - first + kMost - 1) / kMost);
  for (std::size_t k = first; k < end; ++k) {
    if ((end - 1 - k) % step != 0) continue;
    const double top = layers[k].z + 0.5 * height;
    const double bottom = std::max(0.0, top - height * static_cast<double>(step));
    for (const std::vector<Vec3>& loop : layers[k].loops) {
      std::vector<Vec3> at;
      const std::size_t every = loop.size() / kMostPoints + 1;
      for (std::size_t n = 0; n < loop.size(); n += every)
        if (at.empty() || distance(at.back(), loop[n]) > 1e-6) at.push_back(loop[n]);
      if (at.size() < 3) continue;
      const auto base = static_cast<std::uint32_t>(m.points.size());
      const auto count = static_cast<std::uint32_t>(at.size());
      for (std::uint32_t n = 0; n < count; ++n) {
        const Vec3 way = at[(n + 1) % count] - at[(n + count - 1) % count];
        // The inside is to the left. A spike has no side.
        Vec3 out = normalized(Vec3{way.y, -way.x, 0.0});
        if (out == Vec3{}) out = {1, 0, 0};
        for (const double z : {bottom, top}) {
          m.points.push_back({at[n].x, at[n].y, z});
          m.normals.push_back(normalized(out + Vec3{0, 0, z == top ? kBulge : -kBulge}));
        }
      }
      for (std::uint32_t n = 0; n < count; ++n) {
        const std::uint32_t a = base + 2 * n, b = base + 2 * ((n + 1) % count);
        m.triangles.push_back({a, b, b + 1});
        m.triangles.push_back({a, b + 1, a + 1});
      }
    }
  }
  return m;
}

}  // namespace

PrintSettings PrintCheckOperation::settings() const {
  PrintSettings s;
  s.bed = bed == BedChoice::Own ? own_bed : print_beds()[static_cast<std::size_t>(bed)].size;
  s.layer = layer;
  s.line = line;
  s.overhang = overhang;
  s.walls = walls;
  s.infill = infill / 100.0;
  return s;
}

void PrintCheckOperation::suit(const Beginning& b) {
  if (b.before && (kind_of(*b.before) & (kBody | kMesh | kForm)) != 0) of = b.chosen;
}

void PrintCheckOperation::describe(ParameterVisitor& v) {
  v.part({"of", "Part", "The part that would be printed; it is left as it is."}, of);
  v.group("Bed");
  visit_choice(v, {"bed", "Bed", "The space of the printer."}, bed, bed_choices());
  if (bed == BedChoice::Own) {
    const NumberRange range{10.0, 5000.0, "mm", 10.0, 1};
    v.number({"bed_width", "Width", "Of the bed, along x."}, own_bed.x, range);
    v.number({"bed_depth", "Depth", "Of the bed, along y."}, own_bed.y, range);
    v.number({"bed_height", "Height", "Of the space above it."}, own_bed.z, range);
  }
  static constexpr std::array<Choice, 3> lays{
      {{"stands", "As it stands"}, {"best", "Best"}, {"turned", "Turned"}}};
  visit_choice(
      v,
      {"lay", "Lay",
       "Best: fits, with the least support beneath overhangs; turned: by the angles below."},
      lay, lays);
  if (lay == LayChoice::Turned) {
    const NumberRange range{-360.0, 360.0, "°", 5.0, 2};
    v.number({"turn_x", "Turn about x", "Of the form, first."}, turn.x, range);
    v.number({"turn_y", "Turn about y", "Of the form, then."}, turn.y, range);
    v.number({"turn_z", "Turn about z", "Of the form, last."}, turn.z, range);
  }
  v.group("Layers");
  v.number({"layer", "Layer height", "Thickness of one layer."}, layer, {0.02, 2.0, "mm", 0.05, 3});
  v.number({"line", "Line width", "Width of one line of material."}, line,
           {0.1, 3.0, "mm", 0.05, 3});
  v.count({"walls", "Walls", "Lines along each outline."}, walls, {1, 20});
  v.number({"infill", "Infill", "Share of the inside that is filled."}, infill,
           {0.0, 100.0, "%", 5.0, 1});
  v.number({"overhang", "Overhang", "Lean from the upright that still holds without support."},
           overhang, {0.0, 90.0, "°", 5.0, 1});
  static constexpr std::array<Choice, 3> views{
      {{"form", "The form"}, {"layers", "Layers up to"}, {"one_layer", "One layer"}}};
  visit_choice(v, {"show", "Show", "The form on its bed, or its layers."}, shows, views);
  if (shows != PrintShows::Form)
    v.count({"shown", "Shown, % of height", "Up to where layers are shown, from the bed upwards."},
            shown, {1, 100, true});
  v.toggle(
      {"repair", "Repaired copy",
       "Welds, turns and fills what keeps the triangles from being watertight, in the copy only."},
      repair);
}

std::string PrintCheckOperation::summary() const {
  static constexpr std::array<std::string_view, 3> lays{"as it stands", "best lay", "turned"};
  return say("{}, layers of {:g} mm", lays[static_cast<std::size_t>(lay)], layer);
}

Outcome PrintCheckOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  const auto found = inputs.parts.find(of);
  if (of.empty() || found == inputs.parts.end())
    throw Error(say("Print check has no part yet. Choose one in its settings."));
  const PrintSettings s = settings();
  std::vector<std::string> notes;
  const TriangleMesh mesh = triangles_of(*found->second, repair, notes, progress);
  progress.report(0.2);
  const Lay how =
      lay == LayChoice::Best
          ? best_lay(mesh, s, progress)
          : lay_turned(mesh,
                       lay == LayChoice::Turned ? std::array<double, 3>{turn.x, turn.y, turn.z}
                                                : std::array<double, 3>{},
                       s);
  notes.insert(notes.begin(), fit_note(how, s.bed));
  TriangleMesh form = laid(mesh, how);
  if (how.tips_at < 10.0)
    notes.push_back(
        say("It stands badly: it tips over when tilted by {:.0f}°. Give it a foot, or "
            "choose another lay.",
            how.tips_at));
  note_walls(form, s, notes, progress);
  notes.push_back(how.overhang < 0.5
                      ? say("Nothing leans over by more than {:g}°.", s.overhang)
                      : say("{:.0f} mm² lean over by more than {:g}° and need support.",
                            how.overhang, s.overhang));
  const std::vector<Slice> layers = slices(form, s.layer, progress);
  const PrintEstimate e = estimate(layers, how.supported, s);
  notes.push_back(say("{} layers, about {} and {:.1f} g ({:.1f} m of thread of 1.75 mm).",
                      layers.size(), time_in_words(e.hours), e.grams, e.filament));
  const auto open =
      std::count_if(layers.begin(), layers.end(), [](const Slice& l) { return l.open > 0; });
  if (open > 0)
    notes.push_back(
        say("The outlines of {} layers do not close. Mend the part, or switch "
            "Repaired copy on.",
            open));
  Outcome outcome{std::move(form), std::move(notes)};
  if (shows != PrintShows::Form && !layers.empty()) {
    const std::size_t end =
        std::max<std::size_t>(1, (layers.size() * static_cast<std::size_t>(shown) + 50) / 100);
    outcome.shape = bands(layers, s.layer, shows == PrintShows::OneLayer ? end - 1 : 0, end);
  }
  outcome.marks =
      box_edges({{-0.5 * s.bed.x, -0.5 * s.bed.y, 0.0}, {0.5 * s.bed.x, 0.5 * s.bed.y, s.bed.z}});
  return outcome;
}

}  // namespace evenclay
