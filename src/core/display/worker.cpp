#include "core/display/worker.h"
#include "core/check/joints.h"

#include "core/display/form_plans.h"
#include "core/display/maps.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <set>
#include <tuple>

#include "core/base/error.h"
#include "core/display/pattern_display.h"
#include "core/display/rays.h"
#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

namespace {
constexpr std::chrono::milliseconds kQuick{15};
// A dependent part that took no longer than this the last time is finished although the hand moved on.
constexpr double kFollows = 0.08;   // s
constexpr double kShowSoon = 0.15;  // s after which parts that are done are shown before the rest

using Clock = std::chrono::steady_clock;
double seconds_since(Clock::time_point start) {
  return std::chrono::duration<double>(Clock::now() - start).count();
}
}  // namespace

/// Drawn shapes by identity; only the worker's thread touches it.
struct DisplayWorker::Cache {
  struct Entry {
    ShapePtr shape;  // keeps the address taken
    std::shared_ptr<const DisplayMesh> mesh, small;
    std::shared_ptr<const DisplayLines> lines, curves;
    std::shared_ptr<const DisplayEdges> edges;
    std::shared_ptr<const MeshRays> rays;
    std::size_t last_used = 0;
  };
  Evaluator evaluator;
  std::map<const Shape*, Entry> drawn;
  std::map<std::tuple<const Shape*, const Shape*, SymmetryPlane>,
           std::pair<std::vector<ShapePtr>, std::shared_ptr<const Report>>>
      reports;
  std::size_t clock = 0;
  bool quick_gauges = true;
  std::map<PartId, ShapePtr> followed;  // what was drawn of them in this drag
  std::map<PartId, double> cost;        // seconds a part that follows a drag took the last time

  FormPlans plans;
  bool flat_faces = false;
  double gap_limit = 0.01;  // mm from which the gap of an edge is marked
  // What was drawn the other way is of no use any more.
  void draw_so(bool flat, double tolerance) {
    if (flat != flat_faces || tolerance != gap_limit) drawn.clear();
    flat_faces = flat;
    gap_limit = tolerance;
  }
  DisplayQuality with_plans(DisplayQuality quality) {
    quality.plans = &plans;
    quality.flat_faces = flat_faces;
    return quality;
  }

  std::shared_ptr<const DisplayMesh> small_mesh(const Shape& shape,
                                                const std::shared_ptr<const DisplayMesh>& mesh,
                                                Progress& progress) {
    if (std::holds_alternative<TriangleMesh>(shape)) return thinned(mesh);
    if (std::holds_alternative<Picture>(shape) || std::holds_alternative<Cage>(shape)) return mesh;
    DisplayQuality quality = kSmall;
    // Walls and second skins want triangles of their own, or round forms become polygons.
    if (const auto* body = std::get_if<Body>(&shape); body != nullptr && body->faces.size() > 1) {
      quality.chord_share *= 0.5;
      quality.most_triangles = std::min<std::size_t>(12000, 3000 * body->faces.size());
    }
    return std::make_shared<DisplayMesh>(display_mesh(shape, with_plans(quality), progress));
  }

  static std::shared_ptr<const DisplayLines> lines_of_curves(const Shape& shape) {
    if (!std::holds_alternative<CurveSet>(shape) && !std::holds_alternative<Cage>(shape))
      return nullptr;
    return std::make_shared<DisplayLines>(curve_lines(shape, 24));
  }

  const Entry& draw(const ShapePtr& shape, Progress& progress) {
    const auto found = drawn.find(shape.get());
    if (found != drawn.end()) {
      found->second.last_used = clock;
      return found->second;
    }
    Entry e;
    e.shape = shape;
    e.mesh = std::make_shared<DisplayMesh>(display_mesh(*shape, with_plans({}), progress));
    e.small = small_mesh(*shape, e.mesh, progress);
    const bool as_limit = !flat_faces || !std::holds_alternative<Form>(*shape);
    e.lines = std::make_shared<DisplayLines>(as_limit ? iso_curves(*shape) : DisplayLines{});
    e.curves = lines_of_curves(*shape);
    e.edges =
        std::make_shared<DisplayEdges>(as_limit ? edge_lines(*shape, gap_limit) : DisplayEdges{});
    e.rays = std::make_shared<const MeshRays>(e.mesh);
    e.last_used = clock;
    return drawn.emplace(shape.get(), std::move(e)).first->second;
  }

