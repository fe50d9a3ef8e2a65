// Included by limit_kernels_baseline.cpp and limit_kernels_avx2.cpp, in an unnamed namespace, so that the two never share a
// symbol.

#include "core/subdivision/limit_kernels.h"

namespace evenclay::limit_kernels {
namespace {

typedef double Lanes __attribute__((vector_size(32)));
typedef double LanesUnaligned __attribute__((vector_size(32), aligned(8)));
typedef long long Order __attribute__((vector_size(32)));

constexpr std::size_t kMost = 72;  // places in a row, rounded up, and room behind

// Coordinates in planes become three numbers a place.
inline void interleave(const double* x, const double* y, const double* z, std::size_t count,
                       double* out) {
  std::size_t j = 0;
  for (; j + 4 <= count; j += 4, out += 12) {
    const Lanes a = *reinterpret_cast<const LanesUnaligned*>(x + j);
    const Lanes b = *reinterpret_cast<const LanesUnaligned*>(y + j);
    const Lanes c = *reinterpret_cast<const LanesUnaligned*>(z + j);
    const Lanes ab = __builtin_shuffle(a, b, Order{0, 4, 1, 5});    // x0 y0 x1 y1
    const Lanes bc = __builtin_shuffle(b, c, Order{1, 5, 2, 6});    // y1 z1 y2 z2
    const Lanes ca = __builtin_shuffle(c, a, Order{0, 5, 2, 7});    // z0 x1 z2 x3
    const Lanes tail = __builtin_shuffle(b, c, Order{3, 7, 3, 7});  // y3 z3
    *reinterpret_cast<LanesUnaligned*>(out) = __builtin_shuffle(ab, ca, Order{0, 1, 4, 5});
    *reinterpret_cast<LanesUnaligned*>(out + 4) =
        __builtin_shuffle(bc, __builtin_shuffle(a, b, Order{2, 6, 2, 6}), Order{0, 1, 4, 5});
    *reinterpret_cast<LanesUnaligned*>(out + 8) = __builtin_shuffle(ca, tail, Order{2, 3, 4, 5});
  }
  for (; j < count; ++j, out += 3) {
    out[0] = x[j];
    out[1] = y[j];
    out[2] = z[j];
  }
}

struct Row {
  alignas(32) double p[3][kMost], t[3][kMost], s[3][kMost], n[3][kMost];
};

inline void set_normals(Row& r, std::size_t count) {
  for (std::size_t j = 0; j < count; ++j) {
    const double x = r.t[1][j] * r.s[2][j] - r.t[2][j] * r.s[1][j];
    const double y = r.t[2][j] * r.s[0][j] - r.t[0][j] * r.s[2][j];
    const double z = r.t[0][j] * r.s[1][j] - r.t[1][j] * r.s[0][j];
    const double l = __builtin_sqrt(x * x + y * y + z * z);
    const double f = l > 1e-300 ? 1.0 / l : 0.0;
    r.n[0][j] = x * f;
    r.n[1][j] = y * f;
    r.n[2][j] = l > 1e-300 ? z * f : 1.0;
  }
}

inline void put(const double (&from)[3][kMost], std::size_t j, double* out) {
  for (std::size_t c = 0; c < 3; ++c) out[c] = from[c][j];
}

// Row i of `places` to where its inner part and its ends belong.
inline void write_row(const Row& r, std::size_t i, std::size_t places, const FaceOut& out) {
  const std::size_t last = places - 1;
  put(r.p, 0, out.side_points[0] + 3 * i);
  put(r.n, 0, out.side_normals[0] + 3 * i);
  put(r.p, last, out.side_points[2] + 3 * i);
  put(r.n, last, out.side_normals[2] + 3 * i);
  if (i == 0 || i == last) {
    const std::size_t side = i == 0 ? 3 : 1;
    interleave(r.p[0], r.p[1], r.p[2], places, out.side_points[side]);
    interleave(r.n[0], r.n[1], r.n[2], places, out.side_normals[side]);
    return;
  }
  const std::size_t at = 3 * (i - 1) * (places - 2);
  // What is written too much the next rows write anew.
  const bool room = (last - i - 1) * (places - 2) >= 3;
  const std::size_t count = room ? in_fours(places - 2) : places - 2;
  interleave(r.p[0] + 1, r.p[1] + 1, r.p[2] + 1, count, out.points + at);
  interleave(r.n[0] + 1, r.n[1] + 1, r.n[2] + 1, count, out.normals + at);
}

void patch(const SpanTables& tables, const double* x, const double* y, const double* z,
           const FaceOut& out) {
  const std::size_t places = tables.places, n = in_fours(places);
  const double* const from[3] = {x, y, z};
  const double *b0 = tables.basis, *b1 = b0 + n, *b2 = b1 + n, *b3 = b2 + n;
  const double *s0 = tables.slope, *s1 = s0 + n, *s2 = s1 + n, *s3 = s2 + n;
  Row r;
  for (std::size_t i = 0; i < places; ++i) {
    for (std::size_t c = 0; c < 3; ++c) {
      double q[4], d[4];  // the four rows put together: places, and slopes along u
      for (std::size_t k = 0; k < 4; ++k) {
        const double* f = from[c] + k;
        q[k] = b0[i] * f[0] + b1[i] * f[4] + b2[i] * f[8] + b3[i] * f[12];
        d[k] = s0[i] * f[0] + s1[i] * f[4] + s2[i] * f[8] + s3[i] * f[12];
      }
      for (std::size_t j = 0; j < n; ++j) {
        r.p[c][j] = b0[j] * q[0] + b1[j] * q[1] + b2[j] * q[2] + b3[j] * q[3];
        r.t[c][j] = b0[j] * d[0] + b1[j] * d[1] + b2[j] * d[2] + b3[j] * d[3];
        r.s[c][j] = s0[j] * q[0] + s1[j] * q[1] + s2[j] * q[2] + s3[j] * q[3];
      }
    }
    set_normals(r, n);
    write_row(r, i, places, out);
  }
}

void stencil(const double* planes, std::size_t columns, std::size_t places, const double* x,
             const double* y, const double* z, const FaceOut& out) {
  const std::size_t grid = places * places;
  Row r;
  for (std::size_t i = 0; i < places; ++i) {
    double* const into[3][3] = {
        {r.p[0], r.p[1], r.p[2]}, {r.t[0], r.t[1], r.t[2]}, {r.s[0], r.s[1], r.s[2]}};
    for (std::size_t kind = 0; kind < 3; ++kind) {
      double *rx = into[kind][0], *ry = into[kind][1], *rz = into[kind][2];
      for (std::size_t j = 0; j < places; ++j) rx[j] = ry[j] = rz[j] = 0.0;
      for (std::size_t k = 0; k < columns; ++k) {
        const double* m = planes + (kind * columns + k) * grid + i * places;
        const double px = x[k], py = y[k], pz = z[k];
        for (std::size_t j = 0; j < places; ++j) {
          rx[j] += m[j] * px;
          ry[j] += m[j] * py;
          rz[j] += m[j] * pz;
        }
      }
    }
    set_normals(r, places);
    write_row(r, i, places, out);
  }
}

}  // namespace
}  // namespace evenclay::limit_kernels
