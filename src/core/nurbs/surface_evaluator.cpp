#include "core/nurbs/surface_evaluator.h"

#include <algorithm>

#include "core/base/parallel.h"

namespace evenclay {

namespace {
std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}
}  // namespace

static_assert(sizeof(Parameter) == 2 * sizeof(double));
static_assert(sizeof(Vec3) == 3 * sizeof(double));
static_assert(sizeof(PointTangents) == 9 * sizeof(double));
static_assert(sizeof(PointSecond) == 18 * sizeof(double));

SurfaceEvaluator::DirectionData SurfaceEvaluator::prepare(const KnotVector& knots) {
  DirectionData d;
  d.flat = flatten(knots);
  const FlatKnots& f = d.flat;
  const int p = f.degree;
  for (int k = p; k < f.functions(); ++k) {
    if (!(f.t[at(k + 1)] > f.t[at(k)])) continue;
    d.breaks.push_back(f.t[at(k)]);
    d.first_point.push_back(k - p);
    // Taylor coefficients of the basis at the middle of the span, where rounding hurts least, by de Boor's recursion on
    // polynomials: N(i, p) = (u - t_i) / (..) N(i, p-1) + (t_(i+p+1) - u) / (..) N(i+1, p-1).
    std::vector<std::vector<double>> basis(at(p + 1), std::vector<double>(at(p + 1), 0.0));
    basis[at(p)][0] = 1.0;  // function k - p + b is held in basis[b]
    const double origin = 0.5 * (f.t[at(k)] + f.t[at(k + 1)]);
    d.middles.push_back(origin);
    for (int degree = 1; degree <= p; ++degree) {
      for (int b = p - degree; b <= p; ++b) {
        const int i = k - p + b;
        std::vector<double> sum(at(p + 1), 0.0);
        const double left = f.t[at(i + degree)] - f.t[at(i)];
        if (left > 0.0 && i + degree <= k + degree && b > p - degree)
          for (int c = 0; c < degree; ++c) {
            sum[at(c)] += basis[at(b)][at(c)] * (origin - f.t[at(i)]) / left;
            sum[at(c + 1)] += basis[at(b)][at(c)] / left;
          }
        if (b < p) {
          const double right = f.t[at(i + degree + 1)] - f.t[at(i + 1)];
          if (right > 0.0)
            for (int c = 0; c < degree; ++c) {
              sum[at(c)] += basis[at(b + 1)][at(c)] * (f.t[at(i + degree + 1)] - origin) / right;
              sum[at(c + 1)] -= basis[at(b + 1)][at(c)] / right;
            }
        }
        basis[at(b)] = sum;
      }
    }
    for (int power = 0; power <= p; ++power)
      for (int b = 0; b <= p; ++b) d.coefficients.push_back(basis[at(b)][at(power)]);
  }
  d.breaks.push_back(knots.last());
  const int spans = static_cast<int>(d.first_point.size());
  const int buckets = 4 * spans;
  int s = 0;
  for (int b = 0; b < buckets; ++b) {
    const double start = knots.first() + knots.length() * b / buckets;
    while (s + 1 < spans && d.breaks[at(s + 1)] <= start) ++s;
    d.buckets.push_back(s);
  }
  return d;
}

kernels::Direction SurfaceEvaluator::DirectionData::view(const KnotVector& knots) const {
  const int count = static_cast<int>(buckets.size());
  return {knots.degree,
          static_cast<int>(first_point.size()),
          knots.periodic,
          knots.first(),
          knots.last(),
          breaks.data(),
          middles.data(),
          first_point.data(),
          coefficients.data(),
          buckets.data(),
          count,
          count / knots.length()};
}

