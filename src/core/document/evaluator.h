// Turns a document into shapes, recomputing only what changed.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/document/document.h"

namespace evenclay {

/// What one step made. A failing step passes on the shape below and says why in `message`.
struct StepResult {
  ShapePtr shape;
  bool failed = false;
  std::string message;
  std::vector<std::string> notes = {};
  std::optional<KeptShape> kept = {};
};

struct PartResult {
  std::vector<StepResult> steps;  ///< in the order of the part's steps
  ShapePtr shape;                 ///< after the last step; never null, maybe empty
  bool failed = false;            ///< some step failed
};

struct Evaluation {
  std::map<PartId, PartResult> parts;
};

/// Caches by identity of the operation and of the shapes it reads: an edit recomputes only what is
/// downstream, and undo finds its shapes again. Keeps the answers of the last 200 evaluations that
/// used them. Not thread-safe: one evaluator a thread.
class Evaluator {
 public:
  Evaluator();
  ~Evaluator();

  /// All parts, or only `wanted` and what they read when it is not empty. Throws Cancelled; what
  /// was computed until then stays cached.
  Evaluation evaluate(const Document& document, Progress& progress,
                      const std::vector<PartId>& wanted = {});

  /// Operations that were really applied since construction; lets tests count recomputation.
  std::size_t applied() const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace evenclay