  std::shared_ptr<const Report> measured(const ShapePtr& shape, const ShapePtr& before,
                                         SymmetryPlane symmetry, Progress& progress) {
    const auto key = std::tuple{shape.get(), before.get(), symmetry};
    if (const auto found = reports.find(key); found != reports.end()) return found->second.second;
    auto r = std::make_shared<const Report>(
        report(*shape, before.get(), {.symmetry = symmetry}, progress));
    if (reports.size() > 100) reports.clear();
    reports[key] = {{shape, before}, r};
    return r;
  }

  // Colours of a drawn mesh against another shape; kept while both are the same.
  std::shared_ptr<const DisplayValues> deviation(const std::shared_ptr<const DisplayMesh>& mesh,
                                                 const ShapePtr& before, Progress& progress) {
    if (!before) return nullptr;
    if (mesh == coloured_ && before == coloured_against_) return colours_;
    colours_ = deviation_values(*mesh, *before, progress);
    coloured_ = mesh;
    coloured_against_ = before;
    return colours_;
  }
  std::shared_ptr<const DisplayMesh> coloured_;
  ShapePtr coloured_against_;
  std::shared_ptr<const DisplayValues> colours_;

  // Colours by a map; kept while mesh, map and pull are the same.
  std::shared_ptr<const DisplayValues> map(MapKind kind,
                                           const std::shared_ptr<const DisplayMesh>& mesh,
                                           const ShapePtr& shape, const Vec3& pull,
                                           Progress& progress) {
    if (mesh == mapped_ && kind == map_kind_ && pull == map_pull_) return map_;
    map_ = map_values(kind, *mesh, *shape, pull, progress);
    mapped_ = mesh;
    map_kind_ = kind;
    map_pull_ = pull;
    return map_;
  }
  std::shared_ptr<const DisplayMesh> mapped_;
  MapKind map_kind_ = MapKind::None;
  Vec3 map_pull_;
  std::shared_ptr<const DisplayValues> map_;

  // What the chosen part is watched against, measured; null where it is not, or cannot be.
  Watcher watcher;
  const Watcher::Answer* watch(const Document& d, PartId chosen, const ShapePtr& shown, bool quick,
                               Progress& progress) {
    const Part* part = find_part(d, chosen);
    if (part == nullptr || !shown || is_empty(*shown)) return nullptr;
    const ShapePtr against = watched_shape(d, *part, evaluator, progress);
    if (!against || is_empty(*against) || against == shown) return nullptr;
    try {
      return &watcher.measure(shown, against, part->watch.band, quick, progress);
    } catch (const Error&) {
      return nullptr;  // it cannot be measured; the gauge shows a dash
    }
  }
  static std::shared_ptr<const Report> with_watch(const Document& d, PartId chosen,
                                                  const Watcher::Answer* watch, Report report) {
    if (watch != nullptr) {
      auto named = std::make_shared<WatchReport>(*watch->report);
      const PartRef& ref = find_part(d, chosen)->watch.against;
      const Step* step = ref.part == chosen ? find_step(d, ref.after) : nullptr;
      if (step != nullptr)
        named->name = step->name;
      else if (const Part* other = find_part(d, ref.part))
        named->name = other->name;
      report.watched = std::move(named);
    }
    return std::make_shared<const Report>(std::move(report));
  }
  // The deviation from what is watched, else from the shape before.
  std::shared_ptr<const DisplayValues> off(const std::shared_ptr<const DisplayMesh>& mesh,
                                           const Watcher::Answer* watch, const ShapePtr& before,
                                           Progress& progress) {
    if (watch == nullptr) return deviation(mesh, before, progress);
    if (mesh == watched_mesh_ && watch->places == watched_places_) return watched_colours_;
    watched_colours_ = watch_values(*mesh, *watch->places, progress);
    watched_mesh_ = mesh;
    watched_places_ = watch->places;
    return watched_colours_;
  }
  std::shared_ptr<const DisplayMesh> watched_mesh_;
  std::shared_ptr<const WatchPlaces> watched_places_;
  std::shared_ptr<const DisplayValues> watched_colours_;

