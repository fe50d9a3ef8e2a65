#include "core/display/worker.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/joints.h"
#include "core/display/display_cache.h"
#include "core/operations/common.h"

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

DisplayWorker::DisplayWorker(std::function<void(std::shared_ptr<const DisplayAnswer>)> answered)
    : answered_(std::move(answered)),
      cache_(std::make_unique<DisplayCache>()),
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
      say_trouble(number,
                  say("The picture could not be made ({}). The last good one stays.", e.what()));
    } catch (...) {
      say_trouble(number, say("The picture could not be made. The last good one stays."));
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

// Gauges with what the part is watched against.
std::shared_ptr<const Report> with_watch(const Document& d, PartId chosen,
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
  a.gauges = with_watch(d, a.chosen, watch,
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
  const bool bare = form != nullptr && (cache_->flat_faces() || form->faces.size() > kLinesOf);
  auto mesh =
      std::make_shared<DisplayMesh>(display_mesh(*shape, cache_->with_plans(kCoarse), progress));
  DisplayPart p{part,
                shape,
                mesh,
                cache_->small_mesh(*shape, mesh, progress),
                std::make_shared<DisplayLines>(bare ? DisplayLines{} : iso_curves(*shape)),
                DisplayCache::lines_of_curves(*shape),
                nullptr,
                nullptr};
  p.edges = std::make_shared<DisplayEdges>(bare ? DisplayEdges{}
                                                : edge_lines(*shape, cache_->gap_limit()));
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
    if (std::ranges::any_of(p->steps, [](const Step& s) {
          return offer_of<PlacesPattern>(*s.operation) != nullptr;
        }))
      cache_->take_pattern(*p, cache_->evaluator.evaluate(d, progress, {p->id}).parts.at(p->id));
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
    const DisplayCache::Drawn& entry = cache_->draw(shape, progress);
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
  cache_->begin(request.wants.flat_faces, request.document.settings.tolerance);
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
    a.gauges =
        with_watch(d, a.chosen, cache_->watch(d, a.chosen, a.shown, false, progress),
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
