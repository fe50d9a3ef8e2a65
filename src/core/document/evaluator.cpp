#include "core/document/evaluator.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

// Identity of everything an answer depends on. The cache keeps the pointees alive, so an address
// cannot be used again while it is a key.
struct Key {
  std::vector<const void*> identities;
  double tolerance;
  auto operator<=>(const Key&) const = default;
};

struct Answer {
  StepResult result;
  OperationPtr operation;
  std::vector<ShapePtr> read;
  std::size_t bytes = 0;
  std::size_t last_used = 0;
};

// Parts that read parts that read parts …: a file may ask for more than the stack holds.
constexpr int kDeepest = 200;

}  // namespace

struct Evaluator::Impl {
  std::map<Key, Answer> cache;
  Memo memo;
  std::size_t most_bytes;
  std::size_t bytes = 0;
  std::size_t clock = 0;
  std::size_t applied = 0;
  const ShapePtr nothing = std::make_shared<const Shape>(Body{});

  explicit Impl(std::size_t most) : most_bytes(most) {}

  struct Run {
    const Document& document;
    Progress& progress;
    // Steps computed so far of each part, by the place of the first of them that is needed.
    std::map<std::pair<PartId, std::size_t>, PartResult> done = {};
    std::map<PartId, std::size_t> open = {};  // the step being computed of each part
    int depth = 0;
  };

  // The first `count` steps of a part; shape and failure are those after them.
  const PartResult& until(Run& run, const Part& part, std::size_t count) {
    const std::size_t base = first_needed(part, count);
    PartResult& result = run.done[{part.id, base}];
    if (!result.shape) result.shape = nothing;
    while (result.steps.size() < base) {
      result.steps.push_back({nothing, false, {}});
      result.steps.back().skipped = true;
    }
    while (result.steps.size() < count) {
      const Step& step = part.steps[result.steps.size()];
      StepResult r{result.shape, false, {}, {}};
      if (step.enabled) {
        run.open[part.id] = result.steps.size();
        r = evaluate_step(run, step, result.shape);
        run.open.erase(part.id);
      }
      result.shape = r.shape;
      result.failed |= r.failed;
      result.steps.push_back(std::move(r));
    }
    return result;
  }

  StepResult evaluate_step(Run& run, const Step& step, const ShapePtr& before) {
    Answer answer;
    answer.operation = step.operation;
    answer.read.push_back(before);
    Inputs inputs;
    inputs.tolerance = run.document.settings.tolerance;
    inputs.step = step.id;
    inputs.memo = &memo;
    try {
      for (const PartRef& ref : step.operation->inputs()) {
        inputs.parts[ref] = input(run, ref);
        answer.read.push_back(inputs.parts[ref]);
      }
    } catch (const Error& e) {
      return {before, true, e.what(), {}};
    }
    Key key{{step.operation.get()}, inputs.tolerance};
    for (const ShapePtr& s : answer.read) key.identities.push_back(s.get());
    if (const auto hit = cache.find(key); hit != cache.end()) {
      hit->second.last_used = clock;
      return hit->second.result;
    }
    run.progress.check();
    ++applied;
    answer.result = applied_step(*step.operation, before, inputs, run.progress);
    answer.last_used = clock;
    answer.bytes = answer.result.shape == before ? 0 : bytes_of(*answer.result.shape);
    bytes += answer.bytes;
    return cache.emplace(std::move(key), std::move(answer)).first->second.result;
  }

  static StepResult applied_step(const Operation& operation, const ShapePtr& before,
                                 const Inputs& inputs, Progress& progress) {
    try {
      Outcome outcome = operation.apply(*before, inputs, progress);
      return {std::make_shared<const Shape>(std::move(outcome.shape)),
              false,
              {},
              std::move(outcome.notes),
              outcome.kept,
              std::move(outcome.hand),
              std::move(outcome.pattern),
              std::move(outcome.marks),
              std::move(outcome.joints),
              std::move(outcome.handles)};
    } catch (const Cancelled&) {
      throw;
    } catch (const Error& e) {
      return {before, true, e.what(), {}};
    } catch (const std::bad_alloc&) {
      return {
          before, true, say("There is not enough memory for this step. Use smaller counts."), {}};
    } catch (const std::exception& e) {
      return {before,
              true,
              say("This step ended unexpectedly ({}). Change its settings, or switch it off.",
                  e.what()),
              {}};
    } catch (...) {  // such as the B-rep kernel's, which are no std::exception
      return {before,
              true,
              say("This step ended unexpectedly. Change its settings, or switch it off."),
              {}};
    }
  }

