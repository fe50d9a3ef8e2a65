// The layers of the parts themselves: meshes, curves, edges, and the values of maps.
#include <algorithm>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "app/view/look_runs.h"
#include "core/check/watch.h"

namespace evenclay {

void add_piece(std::vector<float>& pieces, const Vec3& a, const Vec3& b) {
  for (const Vec3& p : {a, b})
    for (std::size_t c = 0; c < 3; ++c) pieces.push_back(static_cast<float>(p[c]));
}

Box3 box_of_all(const AppModel& model) {
  Box3 box;
  for (const auto& [id, drawn] : model.drawn()) {
    const Part* part = find_part(model.document(), id);
    if (part != nullptr && model.is_shown(*part) && drawn.mesh) box.add(drawn.mesh->box);
  }
  return box;
}

std::shared_ptr<const DisplayValues> map_values(const LayerInput& in) {
  const auto found = in.model.drawn().find(in.model.chosen_part());
  if (found == in.model.drawn().end()) return nullptr;
  if (in.settings.look == ModelLook::Stretch) return found->second.stretch;
  return map_of(in.settings.look) != MapKind::None ? found->second.map : found->second.deviation;
}

double map_reach(const LayerInput& in) {
  if (const double range = in.settings.ranges[static_cast<std::size_t>(in.settings.look)];
      range > 0.0)
    return range;
  if (in.settings.look == ModelLook::Curvature && in.settings.curvature_radius > 0.0)
    return 1.0 / in.settings.curvature_radius;
  if (map_of(in.settings.look) != MapKind::None) {
    const auto values = map_values(in);
    return values ? std::max(values->reach, 1e-9) : 1.0;
  }
  if (in.settings.look == ModelLook::Stretch) {
    const auto values = map_values(in);
    return values ? std::max(values->reach, 1.0) : 1.0;
  }
  const auto found = in.model.drawn().find(in.model.chosen_part());
  if (found == in.model.drawn().end() || !found->second.deviation) return 1.0;
  // The measure looks closer than the vertices do; the legend and the gauge must agree.
  const auto gauges = in.model.gauges();
  const double measured = gauges && gauges->watched     ? gauges->watched->max
                          : gauges && gauges->deviation ? gauges->deviation->max
                                                        : 0.0;
  return std::max({found->second.deviation->reach, measured, 1e-6});
}

namespace {

// Stretch is that of the pattern and of its target, the other maps are of the chosen part.
std::shared_ptr<const DisplayValues> values_of(const LayerInput& in, PartId part,
                                               const DisplayPart& drawn) {
  if (in.settings.look == ModelLook::Stretch) return drawn.stretch;
  return part == in.model.chosen_part() ? map_values(in) : nullptr;
}

// Faces that look otherwise than their part.
std::vector<MeshItem::Run> runs_of(const Part& part, const DisplayPart& drawn, LookRuns& looks) {
  std::vector<MeshItem::Run> runs;
  if (part.face_looks.empty() || !drawn.mesh || !drawn.shape) return runs;
  for (const LookRange& r : looks.of(part, drawn)) {
    const FaceLook look = r.look < 0 ? FaceLook{{}, part.look.colour, part.material}
                                     : part.face_looks[static_cast<std::size_t>(r.look)];
    runs.push_back({r.first, r.count, QColor::fromRgb(look.colour), look.material});
  }
  return runs;
}

// The chosen part alone among its neighbours.
bool add_tile(Scene& s, const LayerInput& in) {
  const auto tile = in.model.tile();
  const Part* part = find_part(in.model.document(), in.model.chosen_part());
  if (!in.settings.tile_view || !tile || part == nullptr) return false;
  s.look = is_map(in.settings.look) ? ModelLook::Clay : in.settings.look;
  s.box = tile->mesh->box;
  s.size = std::max(s.box.size() + length(s.box.centre()), 10.0);
  s.meshes.push_back({tile->mesh, tile->mesh, nullptr, QColor::fromRgb(part->look.colour),
                      static_cast<float>(0.0025 * s.box.size())});
  LineItem edges{{}, look::colours().quiet_ink, 1.6F, true};
  const PatternBase& b = tile->base;
  const auto at = [&](double x, double y) {
    return b.frame.to_world({x * b.length_x, y * b.length_y, 0.0});
  };
  for (const auto& [from, to] : {std::pair{at(0, 0), at(1, 0)},
                                 {at(1, 0), at(1, 1)},
                                 {at(1, 1), at(0, 1)},
                                 {at(0, 1), at(0, 0)}})
    add_piece(edges.pieces, from, to);
  s.lines.push_back(std::move(edges));
  s.stripes = in.settings.stripes;
  s.upright_stripes = in.settings.upright_stripes;
  s.single_band = in.settings.single_band;
  return true;
}

}  // namespace

void add_parts(Scene& s, const LayerInput& in, LookRuns& looks) {
  if (add_tile(s, in)) return;
  s.look = in.settings.look;
  const Box3 box = box_of_all(in.model);
  s.box = box;
  if (in.settings.section_view) s.section = in.settings.section;
  s.size = std::max(box.size() + length(box.empty() ? Vec3{} : box.centre()), 10.0);
  const look::Colours& dark = look::colours(look::Theme::Light);  // on clay, in every theme
  for (const Part& part : in.model.document().parts) {
    const QColor edge = part.id == in.model.chosen_part() ? dark.ink : dark.quiet_ink;
    const auto found = in.model.drawn().find(part.id);
    if (!in.model.is_shown(part) || found == in.model.drawn().end()) continue;
    // The legs of a cage that is being shaped are drawn with its points.
    const bool as_net = part.id == in.model.chosen_part() && in.editor.net_visible() &&
                        in.editor.net() && found->second.shape &&
                        std::holds_alternative<Cage>(*found->second.shape);
    if (found->second.curves && !as_net)
      s.lines.push_back(
          {found->second.curves->pieces,
           part.id == in.model.chosen_part() ? look::colours().ink : look::colours().quiet_ink,
           part.id == in.model.chosen_part() ? 2.6F : 1.8F, false});
    if (found->second.edges && s.look != ModelLook::Presentation) {
      const DisplayEdges& edges = *found->second.edges;
      const bool chosen = part.id == in.model.chosen_part();
      for (const auto& [pieces, colour, width] :
           {std::tuple(&edges.pieces, edge, 1.6F),
            std::tuple(&edges.open, edge, chosen ? 3.0F : 1.6F),
            std::tuple(&edges.gaps, look::colours().bad, chosen ? 4.0F : 2.0F)})
        if (!pieces->empty()) s.lines.push_back({*pieces, colour, width, false, true});
    }
    // Triangles that lie closely on a surface, such as a pattern, stay in front of it, and the chosen ones, such as a
    // region of a scan, in front of others.
    if (found->second.shape && std::holds_alternative<Picture>(*found->second.shape)) continue;
    const bool triangles =
        found->second.shape && (kind_of(*found->second.shape) & (kMesh | kPoints)) != 0;
    const double behind = !triangles ? 0.0025 : part.id == in.model.chosen_part() ? 0.0 : 0.00125;
    MeshItem item{found->second.mesh,
                  found->second.small,
                  found->second.lines,
                  QColor::fromRgb(part.look.colour),
                  static_cast<float>(behind * box.size()),
                  values_of(in, part.id, found->second),
                  part.material,
                  runs_of(part, found->second, looks)};
    if (!item.runs.empty()) item.small = item.mesh;  // a thinned one no longer knows its faces
    s.meshes.push_back(std::move(item));
  }
  s.reach = map_reach(in);
  s.stripes = in.settings.stripes;
  s.upright_stripes = in.settings.upright_stripes;
  s.single_band = in.settings.single_band;
  if (in.settings.before_overlay || in.before_held) s.ghost = in.model.before_mesh();
}

void add_pictures(Scene& s, const LayerInput& in, PictureStore& store) {
  for (const Part& part : in.model.document().parts) {
    const auto found = in.model.drawn().find(part.id);
    if (!in.model.is_shown(part) || found == in.model.drawn().end() || !found->second.shape)
      continue;
    const auto* p = std::get_if<Picture>(found->second.shape.get());
    if (p == nullptr) continue;
    PictureItem item{store.image(p->bytes), {}, static_cast<float>(p->opacity), p->through};
    constexpr std::array<std::pair<double, double>, 4> kCorners{
        {{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}};
    for (std::size_t k = 0; k < 4; ++k)
      item.corners[k] =
          p->frame.to_world({kCorners[k].first * p->width, kCorners[k].second * p->height, 0.0});
    if (part.id == in.model.chosen_part()) {
      LineItem frame{{}, look::colours().quiet_ink, 1.2F, false};
      for (std::size_t k = 0; k < 4; ++k)
        add_piece(frame.pieces, item.corners[k], item.corners[(k + 1) % 4]);
      s.lines.push_back(std::move(frame));
    }
    s.pictures.push_back(std::move(item));
  }
}

}  // namespace evenclay
