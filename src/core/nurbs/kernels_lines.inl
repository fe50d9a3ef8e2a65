// Included by kernels_baseline.cpp and kernels_avx2.cpp, after kernels.inl: lines of points combined into others.

namespace evenclay::kernels {
namespace {

// out = or += the sum of N rows, so that each number is stored once.
template <int N, bool First>
void sum_of_rows(const double* const* in, const double* c, std::size_t width, double* out) {
#pragma GCC ivdep
  for (std::size_t k = 0; k < width; ++k) {
    double sum = First ? 0.0 : out[k];
    for (int n = 0; n < N; ++n) sum += c[n] * in[n][k];
    out[k] = sum;
  }
}

template <bool First>
void sum_of_rows(int count, const double* const* in, const double* c, std::size_t width,
                 double* out) {
  switch (count) {
    case 1:
      return sum_of_rows<1, First>(in, c, width, out);
    case 2:
      return sum_of_rows<2, First>(in, c, width, out);
    case 3:
      return sum_of_rows<3, First>(in, c, width, out);
    default:
      return sum_of_rows<4, First>(in, c, width, out);
  }
}

void combine_rows(const Combination& m, int row, const double* in, std::size_t width, double* out) {
  const std::size_t end = m.begin[row + 1];
  for (std::size_t e = m.begin[row]; e < end;) {
    const double* rows[4];
    double values[4];
    const bool first = e == m.begin[row];
    int count = 0;
    for (; count < 4 && e < end; ++count, ++e) {
      rows[count] = in + static_cast<std::size_t>(m.point[e]) * width;
      values[count] = m.value[e];
    }
    if (first)
      sum_of_rows<true>(count, rows, values, width, out);
    else
      sum_of_rows<false>(count, rows, values, width, out);
  }
}

// N lines at once, so that shares are read once for all of them. Width: entries of every row, or 0 where they
// differ.
template <int N, int Width>
void points_of(const Combination& m, std::size_t old, const double* __restrict__ lines,
               double* __restrict__ points, double* __restrict__ weights) {
  const int rows = m.rows;
  const double* __restrict__ value = m.value;
  const int* __restrict__ point = m.point;
  for (int r = 0; r < rows; ++r) {
    Lanes sum[N];
    for (int n = 0; n < N; ++n) sum[n] = spread(0.0);
    const std::size_t begin = Width > 0 ? static_cast<std::size_t>(r) * Width : m.begin[r];
    const std::size_t end = Width > 0 ? begin + Width : m.begin[r + 1];
    for (std::size_t e = begin; e < end; ++e) {
      const Lanes share = spread(value[e]);
      const double* from = lines + 4L * point[e];
      for (std::size_t n = 0; n < N; ++n) sum[n] += share * load(from + 4 * old * n);
    }
    for (int n = 0; n < N; ++n) {
      double* to = points + 3L * (static_cast<long>(n) * rows + r);
      if (r + 1 < rows)  // the fourth number is written over by the next point
        store(to, sum[n]);
      else
        store3(to, sum[n]);
      if (weights != nullptr) weights[static_cast<long>(n) * rows + r] = sum[n][3];
    }
  }
}

template <int N>
void points_of(const Combination& m, std::size_t old, const double* lines, double* points,
               double* weights) {
  switch (m.width) {
    case 2:
      return points_of<N, 2>(m, old, lines, points, weights);
    case 3:
      return points_of<N, 3>(m, old, lines, points, weights);
    case 4:
      return points_of<N, 4>(m, old, lines, points, weights);
    default:
      return points_of<N, 0>(m, old, lines, points, weights);
  }
}

void combine_points(const Combination& m, const double* lines, std::size_t count, std::size_t old,
                    double* points, double* weights) {
  const auto rows = static_cast<std::size_t>(m.rows);
  for (std::size_t line = 0; line < count;) {
    const bool four = line + 4 <= count;
    (four ? points_of<4> : points_of<1>)(m, old, lines + 4 * old * line, points + 3 * rows * line,
                                         weights == nullptr ? nullptr : weights + rows * line);
    line += four ? 4 : 1;
  }
}

}  // namespace
}  // namespace evenclay::kernels