SurfaceEvaluator::SurfaceEvaluator(const Surface& s, const kernels::Table& table)
    : u_(s.u),
      v_(s.v),
      u_data_(prepare(s.u)),
      v_data_(prepare(s.v)),
      rational_(s.rational()),
      table_(&table) {
  const int rows = u_data_.flat.functions();
  const int columns = v_data_.flat.functions();
  points_.resize(at(rows) * at(columns) * 4);
  double* out = points_.data();
  for (int f = 0; f < rows; ++f)
    for (int g = 0; g < columns; ++g, out += 4) {
      const int i = u_data_.flat.point(f);
      const int j = v_data_.flat.point(g);
      const double w = s.weight(i, j);
      out[0] = s.points(i, j).x * w;
      out[1] = s.points(i, j).y * w;
      out[2] = s.points(i, j).z * w;
      out[3] = w;
    }
  net_ = make_net();
}

kernels::Net SurfaceEvaluator::make_net() const {
  return {u_data_.view(u_), v_data_.view(v_), points_.data(), v_data_.flat.functions(), rational_};
}

void SurfaceEvaluator::points(std::span<const Parameter> where, std::span<Vec3> out) const {
  if (!where.empty()) table_->scattered(net_, &where[0].u, where.size(), 0, &out[0].x);
}
void SurfaceEvaluator::tangents(std::span<const Parameter> where,
                                std::span<PointTangents> out) const {
  if (!where.empty()) table_->scattered(net_, &where[0].u, where.size(), 1, &out[0].p.x);
}
void SurfaceEvaluator::flow(const kernels::FlowRun& run, std::span<Vec3> points,
                            std::span<Vec3> normals, std::span<unsigned char> sound) const {
  if (run.count != 0) table_->flow(net_, run, &points[0].x, &normals[0].x, sound.data());
}
void SurfaceEvaluator::seconds(std::span<const Parameter> where, std::span<PointSecond> out) const {
  if (!where.empty()) table_->scattered(net_, &where[0].u, where.size(), 2, &out[0].p.x);
}

Vec3 SurfaceEvaluator::point(double u, double v) const {
  const Parameter where{u, v};
  Vec3 out;
  points({&where, 1}, {&out, 1});
  return out;
}
PointTangents SurfaceEvaluator::tangents(double u, double v) const {
  const Parameter where{u, v};
  PointTangents out;
  tangents({&where, 1}, {&out, 1});
  return out;
}
PointSecond SurfaceEvaluator::seconds(double u, double v) const {
  const Parameter where{u, v};
  PointSecond out;
  seconds({&where, 1}, {&out, 1});
  return out;
}

template <typename T>
void SurfaceEvaluator::grid_of(std::span<const double> us, std::span<const double> vs,
                               GridSamples<T>& out, Progress& progress,
                               kernels::GridFn<T> fn) const {
  out.rows = us.size();
  out.columns = vs.size();
  kernels::Planes<T> planes{};
  for (std::size_t c = 0; c < 3; ++c) {
    out.p[c].resize(us.size() * vs.size());
    out.du[c].resize(us.size() * vs.size());
    out.dv[c].resize(us.size() * vs.size());
    planes.p[c] = out.p[c].data();
    planes.du[c] = out.du[c].data();
    planes.dv[c] = out.dv[c].data();
  }
  const std::size_t block = std::max<std::size_t>(1, 8192 / std::max<std::size_t>(1, vs.size()));
  parallel_blocks(us.size(), block, progress, [&](std::size_t begin, std::size_t end) {
    std::vector<double> scratch(kernels::grid_scratch(net_));
    fn(net_, us.data(), vs.data(), vs.size(), begin, end, scratch.data(), planes);
  });
}

void SurfaceEvaluator::grid(std::span<const double> us, std::span<const double> vs,
                            GridSamples<double>& out, Progress& progress) const {
  grid_of(us, vs, out, progress, table_->grid);
}
void SurfaceEvaluator::grid(std::span<const double> us, std::span<const double> vs,
                            GridSamples<float>& out, Progress& progress) const {
  grid_of(us, vs, out, progress, table_->grid_float);
}

bool has_sound_normal(const Vec3& du, const Vec3& dv, double domain_u, double domain_v) {
  const double u = length(du) * domain_u;
  const double v = length(dv) * domain_v;
  return length(cross(du, dv)) * domain_u * domain_v > 1e-9 * (u * u + v * v);
}

}  // namespace evenclay
