// What the B-rep kernel made out of bodies, brought back under lasting names. Only this folder and cut/ may include
// this header, since it brings the kernel's.
#pragma once

#include <Message_ProgressIndicator.hxx>
#include <TopTools_ListOfShape.hxx>
#include <chrono>
#include <functional>
#include <span>
#include <vector>

#include "core/kernel/convert.h"

namespace evenclay::kernel {

/// A body and its shape in the kernel.
struct Given {
  const Body* body = nullptr;
  KernelBody shape;
};

/// What one of the kernel's algorithms says became of a shape that was given to it.
struct History {
  std::function<TopTools_ListOfShape(const TopoDS_Shape&)> modified;
  std::function<TopTools_ListOfShape(const TopoDS_Shape&)> generated;
};
template <typename Algorithm>
History history_of(Algorithm& algorithm) {
  return {[&algorithm](const TopoDS_Shape& s) { return algorithm.Modified(s); },
          [&algorithm](const TopoDS_Shape& s) { return algorithm.Generated(s); }};
}

/// Of two algorithms, the second of which worked on what the first made.
template <typename First, typename Second>
History one_behind_other(First& first, Second& second) {
  const auto through = [](auto& algorithm, const TopoDS_Shape& s) {
    TopTools_ListOfShape now = algorithm.Modified(s);
    if (now.IsEmpty() && !algorithm.IsDeleted(s)) now.Append(s);
    return now;
  };
  const auto both = [&first, &second, through](const TopoDS_Shape& s) {
    TopTools_ListOfShape all;
    for (const TopoDS_Shape& between : through(first, s))
      for (const TopoDS_Shape& last : through(second, between)) all.Append(last);
    return all;
  };
  return {[both](const TopoDS_Shape& s) {
            TopTools_ListOfShape all = both(s);
            // A shape that is as it was is not modified.
            if (all.Extent() == 1 && all.First().IsSame(s)) all.Clear();
            return all;
          },
          [&first, &second, through](const TopoDS_Shape& s) {
            TopTools_ListOfShape all;
            for (const TopoDS_Shape& made : first.Generated(s))
              for (const TopoDS_Shape& last : through(second, made)) all.Append(last);
            for (const TopoDS_Shape& between : through(first, s))
              for (const TopoDS_Shape& made : second.Generated(between)) all.Append(made);
            return all;
          }};
}

/// The kernel's result as a body. Faces and edges that were not made anew keep their tags, and their surfaces are the
/// very ones they had; of several pieces the largest keeps the name. A face made out of an edge or face is named after
/// it and the step, a new edge after the faces it lies between, so that the same cut on a changed part gives the same
/// names. `flipped` is as the result is oriented. Throws Error, Cancelled.
Body named_body(const TopoDS_Shape& result, std::span<const Given> given, const History& history,
                int step, Progress& progress);

/// Of faces, and of edges, that share a name the largest face and the first edge keep it.
void give_own_names(Body& body, int step);

/// How long one of the kernel's algorithms may work before it is given up: it would hold up whatever waits for it.
inline constexpr std::chrono::seconds kTimeLimit{600};

/// Carries the wish to stop to the kernel's long loops, and the limit of time. After the work call check().
class Stop : public Message_ProgressIndicator {
 public:
  explicit Stop(Progress& progress, std::chrono::seconds limit = kTimeLimit)
      : progress_(progress), limit_(limit), end_(std::chrono::steady_clock::now() + limit) {}
  Standard_Boolean UserBreak() override {
    late_ = late_ || std::chrono::steady_clock::now() >= end_;
    return late_ || progress_.cancelled();
  }
  void Show(const Message_ProgressScope&, const Standard_Boolean) override {}
  /// Throws Cancelled, and Error when the limit has passed.
  void check() const;

 private:
  Progress& progress_;
  std::chrono::seconds limit_;
  std::chrono::steady_clock::time_point end_;
  bool late_ = false;
};

/// What is told from a shape that has neither faults of the kernel's checker nor free edges; empty when nothing is.
/// `closed`: it is meant to bound a volume.
std::string faults_of(const TopoDS_Shape& shape, bool closed);

}  // namespace evenclay::kernel
