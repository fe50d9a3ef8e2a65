// A dense two-dimensional array, the container of control nets.
#pragma once

#include <cassert>
#include <cstddef>
#include <utility>
#include <vector>

namespace evenclay {

///  j^  2--5--8     grid(i, j): i along u, j along v; stored with j running fastest,
///   |  1--4--7     the numbers are places in values().
///   +--0--3--6 -> i
template <typename T>
class Grid {
 public:
  Grid() = default;
  Grid(int rows, int columns, T fill = T{})
      : rows_(rows),
        columns_(columns),
        values_(static_cast<std::size_t>(rows) * static_cast<std::size_t>(columns),
                std::move(fill)) {
    assert(rows >= 0 && columns >= 0);
  }

  int rows() const { return rows_; }        ///< count along u (index i)
  int columns() const { return columns_; }  ///< count along v (index j)
  bool empty() const { return values_.empty(); }
  bool same_size(int rows, int columns) const { return rows_ == rows && columns_ == columns; }

  T& operator()(int i, int j) { return values_[place(i, j)]; }
  const T& operator()(int i, int j) const { return values_[place(i, j)]; }

  std::vector<T>& values() { return values_; }
  const std::vector<T>& values() const { return values_; }

  bool operator==(const Grid&) const = default;

 private:
  std::size_t place(int i, int j) const {
    assert(i >= 0 && i < rows_ && j >= 0 && j < columns_);
    return static_cast<std::size_t>(i) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(j);
  }

  int rows_ = 0;
  int columns_ = 0;
  std::vector<T> values_;
};

/// The same values with i and j exchanged.
template <typename T>
Grid<T> transposed(const Grid<T>& grid) {
  Grid<T> result(grid.columns(), grid.rows());
  for (int i = 0; i < grid.rows(); ++i)
    for (int j = 0; j < grid.columns(); ++j) result(j, i) = grid(i, j);
  return result;
}

}  // namespace evenclay