  ShapePtr input(Run& run, const PartRef& ref) {
    const Part* other = find_part(run.document, ref.part);
    if (other == nullptr)
      throw Error(say("The part that this step reads is no longer there. Choose another one."));
    std::size_t count = other->steps.size();
    if (ref.after != 0) {
      const auto at = std::find_if(other->steps.begin(), other->steps.end(),
                                   [&](const Step& s) { return s.id == ref.after; });
      if (at == other->steps.end())
        throw Error(
            say("The build step of {} after which this step reads it is no longer there. "
                "Choose another.",
                other->name));
      count = static_cast<std::size_t>(at - other->steps.begin()) + 1;
    }
    // Steps before the one being computed are there already; the rest would go round in a circle.
    if (const auto open = run.open.find(ref.part); open != run.open.end() && count > open->second)
      throw Error(
          say("This step reads {}, which itself depends on this part. Choose a part that "
              "does not, or an "
              "earlier step of it.",
              other->name));
    if (++run.depth > kDeepest) {
      --run.depth;
      throw Error(say("Too many parts read each other in a row. Read one that is made earlier."));
    }
    struct Leave {
      int& depth;
      ~Leave() { --depth; }
    } const leave{run.depth};
    const PartResult& result = until(run, *other, count);
    return result.steps[count - 1].shape;
  }

  // Parts in an order in which each comes after those it reads, as far as there is one: so deep chains
  // need no deep stack.
  static std::vector<const Part*> ordered(const Document& d, const std::vector<PartId>& wanted) {
    std::vector<const Part*> result;
    std::set<PartId> seen;
    struct Visit {
      const Part* part;
      bool leave;
    };
    std::vector<Visit> stack;
    for (auto part = d.parts.rbegin(); part != d.parts.rend(); ++part)
      if (wanted.empty() || std::find(wanted.begin(), wanted.end(), part->id) != wanted.end())
        stack.push_back({&*part, false});
    std::map<PartId, const Part*> by_id;
    for (const Part& p : d.parts) by_id[p.id] = &p;
    while (!stack.empty()) {
      const Visit visit = stack.back();
      stack.pop_back();
      if (visit.leave) {
        result.push_back(visit.part);
        continue;
      }
      if (!seen.insert(visit.part->id).second) continue;
      stack.push_back({visit.part, true});
      // What steps read that are not needed is not needed either.
      const std::vector<Step>& steps = visit.part->steps;
      for (std::size_t k = first_needed(*visit.part, steps.size()); k < steps.size(); ++k)
        for (const PartRef& ref : steps[k].operation->inputs())
          if (const auto other = by_id.find(ref.part);
              ref.after == 0 && other != by_id.end() && !seen.contains(ref.part))
            stack.push_back({other->second, false});
    }
    return result;
  }

  // Oldest first, down to the bound; what this evaluation used stays.
  void forget_old() {
    memo.next_evaluation();
    if (bytes <= most_bytes) return;
    std::vector<std::pair<std::size_t, const Key*>> age;
    for (const auto& [key, answer] : cache)
      if (answer.last_used < clock) age.emplace_back(answer.last_used, &key);
    std::sort(age.begin(), age.end(),
              [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [used, key] : age) {
      if (bytes <= most_bytes) return;
      const auto found = cache.find(*key);
      bytes -= found->second.bytes;
      cache.erase(found);
    }
  }
};

std::size_t first_needed(const Part& part, std::size_t count) {
  for (std::size_t k = std::min(count, part.steps.size()); k > 1; --k)
    if (part.steps[k - 1].enabled && part.steps[k - 1].operation->begins_anew()) return k - 1;
  return 0;
}

Evaluator::Evaluator(std::size_t most_bytes) : impl_(std::make_unique<Impl>(most_bytes)) {}
Evaluator::~Evaluator() = default;

Evaluation Evaluator::evaluate(const Document& document, Progress& progress,
                               const std::vector<PartId>& wanted) {
  ++impl_->clock;
  Impl::Run run{document, progress};
  const std::vector<const Part*> order = Impl::ordered(document, wanted);
  for (const Part* part : order) impl_->until(run, *part, part->steps.size());
  impl_->forget_old();
  // Parts that were only read after a step are not finished.
  Evaluation evaluation;
  for (auto& [key, result] : run.done)
    if (result.steps.size() == find_part(document, key.first)->steps.size())
      evaluation.parts[key.first] = std::move(result);
  return evaluation;
}

PartResult Evaluator::evaluate_until(const Document& document, PartId part, StepId step,
                                     Progress& progress) {
  ++impl_->clock;
  const Part* p = find_part(document, part);
  if (p == nullptr) throw Error(say("The part is no longer there."));
  std::size_t count = p->steps.size();
  for (std::size_t k = 0; k < p->steps.size(); ++k)
    if (p->steps[k].id == step) count = k + 1;
  Impl::Run run{document, progress};
  // What the part reads comes first, for the same reason as above; the part itself no further than
  // asked.
  std::vector<PartId> read;
  for (std::size_t k = first_needed(*p, count); k < count; ++k)
    for (const PartRef& ref : p->steps[k].operation->inputs())
      if (ref.after == 0 && ref.part != part) read.push_back(ref.part);
  if (!read.empty())
    for (const Part* other : Impl::ordered(document, read))
      if (other->id != part) impl_->until(run, *other, other->steps.size());
  PartResult result = impl_->until(run, *p, count);
  impl_->forget_old();
  return result;
}

std::size_t Evaluator::applied() const {
  return impl_->applied;
}

std::size_t Evaluator::bytes() const {
  return impl_->bytes;
}

}  // namespace evenclay
