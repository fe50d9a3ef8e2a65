#include "core/display/display_cache.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/operations/common.h"

namespace evenclay {

void DisplayCache::begin(bool flat_faces, double tolerance) {
  ++clock_;
  if (flat_faces != flat_faces_ || tolerance != gap_limit_) drawn_.clear();
  flat_faces_ = flat_faces;
  gap_limit_ = tolerance;
}

void DisplayCache::forget_old() {
  std::erase_if(drawn_, [&](const auto& e) { return e.second.last_used + 30 < clock_; });
}

DisplayQuality DisplayCache::with_plans(DisplayQuality quality) {
  quality.plans = &plans_;
  quality.flat_faces = flat_faces_;
  return quality;
}

DisplayCache::MeshPtr DisplayCache::small_mesh(const Shape& shape, const MeshPtr& mesh,
                                               Progress& progress) {
  // The two skins of a thin wall would come through each other where few triangles are left.
  if (std::holds_alternative<TriangleMesh>(shape))
    return mesh->closed ? thinned(mesh, 4 * kSmall.most_triangles, 0.005) : thinned(mesh);
  if (std::holds_alternative<Picture>(shape) || std::holds_alternative<Cage>(shape)) return mesh;
  DisplayQuality quality = kSmall;
  // Walls and second skins want triangles of their own, or round forms become polygons.
  if (const auto* body = std::get_if<Body>(&shape); body != nullptr && body->faces.size() > 1) {
    quality.chord_share *= 0.5;
    quality.most_triangles = std::min<std::size_t>(12000, 3000 * body->faces.size());
  }
  return std::make_shared<DisplayMesh>(display_mesh(shape, with_plans(quality), progress));
}

std::shared_ptr<const DisplayLines> DisplayCache::lines_of_curves(const Shape& shape) {
  if (!std::holds_alternative<CurveSet>(shape) && !std::holds_alternative<Cage>(shape))
    return nullptr;
  return std::make_shared<DisplayLines>(curve_lines(shape, 24));
}

const DisplayCache::Drawn& DisplayCache::draw(const ShapePtr& shape, Progress& progress) {
  const auto found = drawn_.find(shape.get());
  if (found != drawn_.end()) {
    found->second.last_used = clock_;
    return found->second;
  }
  Drawn e;
  e.shape = shape;
  e.mesh = std::make_shared<DisplayMesh>(display_mesh(*shape, with_plans({}), progress));
  e.small = small_mesh(*shape, e.mesh, progress);
  const bool as_limit = !flat_faces_ || !std::holds_alternative<Form>(*shape);
  e.lines = std::make_shared<DisplayLines>(as_limit ? iso_curves(*shape) : DisplayLines{});
  e.curves = lines_of_curves(*shape);
  e.edges =
      std::make_shared<DisplayEdges>(as_limit ? edge_lines(*shape, gap_limit_) : DisplayEdges{});
  e.rays = std::make_shared<const MeshRays>(e.mesh);
  e.last_used = clock_;
  return drawn_.emplace(shape.get(), std::move(e)).first->second;
}

std::shared_ptr<const Report> DisplayCache::measured(const ShapePtr& shape, const ShapePtr& before,
                                                     SymmetryPlane symmetry, Progress& progress) {
  const auto key = std::tuple{shape.get(), before.get(), symmetry};
  if (const auto found = reports_.find(key); found != reports_.end()) return found->second.second;
  auto r = std::make_shared<const Report>(
      report(*shape, before.get(), {.symmetry = symmetry}, progress));
  if (reports_.size() > 100) reports_.clear();
  reports_[key] = {{shape, before}, r};
  return r;
}

DisplayCache::ValuesPtr DisplayCache::map(MapKind kind, const MeshPtr& mesh, const ShapePtr& shape,
                                          const Vec3& pull, Progress& progress) {
  return map_.of({mesh, kind, pull},
                 [&] { return map_values(kind, *mesh, *shape, pull, progress); });
}

const Watcher::Answer* DisplayCache::watch(const Document& d, PartId chosen, const ShapePtr& shown,
                                           bool quick, Progress& progress) {
  const Part* part = find_part(d, chosen);
  if (part == nullptr || !shown || is_empty(*shown)) return nullptr;
  const ShapePtr against = watched_shape(d, *part, evaluator, progress);
  if (!against || is_empty(*against) || against == shown) return nullptr;
  try {
    return &watcher_.measure(shown, against, part->watch.band, quick, progress);
  } catch (const Error&) {
    return nullptr;  // it cannot be measured; the gauge shows a dash
  }
}

DisplayCache::ValuesPtr DisplayCache::off(const MeshPtr& mesh, const Watcher::Answer* watch,
                                          const ShapePtr& before, Progress& progress) {
  if (watch != nullptr)
    return watched_.of({mesh, watch->places},
                       [&] { return watch_values(*mesh, *watch->places, progress); });
  if (!before) return nullptr;
  return deviation_.of({mesh, before}, [&] { return deviation_values(*mesh, *before, progress); });
}

std::shared_ptr<const std::vector<Comb>> DisplayCache::sections(
    const ShapePtr& shape, const std::optional<SectionWish>& wish, Progress& progress) {
  if (!wish || !shape) return nullptr;
  return sections_.of({shape, *wish}, [&] {
    return std::make_shared<const std::vector<Comb>>(section_combs(*shape, *wish, progress));
  });
}

std::shared_ptr<const DisplayLines> DisplayCache::watched_section(
    const Document& d, PartId chosen, const std::optional<SectionWish>& wish, Progress& progress) {
  const Part* part = find_part(d, chosen);
  const ShapePtr against =
      part != nullptr && wish ? watched_shape(d, *part, evaluator, progress) : nullptr;
  if (!against) return nullptr;
  return watched_section_.of({against, *wish}, [&] {
    DisplayLines lines = scan_section(*against, *wish);
    for (const Comb& comb : section_combs(*against, *wish, progress))
      for (std::size_t k = 0; k + 1 < comb.teeth.size(); ++k)
        for (const Vec3& p : {comb.teeth[k].at, comb.teeth[k + 1].at})
          for (std::size_t c = 0; c < 3; ++c) lines.pieces.push_back(static_cast<float>(p[c]));
    return std::make_shared<const DisplayLines>(std::move(lines));
  });
}

std::shared_ptr<const TileDisplay> DisplayCache::tile(const ShapePtr& shape, Progress& progress) {
  if (!shape) return nullptr;
  return tile_.of(shape, [&] { return tile_display(*shape, progress); });
}

std::shared_ptr<const std::vector<CountPlace>> DisplayCache::plot(const OperationPtr& operation,
                                                                  const ShapePtr& before,
                                                                  Progress& progress) {
  const auto* offers = offer_of<OffersCounts>(*operation);
  if (!before || offers == nullptr) return nullptr;
  try {
    return plot_.of({before, operation}, [&] {
      return std::make_shared<const std::vector<CountPlace>>(offers->count_plot(*before, progress));
    });
  } catch (const Error&) {
    return nullptr;  // the step itself says why
  }
}

void DisplayCache::take_pattern(const Part& part, const PartResult& result) {
  patterns_.erase(part.id);
  for (std::size_t k = result.steps.size(); k-- > 0;) {
    const StepResult& r = result.steps[k];
    const Step& step = part.steps[k];
    if (r.pattern) patterns_[part.id] = r.pattern;
    const bool passed_on = !step.enabled || r.failed || step.operation->info().keeps_place;
    if (r.pattern || !passed_on) return;
  }
}

DisplayCache::MeshPtr DisplayCache::rest_of(const MeshPtr& mesh, const Shape& shape,
                                            const std::shared_ptr<const PatternFacts>& facts) {
  for (const Covered& c : covered_)
    if (c.from == mesh && c.facts == facts) return c.mesh;
  covered_.push_back({mesh, without_covered(mesh, shape, *facts), facts});
  if (covered_.size() > 12) covered_.erase(covered_.begin());
  return covered_.back().mesh;
}

void DisplayCache::cover(const Document& d, DisplayPart& p) {
  for (const auto& [part, facts] : patterns_) {
    const Part* pattern = find_part(d, part);
    if (pattern == nullptr || !is_visible(d, *pattern) || facts->on.part != p.part) continue;
    const bool small_too = p.small != p.mesh;
    p.mesh = rest_of(p.mesh, *p.shape, facts);
    p.small = small_too ? rest_of(p.small, *p.shape, facts) : p.mesh;
  }
}

}  // namespace evenclay
