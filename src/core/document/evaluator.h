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
  std::shared_ptr<const HandNets> hand = nullptr;
  std::shared_ptr<const PatternFacts> pattern = nullptr;
  std::vector<std::array<Vec3, 2>> marks = {};
  std::vector<JointBadge> joints = {};
  std::vector<StepHandle> handles = {};
  bool skipped = false;  ///< not computed: a later step begins anew
};

/// The place of the last step that begins anew among the first `count` of a part, if any is on: what lies beneath it is
/// not needed. 0 for usual parts.
std::size_t first_needed(const Part& part, std::size_t count);

struct PartResult {
  std::vector<StepResult> steps;  ///< in the order of the part's steps
  ShapePtr shape;                 ///< after the last step; never null, maybe empty
  bool failed = false;            ///< some step failed
};

struct Evaluation {
  std::map<PartId, PartResult> parts;
};

/// Caches by identity of the operation and of the shapes it reads, and by the tolerance: an edit
/// recomputes only what is downstream, and undo finds its shapes again. The cache is bounded in bytes;
/// what was used longest ago goes first, never what the last evaluation used. Not thread-safe: one
/// evaluator a thread.
/// A step that throws anything at all (out of memory and the B-rep kernel's faults included) yields its
/// message and passes on the shape below it; only Cancelled comes out.
class Evaluator {
 public:
  static constexpr std::size_t kDefaultBytes = 1ULL << 30;
  explicit Evaluator(std::size_t most_bytes = kDefaultBytes);
  ~Evaluator();

  /// All parts, or only `wanted` and what they read when it is not empty. Parts that are only read after
  /// one of their steps are computed up to it and are not in the answer. Throws Cancelled; what was
  /// computed until then stays cached.
  Evaluation evaluate(const Document& document, Progress& progress,
                      const std::vector<PartId>& wanted = {});

  /// One part after a step (0: after its last), computing nothing behind it. Throws Cancelled.
  PartResult evaluate_until(const Document& document, PartId part, StepId step, Progress& progress);

  /// Operations that were really applied since construction; lets tests count recomputation.
  std::size_t applied() const;
  /// Bytes of the shapes in the cache.
  std::size_t bytes() const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace evenclay
