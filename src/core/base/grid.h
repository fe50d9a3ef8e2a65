// A dense array of rows and columns, and layers where wanted: the container of control nets.
#pragma once

#include <cassert>
#include <cstddef>
#include <utility>
#include <vector>

namespace evenclay {

///  j^  2--5--8     grid(i, j): i along u, j along v; stored with j running fastest,
///   |  1--4--7     the numbers are places in values().
///   +--0--3--6 -> i
/// With layers grid(i, j, k), k runs fastest of all; without them there is one.
template <typename T>
class Grid {
 public:
  Grid() = default;
  Grid(int rows, int columns, T fill = T{}) : Grid(rows, columns, 1, std::move(fill)) {}
  /// Of rows * columns values, in the order above.
  Grid(int rows, int columns, std::vector<T> values)
      : rows_(rows), columns_(columns), layers_(1), values_(std::move(values)) {
    assert(rows >= 0 && columns >= 0);
    assert(values_.size() == static_cast<std::size_t>(rows) * static_cast<std::size_t>(columns));
  }
  static Grid layered(int rows, int columns, int layers, T fill = T{}) {
    return Grid(rows, columns, layers, std::move(fill));
  }

  int rows() const { return rows_; }        ///< count along u (index i)
  int columns() const { return columns_; }  ///< count along v (index j)
  int layers() const { return layers_; }    ///< count along w (index k), mostly 1
  bool empty() const { return values_.empty(); }
  bool same_size(int rows, int columns, int layers = 1) const {
    return rows_ == rows && columns_ == columns && layers_ == layers;
  }

  T& operator()(int i, int j) { return values_[place(i, j)]; }
  const T& operator()(int i, int j) const { return values_[place(i, j)]; }
  T& operator()(int i, int j, int k) { return values_[place(i, j, k)]; }
  const T& operator()(int i, int j, int k) const { return values_[place(i, j, k)]; }

  std::vector<T>& values() { return values_; }
  const std::vector<T>& values() const { return values_; }

  bool operator==(const Grid&) const = default;

 private:
  Grid(int rows, int columns, int layers, T fill)
      : rows_(rows),
        columns_(columns),
        layers_(layers),
        values_(static_cast<std::size_t>(rows) * static_cast<std::size_t>(columns) *
                    static_cast<std::size_t>(layers),
                std::move(fill)) {
    assert(rows >= 0 && columns >= 0 && layers >= 1);
  }
  std::size_t place(int i, int j) const {
    assert(i >= 0 && i < rows_ && j >= 0 && j < columns_ && layers_ == 1);
    return static_cast<std::size_t>(i) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(j);
  }
  std::size_t place(int i, int j, int k) const {
    assert(i >= 0 && i < rows_ && j >= 0 && j < columns_ && k >= 0 && k < layers_);
    return (static_cast<std::size_t>(i) * static_cast<std::size_t>(columns_) +
            static_cast<std::size_t>(j)) *
               static_cast<std::size_t>(layers_) +
           static_cast<std::size_t>(k);
  }

  int rows_ = 0;
  int columns_ = 0;
  int layers_ = 1;
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
