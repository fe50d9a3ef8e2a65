// Points of a form as weighted sums of others: what the rules of refine_rules.h sum instead of places.
#pragma once

#include <algorithm>
#include <cstdint>
#include <span>
#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// A sum of a few points.
class Weights {
 public:
  Weights() = default;
  explicit Weights(std::uint32_t point) : terms_{{point, 1.0}} {}

  const std::vector<std::pair<std::uint32_t, double>>& terms() const { return terms_; }
  Weights& operator+=(const Weights& other) { return add(other, 1.0); }
  Weights operator+(const Weights& other) const { return Weights(*this).add(other, 1.0); }
  Weights operator-(const Weights& other) const { return Weights(*this).add(other, -1.0); }
  Weights operator*(double f) const {
    Weights r = *this;
    for (auto& t : r.terms_) t.second *= f;
    return r;
  }
  Weights operator/(double f) const { return *this * (1.0 / f); }

 private:
  Weights& add(const Weights& other, double f) {
    for (const auto& [point, w] : other.terms_) {
      const auto found = std::find_if(terms_.begin(), terms_.end(),
                                      [p = point](const auto& t) { return t.first == p; });
      if (found == terms_.end())
        terms_.emplace_back(point, w * f);
      else
        found->second += w * f;
    }
    return *this;
  }
  std::vector<std::pair<std::uint32_t, double>> terms_;
};

/// Many sums, over the same points.
struct SparseRows {
  std::vector<std::uint32_t> begin{0},
      index;  ///< of each row the place in index and weight where it begins; one more
  std::vector<double> weight;
  std::size_t size() const { return begin.size() - 1; }
};
Vec3 sum(const SparseRows& rows, std::size_t row, std::span<const Vec3> points);
/// Each point alone.
SparseRows unit_rows(std::size_t points);

/// What each of many points has a share in.
class Reach {
 public:
  Reach() = default;
  /// From pairs of a point and what it reaches.
  Reach(const std::vector<std::pair<std::uint32_t, std::uint32_t>>& pairs, std::size_t points);
  std::span<const std::uint32_t> of(std::uint32_t point) const {
    return {items_.data() + begin_[point], items_.data() + begin_[point + 1]};
  }

 private:
  std::vector<std::uint32_t> begin_, items_;
};

/// Writes sums of rows as rows of the points beneath.
class RowMaker {
 public:
  explicit RowMaker(std::size_t points) : dense_(points, 0.0), seen_(points, 0) {}
  /// The row of `local`, which weighs rows of `below`.
  void append(const Weights& local, const SparseRows& below, SparseRows& out);
  /// The points of subdivided(form), where the form's own are the rows `below`. Throws Cancelled.
  SparseRows subdivided_rows(const Form& form, const SparseRows& below, Progress& progress);

 private:
  std::vector<double> dense_;
  std::vector<std::uint32_t> seen_;
  std::uint32_t mark_ = 0;
  std::vector<std::uint32_t> touched_;
};

}  // namespace evenclay