  // Where the plane of the sections meets what the part is watched against.
  std::shared_ptr<const DisplayLines> watched_section(const Document& d, PartId chosen,
                                                      const std::optional<SectionWish>& wish,
                                                      Progress& progress) {
    const Part* part = find_part(d, chosen);
    const ShapePtr against =
        part != nullptr && wish ? watched_shape(d, *part, evaluator, progress) : nullptr;
    if (!against) return nullptr;
    if (against == section_of_ && wish == section_wish_) return section_;
    DisplayLines lines = scan_section(*against, *wish);
    for (const Comb& comb : section_combs(*against, *wish, progress))
      for (std::size_t k = 0; k + 1 < comb.teeth.size(); ++k)
        for (const Vec3& p : {comb.teeth[k].at, comb.teeth[k + 1].at})
          for (std::size_t c = 0; c < 3; ++c) lines.pieces.push_back(static_cast<float>(p[c]));
    section_ = std::make_shared<const DisplayLines>(std::move(lines));
    section_of_ = against;
    section_wish_ = wish;
    return section_;
  }
  ShapePtr section_of_;
  std::optional<SectionWish> section_wish_;
  std::shared_ptr<const DisplayLines> section_;

  // Patterns that are shown, by their parts: what lies under them is not drawn.
  std::map<PartId, std::shared_ptr<const PatternFacts>> patterns;

  void take_pattern(PartId part, const PartResult& result) {
    patterns.erase(part);
    if (!result.steps.empty() && result.steps.back().pattern)
      patterns[part] = result.steps.back().pattern;
  }
  struct Covered {
    std::shared_ptr<const DisplayMesh> from, mesh;
    std::shared_ptr<const PatternFacts> facts;
  };
  std::vector<Covered> covered;  // the last ones: what did not change stays the same mesh
  std::shared_ptr<const DisplayMesh> rest_of(const std::shared_ptr<const DisplayMesh>& mesh,
                                             const Shape& shape,
                                             const std::shared_ptr<const PatternFacts>& facts) {
    for (const Covered& c : covered)
      if (c.from == mesh && c.facts == facts) return c.mesh;
    covered.push_back({mesh, without_covered(mesh, shape, *facts), facts});
    if (covered.size() > 12) covered.erase(covered.begin());
    return covered.back().mesh;
  }
  void cover(const Document& d, DisplayPart& p) {
    for (const auto& [part, facts] : patterns) {
      const Part* pattern = find_part(d, part);
      if (pattern == nullptr || !is_visible(d, *pattern) || facts->on.part != p.part) continue;
      const bool small_too = p.small != p.mesh;
      p.mesh = rest_of(p.mesh, *p.shape, facts);
      p.small = small_too ? rest_of(p.small, *p.shape, facts) : p.mesh;
    }
  }

  // The tile among its neighbours; kept while it is the same.
  std::shared_ptr<const TileDisplay> tile(const ShapePtr& shape, Progress& progress) {
    if (!shape) return nullptr;
    if (shape != tiled_) tile_ = tile_display(*shape, progress);
    tiled_ = shape;
    return tile_;
  }
  ShapePtr tiled_;
  std::shared_ptr<const TileDisplay> tile_;

  // The sections of a shape with a plane; kept while both are the same.
  std::shared_ptr<const std::vector<Comb>> sections(const ShapePtr& shape,
                                                    const std::optional<SectionWish>& wish,
                                                    Progress& progress) {
    if (!wish || !shape) return nullptr;
    if (shape == cut_ && wish == cut_by_) return cuts_;
    cuts_ = std::make_shared<const std::vector<Comb>>(section_combs(*shape, *wish, progress));
    cut_ = shape;
    cut_by_ = wish;
    return cuts_;
  }
  ShapePtr cut_;
  std::optional<SectionWish> cut_by_;
  std::shared_ptr<const std::vector<Comb>> cuts_;

