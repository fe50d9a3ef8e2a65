#include "core/document/evaluator.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/error.h"

namespace evenclay {

namespace {

// Identity of everything an answer depends on. The cache keeps the pointees alive, so an address
// cannot be used again while it is a key.
using Key = std::vector<const void*>;

struct Answer {
  StepResult result;
  OperationPtr operation;
  std::vector<ShapePtr> read;
  std::size_t last_used = 0;
};

constexpr std::size_t kKeptEvaluations = 200;

}  // namespace

struct Evaluator::Impl {
  std::map<Key, Answer> cache;
  std::size_t clock = 0;
  std::size_t applied = 0;
  const ShapePtr nothing = std::make_shared<const Shape>(Body{});

  struct Run {
    const Document& document;
    Progress& progress;
    Evaluation evaluation;
    std::set<PartId> open;  // parts being evaluated, to find circles
  };

  const PartResult& part(Run& run, const Part& part) {
    const auto done = run.evaluation.parts.find(part.id);
    if (done != run.evaluation.parts.end()) return done->second;
    run.open.insert(part.id);
    PartResult result;
    result.shape = nothing;
    for (const Step& step : part.steps) {
      StepResult r{result.shape, false, {}, {}};
      if (step.enabled) r = evaluate_step(run, step, result.shape);
      result.shape = r.shape;
      result.failed |= r.failed;
      result.steps.push_back(std::move(r));
    }
    run.open.erase(part.id);
    return run.evaluation.parts.emplace(part.id, std::move(result)).first->second;
  }

  StepResult evaluate_step(Run& run, const Step& step, const ShapePtr& before) {
    Answer answer;
    answer.operation = step.operation;
    answer.read.push_back(before);
    Inputs inputs;
    inputs.tolerance = run.document.settings.tolerance;
    inputs.step = step.id;
    try {
      for (const PartId id : step.operation->inputs()) {
        inputs.parts[id] = input(run, id);
        answer.read.push_back(inputs.parts[id]);
      }
    } catch (const Error& e) {
      return {before, true, e.what(), {}};
    }
    Key key{step.operation.get()};
    for (const ShapePtr& s : answer.read) key.push_back(s.get());
    if (const auto hit = cache.find(key); hit != cache.end()) {
      hit->second.last_used = clock;
      return hit->second.result;
    }
    run.progress.check();
    ++applied;
    try {
      Outcome outcome = step.operation->apply(*before, inputs, run.progress);
      answer.result = {std::make_shared<const Shape>(std::move(outcome.shape)),
                       false,
                       {},
                       std::move(outcome.notes),
                       outcome.kept};
    } catch (const Error& e) {
      answer.result = {before, true, e.what(), {}};
    } catch (const std::bad_alloc&) {
      answer.result = {
          before, true, "There is not enough memory for this step. Use smaller counts.", {}};
    }
    answer.last_used = clock;
    return cache.emplace(key, std::move(answer)).first->second.result;
  }

  ShapePtr input(Run& run, PartId id) {
    const Part* other = find_part(run.document, id);
    if (other == nullptr)
      throw Error("The part that this step reads is no longer there. Choose another one.");
    if (run.open.contains(id))
      throw Error(fmt::format(
          "This step reads {}, which itself depends on this part. Choose a part that does not.",
          other->name));
    return part(run, *other).shape;
  }

  void forget_old() {
    std::erase_if(cache, [&](const auto& entry) {
      return entry.second.last_used + kKeptEvaluations < clock;
    });
  }
};

Evaluator::Evaluator() : impl_(std::make_unique<Impl>()) {}
Evaluator::~Evaluator() = default;

Evaluation Evaluator::evaluate(const Document& document, Progress& progress,
                               const std::vector<PartId>& wanted) {
  ++impl_->clock;
  Impl::Run run{document, progress, {}, {}};
  for (const Part& part : document.parts) {
    const bool take =
        wanted.empty() || std::find(wanted.begin(), wanted.end(), part.id) != wanted.end();
    if (take) impl_->part(run, part);
  }
  impl_->forget_old();
  return std::move(run.evaluation);
}

std::size_t Evaluator::applied() const {
  return impl_->applied;
}

}  // namespace evenclay
