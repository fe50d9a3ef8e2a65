// The innermost loops of knot operations, in both compilations, against sums written out.
#include <catch2/catch.hpp>
#include <random>

#include "core/nurbs/kernels.h"

using namespace evenclay;

namespace {

// Rows of 1 to `most` entries in any order; as many in every row when `even`.
struct Made {
  std::vector<std::size_t> begin{0};
  std::vector<int> point;
  std::vector<double> value;

  Made(std::mt19937& r, int rows, int old, int most, bool even) {
    std::uniform_int_distribution<int> count(1, most), place(0, old - 1);
    std::uniform_real_distribution<double> share(-2, 2);
    for (int k = 0; k < rows; ++k) {
      const int n = even ? most : count(r);
      for (int e = 0; e < n; ++e) {
        point.push_back(place(r));
        value.push_back(share(r));
      }
      begin.push_back(point.size());
    }
  }
  kernels::Combination of(int width) const {
    return {static_cast<int>(begin.size()) - 1, begin.data(), point.data(), value.data(), width};
  }
  double sum(std::size_t row, const std::vector<double>& old, std::size_t stride,
             std::size_t at) const {
    double result = 0.0;
    for (std::size_t e = begin[row]; e < begin[row + 1]; ++e)
      result += value[e] * old[static_cast<std::size_t>(point[e]) * stride + at];
    return result;
  }
};

std::vector<double> numbers(std::mt19937& r, std::size_t count) {
  std::uniform_real_distribution<double> x(-10, 10);
  std::vector<double> result(count);
  for (double& v : result) v = x(r);
  return result;
}

constexpr double kGuard = 12345.0;

}  // namespace

TEST_CASE("whole rows are combined as their sums say") {
  std::mt19937 r(5);
  for (const kernels::Table* table : {&kernels::kBaseline, &kernels::best()})
    for (const int most : {1, 3, 4, 5, 9})
      for (const std::size_t width : {1u, 3u, 8u, 29u}) {
        const Made m(r, 7, 11, most, false);
        const std::vector<double> old = numbers(r, 11 * width);
        for (int row = 0; row < 7; ++row) {
          std::vector<double> out(width + 1, kGuard);
          table->combine_rows(m.of(0), row, old.data(), width, out.data());
          for (std::size_t k = 0; k < width; ++k)
            CHECK(out[k] ==
                  Approx(m.sum(static_cast<std::size_t>(row), old, width, k)).margin(1e-12));
          CHECK(out[width] == kGuard);
        }
      }
}

TEST_CASE("points of lines are combined as their sums say, and nothing beside them is written") {
  std::mt19937 r(6);
  for (const kernels::Table* table : {&kernels::kBaseline, &kernels::best()})
    for (const int most : {1, 2, 3, 4, 6})
      for (const std::size_t lines : {1u, 3u, 4u, 5u, 9u})
        for (const bool even : {false, true}) {
          constexpr std::size_t old = 6, fresh = 13;
          const Made m(r, fresh, old, most, even);
          const std::vector<double> in = numbers(r, 4 * old * lines);
          std::vector<double> points(3 * fresh * lines + 1, kGuard);
          std::vector<double> weights(fresh * lines + 1, kGuard);
          table->combine_points(m.of(even ? most : 0), in.data(), lines, old, points.data(),
                                most % 2 == 0 ? weights.data() : nullptr);
          for (std::size_t line = 0; line < lines; ++line) {
            const std::vector<double> one(in.begin() + static_cast<long>(4 * old * line),
                                          in.begin() + static_cast<long>(4 * old * (line + 1)));
            for (std::size_t k = 0; k < fresh; ++k) {
              for (std::size_t c = 0; c < 3; ++c)
                CHECK(points[3 * (fresh * line + k) + c] ==
                      Approx(m.sum(k, one, 4, c)).margin(1e-12));
              CHECK(weights[fresh * line + k] ==
                    (most % 2 == 0 ? Approx(m.sum(k, one, 4, 3)).margin(1e-12) : Approx(kGuard)));
            }
          }
          CHECK(points.back() == kGuard);
          CHECK(weights.back() == kGuard);
        }
}