  // The plot of counts of an operation on `before`; kept while both are the same.
  std::shared_ptr<const std::vector<CountPlace>> plot(const OperationPtr& operation,
                                                      const ShapePtr& before, Progress& progress) {
    const auto* offers = offer_of<OffersCounts>(*operation);
    if (!before || offers == nullptr) return nullptr;
    if (plot_ && plotted_ == before && plotted_operation_ == operation) return plot_;
    try {
      plot_ =
          std::make_shared<const std::vector<CountPlace>>(offers->count_plot(*before, progress));
    } catch (const Error&) {
      return nullptr;  // the step itself says why
    }
    plotted_ = before;
    plotted_operation_ = operation;
    return plot_;
  }
  std::shared_ptr<const std::vector<CountPlace>> plot_;
  ShapePtr plotted_;
  OperationPtr plotted_operation_;

  void forget_old() {
    std::erase_if(drawn, [&](const auto& e) { return e.second.last_used + 30 < clock; });
  }
};

DisplayWorker::DisplayWorker(std::function<void(std::shared_ptr<const DisplayAnswer>)> answered)
    : answered_(std::move(answered)),
      cache_(std::make_unique<Cache>()),
      thread_([this] { run(); }) {}

DisplayWorker::~DisplayWorker() {
  {
    const std::scoped_lock lock(mutex_);
    quit_ = true;
    if (running_) running_->cancel();
  }
  wake_.notify_one();
  thread_.join();
}

std::size_t DisplayWorker::post(DisplayRequest request) {
  std::size_t number = 0;
  {
    const std::scoped_lock lock(mutex_);
    waiting_ = std::move(request);
    number = ++last_number_;
    if (running_ && exact_running_) running_->cancel();
  }
  wake_.notify_one();
  return number;
}

void DisplayWorker::cancel() {
  const std::scoped_lock lock(mutex_);
  waiting_.reset();
  if (running_) running_->cancel();
}

std::optional<double> DisplayWorker::share() const {
  const std::scoped_lock lock(mutex_);
  if (!running_) return std::nullopt;
  return running_->share();
}

bool DisplayWorker::idle() const {
  const std::scoped_lock lock(mutex_);
  return !running_ && !waiting_;
}

void DisplayWorker::run() {
  for (;;) {
    DisplayRequest request;
    std::size_t number = 0;
    std::shared_ptr<Progress> progress;
    {
      std::unique_lock lock(mutex_);
      running_.reset();
      wake_.wait(lock, [this] { return quit_ || waiting_; });
      if (quit_) return;
      request = std::move(*waiting_);
      waiting_.reset();
      number = last_number_;
      progress = running_ = std::make_shared<Progress>();
      exact_running_ = false;
    }
    try {
      answer(request, number, *progress);
    } catch (const Cancelled&) {
      // A newer request or the user's Cancel; what was shown stays.
    } catch (const std::exception& e) {
      say_trouble(
          number,
          fmt::format("The picture could not be made ({}). The last good one stays.", e.what()));
    } catch (...) {
      say_trouble(number, "The picture could not be made. The last good one stays.");
    }
  }
}

// Whoever waits for this request must not wait for ever.
void DisplayWorker::say_trouble(std::size_t number, std::string sentence) {
  auto a = std::make_shared<DisplayAnswer>();
  a->request = number;
  a->exact = true;
  a->trouble = std::move(sentence);
  answered_(std::move(a));
}

