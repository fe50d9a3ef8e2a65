// Included by kernels_baseline.cpp and kernels_avx2.cpp. Everything is in an unnamed namespace,
// so that the two compilations never share a symbol.

#include "core/nurbs/kernels.h"

namespace evenclay::kernels {
namespace {

typedef double Lanes __attribute__((vector_size(32)));
typedef double LanesUnaligned __attribute__((vector_size(32), aligned(8)));

constexpr int kMax = 12;    // degree 11
constexpr int kBlock = 64;  // samples per pass of scattered evaluation

inline Lanes load(const double* p) {
  return *reinterpret_cast<const LanesUnaligned*>(p);
}
inline void store(double* out, Lanes a) {
  *reinterpret_cast<LanesUnaligned*>(out) = a;
}
inline Lanes spread(double s) {
  return Lanes{s, s, s, s};
}

inline double bring_into(const Direction& d, double u) {
  if (u >= d.first && u < d.last) return u;
  if (!d.periodic) return u < d.first ? d.first : (u > d.last ? d.last : u);
  const double length = d.last - d.first;
  const double turns = __builtin_floor((u - d.first) / length);
  u -= turns * length;
  return u >= d.first && u < d.last ? u : d.first;
}

inline int span_of(const Direction& d, double u) {
  int b = static_cast<int>((u - d.first) * d.bucket_scale);
  if (b >= d.bucket_count) b = d.bucket_count - 1;
  if (b < 0) b = 0;
  int s = d.buckets[b];
  while (s + 1 < d.spans && d.breaks[s + 1] <= u) ++s;
  while (s > 0 && d.breaks[s] > u) --s;
  return s;
}

// Values and derivatives of the p + 1 functions of a span by Horner's rule.
template <int P>
inline void basis(const Direction& d, int span, double u, int order, double* n0, double* n1,
                  double* n2) {
  const int p = P > 0 ? P : d.degree;
  const double t = u - d.middles[span];
  const double* c = d.coefficients + static_cast<long>(span) * (p + 1) * (p + 1);
  if constexpr (P == 3) {  // four functions, one a lane
    const Lanes at = spread(t);
    Lanes a = load(c + 12), b = spread(0.0), e = b;
    for (int power = 2; power >= 0; --power) {
      if (order > 1) e = e * at + b;
      if (order > 0) b = b * at + a;
      a = a * at + load(c + 4 * power);
    }
    store(n0, a);
    if (order > 0) store(n1, b);
    if (order > 1) store(n2, e * spread(2.0));
    return;
  }
  for (int k = 0; k <= p; ++k) {
    n0[k] = c[p * (p + 1) + k];
    n1[k] = 0.0;
    n2[k] = 0.0;
  }
  for (int power = p - 1; power >= 0; --power)
    for (int k = 0; k <= p; ++k) {
      if (order > 1) n2[k] = n2[k] * t + n1[k];
      if (order > 0) n1[k] = n1[k] * t + n0[k];
      n0[k] = n0[k] * t + c[power * (p + 1) + k];
    }
  if (order > 1)
    for (int k = 0; k <= p; ++k) n2[k] *= 2.0;
}

inline void store3(double* out, Lanes a) {
  out[0] = a[0];
  out[1] = a[1];
  out[2] = a[2];
}

template <int P, int Q, int Order>
void scattered_points(const Net& net, const int* su, const int* sv, const double* nu,
                      const double* nv, int count, double* out) {
  constexpr int order = Order;
  const int p = P > 0 ? P : net.u.degree;
  const int q = Q > 0 ? Q : net.v.degree;
  constexpr int stride = (order + 1) * (order + 2) / 2 * 3;
  for (int s = 0; s < count; ++s) {
    const double* bu = nu + s * 3 * kMax;
    const double* bv = nv + s * 3 * kMax;
    const Lanes zero = spread(0.0);
    Lanes h00 = zero, h10 = zero, h01 = zero, h20 = zero, h11 = zero, h02 = zero;
    const double* corner =
        net.points +
        4 * (static_cast<long>(net.u.first_point[su[s]]) * net.columns + net.v.first_point[sv[s]]);
    for (int i = 0; i <= p; ++i) {
      const double* row = corner + 4L * i * net.columns;
      Lanes r0 = zero, r1 = zero, r2 = zero;
      for (int j = 0; j <= q; ++j) {
        const Lanes point = load(row + 4 * j);
        r0 += point * spread(bv[j]);
        if (order > 0) r1 += point * spread(bv[kMax + j]);
        if (order > 1) r2 += point * spread(bv[2 * kMax + j]);
      }
      h00 += r0 * spread(bu[i]);
      if (order > 0) {
        h10 += r0 * spread(bu[kMax + i]);
        h01 += r1 * spread(bu[i]);
      }
      if (order > 1) {
        h20 += r0 * spread(bu[2 * kMax + i]);
        h11 += r1 * spread(bu[kMax + i]);
        h02 += r2 * spread(bu[i]);
      }
    }
    if (net.rational) {  // quotient rule, The NURBS Book eq. 4.20
      const double iw = 1.0 / h00[3];
      const Lanes a = h00 * spread(iw);
      const Lanes au = (h10 - a * spread(h10[3])) * spread(iw);
      const Lanes av = (h01 - a * spread(h01[3])) * spread(iw);
      if (order > 1) {
        const Lanes auu = (h20 - au * spread(2.0 * h10[3]) - a * spread(h20[3])) * spread(iw);
        const Lanes auv =
            (h11 - av * spread(h10[3]) - au * spread(h01[3]) - a * spread(h11[3])) * spread(iw);
        const Lanes avv = (h02 - av * spread(2.0 * h01[3]) - a * spread(h02[3])) * spread(iw);
        h20 = auu;
        h11 = auv;
        h02 = avv;
      }
      h00 = a;
      h10 = au;
      h01 = av;
    }
    double* o = out + static_cast<long>(s) * stride;
    const Lanes made[] = {h00, h10, h01, h20, h11, h02};
    const int last = stride / 3 - 1;
    for (int k = 0; k < last; ++k) store(o + 3 * k, made[k]);  // the next writes over the fourth
    if (s + 1 < count)
      store(o + 3 * last, made[last]);
    else
      store3(o + 3 * last, made[last]);
  }
}

template <int P, int Q, int Order>
void scattered_block(const Net& net, const double* uv, int count, double* out) {
  int su[kBlock];
  int sv[kBlock];
  double nu[kBlock * 3 * kMax];
  double nv[kBlock * 3 * kMax];
  double us[kBlock];
  double vs[kBlock];
  for (int s = 0; s < count; ++s) {
    us[s] = bring_into(net.u, uv[2 * s]);
    vs[s] = bring_into(net.v, uv[2 * s + 1]);
    su[s] = span_of(net.u, us[s]);
    sv[s] = span_of(net.v, vs[s]);
  }
  for (int s = 0; s < count; ++s) {
    double* a = nu + s * 3 * kMax;
    double* b = nv + s * 3 * kMax;
    basis<P>(net.u, su[s], us[s], Order, a, a + kMax, a + 2 * kMax);
    basis<Q>(net.v, sv[s], vs[s], Order, b, b + kMax, b + 2 * kMax);
  }
  scattered_points<P, Q, Order>(net, su, sv, nu, nv, count, out);
}

template <int P, int Q>
void scattered_order(const Net& net, const double* uv, std::size_t count, int order, double* out) {
  const int stride = (order + 1) * (order + 2) / 2 * 3;
  for (std::size_t at = 0; at < count; at += kBlock) {
    const int n = count - at < kBlock ? static_cast<int>(count - at) : kBlock;
    double* o = out + at * static_cast<std::size_t>(stride);
    if (order == 0)
      scattered_block<P, Q, 0>(net, uv + 2 * at, n, o);
    else if (order == 1)
      scattered_block<P, Q, 1>(net, uv + 2 * at, n, o);
    else
      scattered_block<P, Q, 2>(net, uv + 2 * at, n, o);
  }
}

// The degrees that are met most, in any pair: what loops over a degree known only at run time costs four times as much.
template <int P>
void scattered_degree(const Net& net, const double* uv, std::size_t count, int order, double* out) {
  switch (net.v.degree) {
    case 1:
      return scattered_order<P, 1>(net, uv, count, order, out);
    case 2:
      return scattered_order<P, 2>(net, uv, count, order, out);
    case 3:
      return scattered_order<P, 3>(net, uv, count, order, out);
    default:
      return scattered_order<0, 0>(net, uv, count, order, out);
  }
}

void scattered(const Net& net, const double* uv, std::size_t count, int order, double* out) {
  switch (net.u.degree) {
    case 1:
      return scattered_degree<1>(net, uv, count, order, out);
    case 2:
      return scattered_degree<2>(net, uv, count, order, out);
    case 3:
      return scattered_degree<3>(net, uv, count, order, out);
    default:
      break;
  }
  if (net.u.degree == 4 && net.v.degree == 4)
    scattered_order<4, 4>(net, uv, count, order, out);
  else if (net.u.degree == 5 && net.v.degree == 5)
    scattered_order<5, 5>(net, uv, count, order, out);
  else
    scattered_order<0, 0>(net, uv, count, order, out);
}

// Samples of one row inside one span of v, one sample a lane. x[c] and y[c] are the polynomials of
// S and of its u derivative, coordinate c, in t, ascending powers, kMax apart.
template <int Q, bool Rational, typename T>
void run_of_samples(int degree, const T* x, const T* y, const T* t, std::size_t count,
                    const Planes<T>& out, std::size_t at) {
  const int q = Q > 0 ? Q : degree;
  T* __restrict__ p0 = out.p[0] + at;
  T* __restrict__ p1 = out.p[1] + at;
  T* __restrict__ p2 = out.p[2] + at;
  T* __restrict__ u0 = out.du[0] + at;
  T* __restrict__ u1 = out.du[1] + at;
  T* __restrict__ u2 = out.du[2] + at;
  T* __restrict__ v0 = out.dv[0] + at;
  T* __restrict__ v1 = out.dv[1] + at;
  T* __restrict__ v2 = out.dv[2] + at;
  constexpr int lanes = Rational ? 4 : 3;
#pragma GCC ivdep
  for (std::size_t s = 0; s < count; ++s) {
    T a[4], b[4], c[4];  // value, v derivative, u derivative
    for (int k = 0; k < lanes; ++k) {
      a[k] = x[k * kMax + q];
      b[k] = 0;
      c[k] = y[k * kMax + q];
    }
    for (int power = q - 1; power >= 0; --power)
      for (int k = 0; k < lanes; ++k) {
        b[k] = b[k] * t[s] + a[k];
        a[k] = a[k] * t[s] + x[k * kMax + power];
        c[k] = c[k] * t[s] + y[k * kMax + power];
      }
    if constexpr (Rational) {
      const T iw = T(1) / a[3];
      for (int k = 0; k < 3; ++k) {
        a[k] *= iw;
        b[k] = (b[k] - a[k] * b[3]) * iw;
        c[k] = (c[k] - a[k] * c[3]) * iw;
      }
    }
    p0[s] = a[0];
    p1[s] = a[1];
    p2[s] = a[2];
    u0[s] = c[0];
    u1[s] = c[1];
    u2[s] = c[2];
    v0[s] = b[0];
    v1[s] = b[1];
    v2[s] = b[2];
  }
}

template <int Q, typename T>
void grid_rows(const Net& net, const double* us, const double* vs, std::size_t columns,
               std::size_t row_begin, std::size_t row_end, double* scratch, const Planes<T>& out) {
  const int p = net.u.degree;
  const int q = Q > 0 ? Q : net.v.degree;
  for (std::size_t row = row_begin; row < row_end; ++row) {
    const double u = bring_into(net.u, us[row]);
    const int span = span_of(net.u, u);
    double n0[kMax], n1[kMax], n2[kMax];
    basis<0>(net.u, span, u, 1, n0, n1, n2);
    // Combine the rows of the net once: curve of S and curve of its u derivative.
    double* curve = scratch;
    double* slope = scratch + 4 * net.columns;
    const double* first = net.points + 4L * net.u.first_point[span] * net.columns;
    for (int c = 0; c < 4 * net.columns; ++c) {
      curve[c] = n0[0] * first[c];
      slope[c] = n1[0] * first[c];
    }
    for (int i = 1; i <= p; ++i) {
      const double* line = first + 4L * i * net.columns;
      for (int c = 0; c < 4 * net.columns; ++c) {
        curve[c] += n0[i] * line[c];
        slope[c] += n1[i] * line[c];
      }
    }
    std::size_t s = 0;
    while (s < columns) {
      const int sv = span_of(net.v, vs[s]);
      const bool last_span = sv + 1 == net.v.spans;
      std::size_t end = s + 1;
      while (end < columns && (last_span || vs[end] < net.v.breaks[sv + 1])) ++end;
      T x[4 * kMax];
      T y[4 * kMax];
      const double* coefficients = net.v.coefficients + static_cast<long>(sv) * (q + 1) * (q + 1);
      const double* a = curve + 4 * net.v.first_point[sv];
      const double* b = slope + 4 * net.v.first_point[sv];
      for (int power = 0; power <= q; ++power) {
        Lanes ca = spread(0.0);
        Lanes cb = spread(0.0);
        for (int k = 0; k <= q; ++k) {
          const Lanes c = spread(coefficients[power * (q + 1) + k]);
          ca += c * load(a + 4 * k);
          cb += c * load(b + 4 * k);
        }
        for (int k = 0; k < 4; ++k) {
          x[k * kMax + power] = static_cast<T>(ca[k]);
          y[k * kMax + power] = static_cast<T>(cb[k]);
        }
      }
      while (s < end) {
        constexpr std::size_t kRun = 128;
        T t[kRun];
        const std::size_t n = end - s < kRun ? end - s : kRun;
        for (std::size_t k = 0; k < n; ++k) t[k] = static_cast<T>(vs[s + k] - net.v.middles[sv]);
        if (net.rational)
          run_of_samples<Q, true>(q, x, y, t, n, out, row * columns + s);
        else
          run_of_samples<Q, false>(q, x, y, t, n, out, row * columns + s);
        s += n;
      }
    }
  }
}

template <typename T>
void grid(const Net& net, const double* us, const double* vs, std::size_t columns,
          std::size_t row_begin, std::size_t row_end, double* scratch, const Planes<T>& out) {
  if (net.v.degree == 3)
    grid_rows<3>(net, us, vs, columns, row_begin, row_end, scratch, out);
  else if (net.v.degree == 2)
    grid_rows<2>(net, us, vs, columns, row_begin, row_end, scratch, out);
  else if (net.v.degree == 1)
    grid_rows<1>(net, us, vs, columns, row_begin, row_end, scratch, out);
  else
    grid_rows<0>(net, us, vs, columns, row_begin, row_end, scratch, out);
}

// Four vertices of a run, one a lane: coordinates as planes.
struct Lanes3 {
  Lanes x, y, z;
};
inline Lanes3 operator+(const Lanes3& a, const Lanes3& b) {
  return {a.x + b.x, a.y + b.y, a.z + b.z};
}
inline Lanes3 operator-(const Lanes3& a, const Lanes3& b) {
  return {a.x - b.x, a.y - b.y, a.z - b.z};
}
inline Lanes3 operator*(const Lanes3& a, Lanes s) {
  return {a.x * s, a.y * s, a.z * s};
}
inline Lanes3 cross(const Lanes3& a, const Lanes3& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
inline Lanes dot(const Lanes3& a, const Lanes3& b) {
  return a.x * b.x + a.y * b.y + a.z * b.z;
}
inline Lanes root(Lanes a) {
#ifdef __AVX__
  return __builtin_ia32_sqrtpd256(a);
#else
  return Lanes{__builtin_sqrt(a[0]), __builtin_sqrt(a[1]), __builtin_sqrt(a[2]),
               __builtin_sqrt(a[3])};
#endif
}
typedef long long Mask __attribute__((vector_size(32)));
inline Lanes choose(Mask mask, Lanes yes, Lanes no) {
  return reinterpret_cast<Lanes>((mask & reinterpret_cast<Mask>(yes)) |
                                 (~mask & reinterpret_cast<Mask>(no)));
}
// The vertices of four lanes one behind the other.
inline void store(double* out, const Lanes3& a) {
  const Lanes xy = __builtin_shuffle(a.x, a.y, Mask{0, 4, 1, 5});    // x0 y0 x1 y1
  const Lanes xy2 = __builtin_shuffle(a.x, a.y, Mask{2, 6, 3, 7});   // x2 y2 x3 y3
  const Lanes first = __builtin_shuffle(xy, a.z, Mask{0, 1, 4, 2});  // x0 y0 z0 x1
  const Lanes second = __builtin_shuffle(__builtin_shuffle(xy, a.z, Mask{3, 5, 0, 0}), xy2,
                                         Mask{0, 1, 4, 5});           // y1 z1 x2 y2
  const Lanes third = __builtin_shuffle(xy2, a.z, Mask{6, 2, 3, 7});  // z2 x3 y3 z3
  *reinterpret_cast<LanesUnaligned*>(out) = first;
  *reinterpret_cast<LanesUnaligned*>(out + 4) = second;
  *reinterpret_cast<LanesUnaligned*>(out + 8) = third;
}

// Polynomials in v of one knot interval at one u: S, its first and its second derivative by u;
// [which][coordinate][power].
struct RunPolynomials {
  double c[3][4][kMax];
};

template <int P, int Q>
void run_polynomials(const Net& net, int su, int sv, const double* n0, const double* n1,
                     const double* n2, RunPolynomials& out) {
  const int p = P > 0 ? P : net.u.degree;
  const int q = Q > 0 ? Q : net.v.degree;
  Lanes row[3][kMax];
  const double* corner = net.points + 4 * (static_cast<long>(net.u.first_point[su]) * net.columns +
                                           net.v.first_point[sv]);
  for (int j = 0; j <= q; ++j) {
    Lanes a = spread(0.0), b = a, c = a;
    for (int i = 0; i <= p; ++i) {
      const Lanes point = load(corner + 4L * (static_cast<long>(i) * net.columns + j));
      a += point * spread(n0[i]);
      b += point * spread(n1[i]);
      c += point * spread(n2[i]);
    }
    row[0][j] = a;
    row[1][j] = b;
    row[2][j] = c;
  }
  const double* coefficients = net.v.coefficients + static_cast<long>(sv) * (q + 1) * (q + 1);
  for (int power = 0; power <= q; ++power)
    for (int which = 0; which < 3; ++which) {
      Lanes sum = spread(0.0);
      for (int k = 0; k <= q; ++k) sum += spread(coefficients[power * (q + 1) + k]) * row[which][k];
      for (int k = 0; k < 4; ++k) out.c[which][k][power] = sum[k];
    }
}

template <int Q>
inline void horner(const double* c, int degree, Lanes t, Lanes& value, Lanes& first,
                   Lanes& second) {
  const int q = Q > 0 ? Q : degree;
  value = spread(c[q]);
  first = second = spread(0.0);
  for (int power = q - 1; power >= 0; --power) {
    second = second * t + first;
    first = first * t + value;
    value = value * t + spread(c[power]);
  }
  second *= spread(2.0);
}

struct RunDerivatives {
  Lanes3 p, du, dv, duu, duv, dvv;
};

template <int Q>
inline RunDerivatives run_derivatives(const RunPolynomials& poly, int degree, bool rational,
                                      Lanes t) {
  Lanes a[4], av[4], avv[4], au[4], auv[4], auu[4], idle, idle2;
  const int lanes = rational ? 4 : 3;
  for (int k = 0; k < lanes; ++k) {
    horner<Q>(poly.c[0][k], degree, t, a[k], av[k], avv[k]);
    horner<Q>(poly.c[1][k], degree, t, au[k], auv[k], idle);
    horner<Q>(poly.c[2][k], degree, t, auu[k], idle, idle2);
  }
  if (rational) {  // quotient rule, The NURBS Book eq. 4.20
    const Lanes iw = spread(1.0) / a[3];
    for (int k = 0; k < 3; ++k) {
      a[k] *= iw;
      au[k] = (au[k] - a[k] * au[3]) * iw;
      av[k] = (av[k] - a[k] * av[3]) * iw;
      auu[k] = (auu[k] - spread(2.0) * au[k] * au[3] - a[k] * auu[3]) * iw;
      auv[k] = (auv[k] - av[k] * au[3] - au[k] * av[3] - a[k] * auv[3]) * iw;
      avv[k] = (avv[k] - spread(2.0) * av[k] * av[3] - a[k] * avv[3]) * iw;
    }
  }
  return {{a[0], a[1], a[2]},       {au[0], au[1], au[2]},    {av[0], av[1], av[2]},
          {auu[0], auu[1], auu[2]}, {auv[0], auv[1], auv[2]}, {avv[0], avv[1], avv[2]}};
}

// Four values of a plane, the last one again where there are fewer.
inline Lanes take(const double* plane, std::size_t left) {
  if (left >= 4) return load(plane);
  return Lanes{plane[0], plane[left > 1 ? 1 : 0], plane[left > 2 ? 2 : left - 1], plane[left - 1]};
}

template <int Q>
void flow_lanes(const Net& net, const RunPolynomials& poly, const FlowRun& run, std::size_t at,
                std::size_t count, Lanes t, double* points, double* normals, unsigned char* sound) {
  const RunDerivatives s = run_derivatives<Q>(poly, net.v.degree, net.rational, t);
  const Lanes3 raw = cross(s.du, s.dv);
  const Lanes square = dot(raw, raw);
  const double lu = net.u.last - net.u.first;
  const double lv = net.v.last - net.v.first;
  const Lanes both = dot(s.du, s.du) * spread(lu * lu) + dot(s.dv, s.dv) * spread(lv * lv);
  const Lanes inverse = spread(1.0) / root(square);
  const Lanes3 n = raw * inverse;
  // dN = (d raw − N (N · d raw)) / |raw|
  const Lanes3 ru = cross(s.duu, s.dv) + cross(s.du, s.duv);
  const Lanes3 rv = cross(s.duv, s.dv) + cross(s.du, s.dvv);
  const Lanes h = take(run.h + at, count) * spread(run.side);
  const Lanes3 fu = s.du + (ru - n * dot(n, ru)) * (h * inverse);
  const Lanes3 fv = s.dv + (rv - n * dot(n, rv)) * (h * inverse);
  const Lanes3 area = cross(fu, fv);
  // Cofactors of the differential (fu, fv, side n).
  const Lanes3 out =
      (cross(fv, n) * take(run.nu + at, count) + cross(n, fu) * take(run.nv + at, count)) *
          spread(run.side) +
      area * take(run.nh + at, count);
  const Lanes length = root(dot(out, out));
  const Lanes turn = dot(area, n) * spread(run.side);
  const Lanes zero = spread(0.0);
  const Lanes inverse_length = choose(length > zero, spread(1.0) / length, zero);
  const Lanes3 p = s.p + n * h;
  const Lanes3 normal = out * choose(turn < zero, -inverse_length, inverse_length);
  // The test of has_sound_normal(), squared.
  const Mask good = square * spread(lu * lu * lv * lv) > spread(1e-18) * both * both;
  if (count >= 4) {
    store(points, p);
    store(normals, normal);
    for (int k = 0; k < 4; ++k) sound[k] = good[k] != 0;
    return;
  }
  for (std::size_t k = 0; k < count; ++k) {
    sound[k] = good[k] != 0;
    for (std::size_t c = 0; c < 3; ++c) {
      points[3 * k + c] = (c == 0 ? p.x : c == 1 ? p.y : p.z)[k];
      normals[3 * k + c] = (c == 0 ? normal.x : c == 1 ? normal.y : normal.z)[k];
    }
  }
}

template <int P, int Q>
void flow_run(const Net& net, const FlowRun& run, double* points, double* normals,
              unsigned char* sound) {
  const double u = bring_into(net.u, run.u);
  const int su = span_of(net.u, u);
  double n0[kMax], n1[kMax], n2[kMax];
  basis<P>(net.u, su, u, 2, n0, n1, n2);
  RunPolynomials poly;
  std::size_t k = 0;
  while (k < run.count) {
    const int sv = span_of(net.v, bring_into(net.v, run.v[k]));
    run_polynomials<P, Q>(net, su, sv, n0, n1, n2, poly);
    const double middle = net.v.middles[sv];
    const double low = net.v.breaks[sv];
    const double high = net.v.breaks[sv + 1];
    for (; k + 4 <= run.count; k += 4) {  // most: four at once, all inside the interval
      const double* v = run.v + k;
      if (!(v[0] >= low && v[0] < high && v[1] >= low && v[1] < high && v[2] >= low &&
            v[2] < high && v[3] >= low && v[3] < high))
        break;
      flow_lanes<Q>(net, poly, run, k, 4, load(v) - spread(middle), points + 3 * k, normals + 3 * k,
                    sound + k);
    }
    while (k < run.count) {
      Lanes t = spread(0.0);
      std::size_t lanes = 0;
      while (lanes < 4 && k + lanes < run.count) {
        const double v = bring_into(net.v, run.v[k + lanes]);
        if (v < net.v.breaks[sv] || (v >= net.v.breaks[sv + 1] && sv + 1 < net.v.spans)) break;
        t[lanes++] = v - middle;
      }
      if (lanes == 0) break;
      flow_lanes<Q>(net, poly, run, k, lanes, t, points + 3 * k, normals + 3 * k, sound + k);
      k += lanes;
    }
  }
}

void flow(const Net& net, const FlowRun& run, double* points, double* normals,
          unsigned char* sound) {
  if (net.u.degree == 3 && net.v.degree == 3)
    flow_run<3, 3>(net, run, points, normals, sound);
  else if (net.u.degree == 2 && net.v.degree == 2)
    flow_run<2, 2>(net, run, points, normals, sound);
  else if (net.v.degree == 3)
    flow_run<0, 3>(net, run, points, normals, sound);
  else if (net.v.degree == 2)
    flow_run<0, 2>(net, run, points, normals, sound);
  else if (net.v.degree == 1)
    flow_run<0, 1>(net, run, points, normals, sound);
  else
    flow_run<0, 0>(net, run, points, normals, sound);
}

}  // namespace
}  // namespace evenclay::kernels
