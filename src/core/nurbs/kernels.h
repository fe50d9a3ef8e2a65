// The few innermost loops, compiled twice (plain x86-64, and AVX2 + FMA) and chosen at run time.
// Everything here is raw numbers: no templates of the standard library may be instantiated in the
// kernel files, since the linker could then keep the AVX2 copy for the whole program.
#pragma once

#include <cstddef>

namespace evenclay::kernels {

/// One direction prepared for fast evaluation: basis functions as polynomials per knot interval.
struct Direction {
  int degree;
  int spans;  ///< count of knot intervals with length
  bool periodic;
  double first, last;      ///< domain
  const double* breaks;    ///< spans + 1 places
  const double* middles;   ///< of each span; polynomials are about it
  const int* first_point;  ///< index of the first control point of each span, in the padded net
  /// coefficients[(span * (degree + 1) + power) * (degree + 1) + basis], in t = u - middles[span]
  const double* coefficients;
  const int* buckets;  ///< bucket -> a span at or before its start
  int bucket_count;
  double bucket_scale;  ///< buckets per unit of u
};

/// A surface prepared for fast evaluation.
struct Net {
  Direction u, v;
  const double* points;  ///< homogeneous x y z w, padded so that periodic spans are contiguous
  int columns;           ///< padded count along v
  bool rational;
};

/// Outputs of scattered evaluation, for each sample: p, du, dv [, duu, duv, dvv], 3 doubles each.
/// order 0, 1 or 2 gives 3, 9 or 18 doubles a sample.
/// u and v are count parameters; they are wrapped or cut to the domain.
using ScatteredFn = void (*)(const Net&, const double* uv, std::size_t count, int order,
                             double* out);

/// Planes of a grid of samples; each holds rows x columns numbers, row by row (u outer).
template <typename T>
struct Planes {
  T* p[3];
  T* du[3];
  T* dv[3];
};

/// Rows [row_begin, row_end) of the grid us x vs (vs not decreasing, inside the domain).
template <typename T>
using GridFn = void (*)(const Net&, const double* us, const double* vs, std::size_t columns,
                        std::size_t row_begin, std::size_t row_end, double* scratch,
                        const Planes<T>&);

/// Vertices of a pattern that lie at one u of the net. Planes of `count` numbers: v; the height h (mm); and the
/// outward normal by its products with the derivatives of the place by u, v and the height, the first two times
/// the height factor.
struct FlowRun {
  double u;
  std::size_t count;
  const double *v, *h, *nu, *nv, *nh;
  double side;  ///< 1 or −1: heights along du × dv or against it
};

/// points[k] = S + h side N and the outward normal by the exact differential of that map; 3 doubles each.
/// sound[k] = 0 where the surface has no normal (a pole); then points and normals of k are not to be used.
/// Quick when v does not jump between knot intervals.
using FlowFn = void (*)(const Net&, const FlowRun&, double* points, double* normals,
                        unsigned char* sound);

/// Points of a line from those of another: new point r is the sum over e in [begin[r], begin[r + 1]) of value[e]
/// times old point point[e].
struct Combination {
  int rows;
  const std::size_t* begin;
  const int* point;
  const double* value;
  int width = 0;  ///< entries of every row, or 0 where they differ
};

/// Row `row` of the combination of whole rows, each of `width` numbers; in and out do not overlap.
using CombineRowsFn = void (*)(const Combination&, int row, const double* in, std::size_t width,
                               double* out);

/// All points of `count` lines of `old` points, one line behind the other; 4 numbers a point (x y z w, any w where
/// weights is null). points: 3 numbers each, weights: one each, or null; a line of m.rows behind the other.
using CombinePointsFn = void (*)(const Combination& m, const double* lines, std::size_t count,
                                 std::size_t old, double* points, double* weights);

struct Table {
  ScatteredFn scattered;
  GridFn<double> grid;
  GridFn<float> grid_float;
  FlowFn flow;
  CombineRowsFn combine_rows;
  CombinePointsFn combine_points;
  const char* name;
};

/// Doubles of scratch that a GridFn call needs.
inline std::size_t grid_scratch(const Net& net) {
  return static_cast<std::size_t>(net.columns) * 8 + 8 * 16;
}

extern const Table kBaseline;
extern const Table kAvx2;

/// The fastest table this processor can run.
const Table& best();

}  // namespace evenclay::kernels