namespace {

// What the hand may move in the shown step.
void take_hand(const Step& step, const StepResult& result, DisplayAnswer& a) {
  const auto* shapes = offer_of<ShapesPoints>(*step.operation);
  a.shapings = nullptr;
  a.hand_nets = nullptr;
  a.hand_lines = nullptr;
  if (shapes == nullptr || !step.enabled) return;
  if (result.hand) {
    a.hand_nets = {result.hand, &result.hand->below};
    a.shapings = {result.hand, &result.hand->shapings};
    if (!result.hand->lines.empty()) a.hand_lines = {result.hand, &result.hand->lines};
    return;
  }
  if (!a.before || result.failed) return;
  try {
    a.shapings = std::make_shared<const Shapings>(shapes->offered(*a.before).shapings);
  } catch (const Error&) {
    // the step itself says why
  }
}

SymmetryPlane shown_symmetry(const Document& d, StepId shown) {
  const Step* step = find_step(d, shown);
  return step != nullptr ? symmetry_of(*step->operation) : SymmetryPlane::None;
}

// The chosen part as it was after the shown step.
void take_shown(const DisplayRequest& request, const PartResult& result, DisplayAnswer& a) {
  const Part* part = find_part(request.document, request.chosen);
  a.shown = result.shape;
  a.before = nullptr;
  for (std::size_t k = 0; k < part->steps.size(); ++k) {
    const bool last = k + 1 == part->steps.size();
    if (part->steps[k].id != request.shown_step && !last) continue;
    a.shown = result.steps[k].shape;
    a.shown_step = part->steps[k].id;
    if (k > 0 && !result.steps[k - 1].skipped) a.before = result.steps[k - 1].shape;
    a.pattern = result.steps[k].pattern;
    a.marks = result.steps[k].marks;
    a.handles = result.steps[k].handles;
    take_hand(part->steps[k], result.steps[k], a);
    return;
  }
}

// What the last step that keeps joints says of them: of the shown one or, for other parts, of all.
std::vector<JointBadge> kept_joints(const Part& part, const PartResult& result, StepId shown) {
  for (std::size_t k = result.steps.size(); k-- > 0;) {
    if (!result.steps[k].joints.empty()) return result.steps[k].joints;
    if (part.steps[k].id == shown) break;
  }
  return {};
}

// How all faces of a body meet; fewer places while the hand moves.
void add_joints(DisplayPart& part, bool quick, Progress& progress) {
  const auto* body = std::get_if<Body>(part.shape.get());
  if (body == nullptr) return;
  for (const Joint& j : joints_of(*body, quick ? 8 : 32, progress))
    part.joints.push_back({j.at,
                           j.measured.level,
                           -1,
                           j.measured.gap,
                           j.measured.angle,
                           j.measured.curvature,
                           j.measured.change,
                           {}});
}

// Of the steps that were computed.
void take_messages(const Part& part, const PartResult& result, DisplayAnswer& a) {
  for (std::size_t k = 0; k < result.steps.size(); ++k) {
    const StepResult& r = result.steps[k];
    a.steps[part.steps[k].id] = {r.failed, r.message, r.notes, r.kept};
  }
}

// Visible parts that read the part, directly or through others.
std::vector<PartId> dependents(const Document& d, PartId part) {
  std::set<PartId> reached{part};
  for (bool more = true; more;) {
    more = false;
    for (const Part& p : d.parts) {
      if (reached.contains(p.id)) continue;
      for (const Step& s : p.steps)
        for (const PartRef& ref : s.operation->inputs())
          if (reached.contains(ref.part) && reached.insert(p.id).second) more = true;
    }
  }
  std::vector<PartId> result;
  for (const Part& p : d.parts)
    if (p.id != part && is_visible(d, p) && reached.contains(p.id)) result.push_back(p.id);
  return result;
}

}  // namespace

namespace {

bool is_folded(const Part& part, StepId step) {
  const std::size_t first = first_needed(part, part.steps.size());
  for (std::size_t k = 0; k < first; ++k)
    if (part.steps[k].id == step) return true;
  return false;
}

}  // namespace

// The chosen part up to the shown step, coarsely; true when the gauges came with it.
void DisplayWorker::answer_drag(const DisplayRequest& request, DisplayAnswer& a,
                                Progress& progress) {
  const Document& d = request.document;
  const PartResult r = cache_->evaluator.evaluate_until(d, a.chosen, request.shown_step, progress);
  take_shown(request, r, a);
  take_messages(*find_part(d, a.chosen), r, a);
  a.parts = {coarse_part(request, a.chosen, a.shown, progress)};
  a.parts.back().joints = kept_joints(*find_part(d, a.chosen), r, 0);
  if (request.wants.joints) add_joints(a.parts.back(), true, progress);
  const auto mesh = a.parts.back().mesh;
  const Watcher::Answer* watch = cache_->watch(d, a.chosen, a.shown, true, progress);
  if (request.wants.deviation)
    a.parts.back().deviation = cache_->off(mesh, watch, a.before, progress);
  if (request.wants.map != MapKind::None)
    a.parts.back().map = cache_->map(request.wants.map, mesh, a.shown, d.limits.pull, progress);
  if (request.wants.before && a.before) a.before_mesh = cache_->draw(a.before, progress).mesh;
  if (request.wants.tile) a.tile = cache_->tile(a.shown, progress);
  a.sections = cache_->sections(a.shown, request.wants.sections, progress);
  a.watched_section = cache_->watched_section(d, a.chosen, request.wants.sections, progress);
  // Gauges that are quick come with the picture, so that the window is composed only once.
  if (!cache_->quick_gauges) {
    answered_(std::make_shared<const DisplayAnswer>(a));
    a.parts.clear();
  }
  const auto start = Clock::now();
  a.gauges = Cache::with_watch(d, a.chosen, watch,
                               report(*a.shown, a.before.get(),
                                      {.per_span = preview_per_span(*a.shown),
                                       .area_and_volume = false,
                                       .quick = true,
                                       .symmetry = shown_symmetry(d, a.shown_step)},
                                      progress));
  cache_->quick_gauges = Clock::now() - start < kQuick;
  answered_(std::make_shared<const DisplayAnswer>(a));
  a.gauges = nullptr;
  a.parts.clear();
}

