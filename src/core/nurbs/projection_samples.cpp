#include "core/nurbs/projection_samples.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <limits>

namespace evenclay {

namespace {

// Half the way to the farthest of the samples across the corners, and a little for what bulges.
std::vector<float> reaches(const std::vector<Vec3>& points, int rows_u, int rows_v) {
  std::vector<float> result(points.size());
  const auto index = [&](int i, int j) { return static_cast<std::size_t>(i * rows_v + j); };
  for (int i = 0; i < rows_u; ++i)
    for (int j = 0; j < rows_v; ++j) {
      double far = 0.0;
      for (const int a : {-1, 1})
        for (const int b : {-1, 1})
          if (i + a >= 0 && i + a < rows_u && j + b >= 0 && j + b < rows_v)
            far = std::max(far, length_squared(points[index(i + a, j + b)] - points[index(i, j)]));
      result[index(i, j)] = static_cast<float>(0.6 * std::sqrt(far));
    }
  return result;
}

}  // namespace

void SurfaceSamples::keep_only(const std::function<bool(Parameter)>& keep) {
  std::size_t kept = 0;
  for (std::size_t k = 0; k < at.size(); ++k) {
    if (!keep(at[k])) continue;
    points[kept] = points[k];
    row[kept] = row[k];
    reach[kept] = reach[k];
    at[kept++] = at[k];
  }
  if (kept == 0) return;
  points.resize(kept);
  at.resize(kept);
  row.resize(kept);
  reach.resize(kept);
}

SurfaceSamples sampled(const SurfaceEvaluator& evaluator, const std::vector<double>& us,
                       const std::vector<double>& vs) {
  SurfaceSamples result;
  result.rows_u = static_cast<int>(us.size());
  result.rows_v = static_cast<int>(vs.size());
  for (int i = 0; i < result.rows_u; ++i)
    for (int j = 0; j < result.rows_v; ++j) {
      result.at.push_back({us[static_cast<std::size_t>(i)], vs[static_cast<std::size_t>(j)]});
      result.row.push_back({i, j});
    }
  result.points.resize(result.at.size());
  evaluator.points(result.at, result.points);
  result.reach = reaches(result.points, result.rows_u, result.rows_v);
  return result;
}

// With the rows it shares with its neighbours, and a little for what bulges between the samples.
Box3 SampleClearance::box_of(const SurfaceSamples& s, int i, int j, bool round_u,
                             bool round_v) const {
  Box3 box;
  double reach = 0.0;
  for (int a = i * step_u_; a <= (i + 1) * step_u_; ++a)
    for (int b = j * step_v_; b <= (j + 1) * step_v_; ++b) {
      const int u = a < s.rows_u ? a : (round_u ? a - s.rows_u : s.rows_u - 1);
      const int v = b < s.rows_v ? b : (round_v ? b - s.rows_v : s.rows_v - 1);
      const auto k = static_cast<std::size_t>(u * s.rows_v + v);
      box.add(s.points[k]);
      reach = std::max(reach, static_cast<double>(s.reach[k]));
    }
  const Vec3 more{0.25 * reach, 0.25 * reach, 0.25 * reach};
  box.min -= more;
  box.max += more;
  return box;
}

SampleClearance::SampleClearance(const SurfaceSamples& samples, bool round_u, bool round_v) {
  constexpr int kMostBlocks = 30;  // a direction
  step_u_ = std::max(6, (samples.rows_u + kMostBlocks - 1) / kMostBlocks);
  step_v_ = std::max(6, (samples.rows_v + kMostBlocks - 1) / kMostBlocks);
  const int nu = (samples.rows_u + step_u_ - 1) / step_u_;
  const int nv = (samples.rows_v + step_v_ - 1) / step_v_;
  columns_ = nv;
  std::vector<Box3> boxes;
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j) boxes.push_back(box_of(samples, i, j, round_u, round_v));
  const auto beside = [](int a, int b, int n, bool round) {
    const int apart = std::abs(a - b);
    return apart <= 1 || (round && n - apart <= 1);
  };
  clear_.assign(boxes.size(), std::numeric_limits<double>::infinity());
  for (std::size_t a = 0; a < boxes.size(); ++a)
    for (std::size_t b = a + 1; b < boxes.size(); ++b) {
      const int ia = static_cast<int>(a) / nv, ja = static_cast<int>(a) % nv;
      const int ib = static_cast<int>(b) / nv, jb = static_cast<int>(b) % nv;
      if (beside(ia, ib, nu, round_u) && beside(ja, jb, nv, round_v)) continue;
      const double d = boxes[a].squared_gap(boxes[b]);
      clear_[a] = std::min(clear_[a], d);
      clear_[b] = std::min(clear_[b], d);
    }
  for (double& c : clear_) c = std::sqrt(c);
}

}  // namespace evenclay