DisplayPart DisplayWorker::coarse_part(const DisplayRequest& request, PartId part,
                                       const ShapePtr& shape, Progress& progress) {
  // The lines of a large form are not worth waiting for while the hand moves.
  constexpr std::size_t kLinesOf = 1500;
  const auto* form = std::get_if<Form>(shape.get());
  const bool bare = form != nullptr && (cache_->flat_faces || form->faces.size() > kLinesOf);
  auto mesh =
      std::make_shared<DisplayMesh>(display_mesh(*shape, cache_->with_plans(kCoarse), progress));
  DisplayPart p{part,
                shape,
                mesh,
                cache_->small_mesh(*shape, mesh, progress),
                std::make_shared<DisplayLines>(bare ? DisplayLines{} : iso_curves(*shape)),
                Cache::lines_of_curves(*shape),
                nullptr,
                nullptr};
  p.edges =
      std::make_shared<DisplayEdges>(bare ? DisplayEdges{} : edge_lines(*shape, cache_->gap_limit));
  cache_->cover(request.document, p);
  return p;
}

// What reads the chosen part follows in the same drag, cheapest first. A newer request ends what is
// slow; what is quick is finished, or a hand that never rests would never see it move.
void DisplayWorker::answer_dependents(const DisplayRequest& request, DisplayAnswer& a,
                                      Progress& progress) {
  const Document& d = request.document;
  std::vector<PartId> following = dependents(d, a.chosen);
  std::stable_sort(following.begin(), following.end(),
                   [&](PartId x, PartId y) { return cache_->cost[x] < cache_->cost[y]; });
  for (const PartId part : following) {
    {
      const std::scoped_lock lock(mutex_);
      exact_running_ = cache_->cost[part] > kFollows;
      if (exact_running_ && (quit_ || waiting_)) return;
    }
    const auto start = Clock::now();
    const Evaluation e = cache_->evaluator.evaluate(d, progress, {part});
    const PartResult& r = e.parts.at(part);
    const auto known = cache_->followed.find(part);
    const bool same = known != cache_->followed.end() && known->second == r.shape;
    if (!same) {
      DisplayAnswer more = a;
      more.steps.clear();
      take_messages(*find_part(d, part), r, more);
      more.parts = {coarse_part(request, part, r.shape, progress)};
      more.parts.back().joints = kept_joints(*find_part(d, part), r, 0);
      answered_(std::make_shared<const DisplayAnswer>(std::move(more)));
      cache_->followed[part] = r.shape;
    }
    cache_->cost[part] = seconds_since(start);
  }
}

// Visible parts and the chosen one, part by part; what is done is shown when the rest takes long.
void DisplayWorker::answer_exact(const DisplayRequest& request, DisplayAnswer& a,
                                 Progress& progress) {
  const Document& d = request.document;
  std::vector<const Part*> parts;
  for (const Part& part : d.parts)
    if (part.id == a.chosen)
      parts.insert(parts.begin(), &part);
    else if (is_visible(d, part))
      parts.push_back(&part);
  auto shown = Clock::now();
  double done = 0.0;
  // Where patterns lie, so that their targets are left out beneath them.
  for (const Part* p : parts)
    if (!p->steps.empty() && offer_of<PlacesPattern>(*p->steps.back().operation) != nullptr)
      cache_->take_pattern(p->id, cache_->evaluator.evaluate(d, progress, {p->id}).parts.at(p->id));
  for (const Part* part : parts) {
    const Evaluation e = cache_->evaluator.evaluate(d, progress, {part->id});
    const PartResult& result = e.parts.at(part->id);
    if (part->id == a.chosen) {
      take_shown(request, result, a);
      // What lies folded beneath a later step is computed only while it is looked at.
      if (is_folded(*part, request.shown_step))
        take_shown(request,
                   cache_->evaluator.evaluate_until(d, a.chosen, request.shown_step, progress), a);
    }
    take_messages(*part, result, a);
    const ShapePtr shape = part->id == a.chosen ? a.shown : result.shape;
    const Cache::Entry& entry = cache_->draw(shape, progress);
    DisplayPart p{part->id,    shape,        entry.mesh, entry.small,
                  entry.lines, entry.curves, nullptr,    nullptr};
    p.edges = entry.edges;
    p.rays = entry.rays;
    p.joints = kept_joints(*part, result, 0);
    if (part->id == a.chosen && request.wants.joints) add_joints(p, false, progress);
    if (part->id == a.chosen && request.wants.deviation)
      p.deviation = cache_->off(entry.mesh, cache_->watch(d, a.chosen, a.shown, false, progress),
                                a.before, progress);
    if (part->id == a.chosen && request.wants.map != MapKind::None)
      p.map = cache_->map(request.wants.map, entry.mesh, shape, d.limits.pull, progress);
    cache_->cover(d, p);
    if (request.wants.stretch && part->id == a.chosen)
      if (const auto* form = std::get_if<Form>(shape.get()))
        p.stretch = form_stretch_values(*p.mesh, *form);
    if (request.wants.stretch && a.pattern &&
        (part->id == a.chosen || part->id == a.pattern->on.part))
      p.stretch = stretch_values(*p.mesh, *a.pattern, progress);
    a.parts.push_back(std::move(p));
    progress.report(++done / static_cast<double>(parts.size()));
    if (seconds_since(shown) < kShowSoon || part == parts.back()) continue;
    answered_(std::make_shared<const DisplayAnswer>(a));
    shown = Clock::now();
  }
  cache_->followed.clear();
  a.exact = true;
  if (request.wants.tile) a.tile = cache_->tile(a.shown, progress);
  if (request.wants.before && a.before) a.before_mesh = cache_->draw(a.before, progress).mesh;
  a.sections = cache_->sections(a.shown, request.wants.sections, progress);
  a.watched_section = cache_->watched_section(d, a.chosen, request.wants.sections, progress);
  answered_(std::make_shared<const DisplayAnswer>(a));
}

void DisplayWorker::answer(const DisplayRequest& request, std::size_t number, Progress& progress) {
  ++cache_->clock;
  cache_->draw_so(request.wants.flat_faces, request.document.settings.tolerance);
  const Document& d = request.document;
  DisplayAnswer a;
  a.request = number;
  a.chosen = find_part(d, request.chosen) != nullptr ? request.chosen : 0;
  if (request.dragging && a.chosen != 0) {
    answer_drag(request, a, progress);
    answer_dependents(request, a, progress);
  }
  {
    std::unique_lock lock(mutex_);
    exact_running_ = true;
    // A hand that moves on makes exact work useless, and the work would slow its picture down.
    if (request.dragging)
      wake_.wait_for(lock, request.rests,
                     [&] { return quit_ || waiting_ || progress.cancelled(); });
    if (quit_ || waiting_) return;
  }
  answer_exact(request, a, progress);
  if (a.shown) {
    a.parts.clear();
    a.gauges = Cache::with_watch(
        d, a.chosen, cache_->watch(d, a.chosen, a.shown, false, progress),
        *cache_->measured(a.shown, a.before, shown_symmetry(d, a.shown_step), progress));
    answered_(std::make_shared<const DisplayAnswer>(a));
    const Step* step = find_step(d, a.shown_step);
    if (request.wants.plot && step != nullptr &&
        offer_of<OffersCounts>(*step->operation) != nullptr) {
      a.plot = cache_->plot(step->operation, a.before, progress);
      answered_(std::make_shared<const DisplayAnswer>(a));
    }
  }
  cache_->forget_old();
}

}  // namespace evenclay
