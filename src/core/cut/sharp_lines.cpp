#include "core/cut/sharp_lines.h"

#include <algorithm>
#include <cmath>

#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

constexpr double kSharp = 1.7453e-3;  // 0.1°
constexpr double kBeside = 1e-7;      // of the domain

// The normals on both sides of the line, compared at places that lie between knots of the other direction, too.
bool is_sharp(const Surface& s, const SurfaceEvaluator& at, Direction d, double line) {
  const KnotVector& along = knots_of(s, d);
  const KnotVector& across = knots_of(s, d == Direction::U ? Direction::V : Direction::U);
  const double step = kBeside * along.length();
  const bool seam = line == along.first();
  const double before = seam ? along.last() - step : line - step;
  const auto normal_at = [&](double a, double b) {
    const PointTangents t = d == Direction::U ? at.tangents(a, b) : at.tangents(b, a);
    return cross(t.du, t.dv);
  };
  constexpr int kPlaces = 17;
  for (int k = 0; k < kPlaces; ++k) {
    const double b = across.first() + across.length() * (k + 0.37) / kPlaces;
    const Vec3 one = normal_at(before, b), other = normal_at(line + step, b);
    if (std::atan2(length(cross(one, other)), dot(one, other)) > kSharp) return true;
  }
  return false;
}

// A closed direction begins with its seam, when that is sharp.
std::vector<double> sharp_lines(const Surface& s, Direction d) {
  const KnotVector& k = knots_of(s, d);
  const SurfaceEvaluator at(s);
  std::vector<double> lines;
  for (const double t : breakpoints(k)) {
    const bool end = t == k.first() || t == k.last();
    if (end && (!k.periodic || t == k.last())) continue;
    const auto times = std::count(k.knots.begin(), k.knots.end(), t);
    if (times >= k.degree && is_sharp(s, at, d, t)) lines.push_back(t);
  }
  return lines;
}

std::vector<Surface> pieces_along(Surface s, Direction d) {
  std::vector<double> lines = sharp_lines(s, d);
  if (lines.empty()) return {std::move(s)};
  if (knots_of(s, d).periodic) {
    const double length = knots_of(s, d).length();
    s = opened(s, d, lines.front());
    // What lay before the new beginning comes a turn later.
    for (double& t : lines)
      if (t < knots_of(s, d).first()) t += length;
    lines.erase(lines.begin());
  }
  std::vector<Surface> made;
  for (const double t : lines) {
    if (!(t > knots_of(s, d).first() && t < knots_of(s, d).last())) continue;
    auto [low, high] = split(s, d, t);
    made.push_back(std::move(low));
    s = std::move(high);
  }
  made.push_back(std::move(s));
  return made;
}

std::vector<Surface> smooth_pieces(const Surface& s) {
  std::vector<Surface> made;
  for (const Surface& strip : pieces_along(s, Direction::U))
    for (Surface& piece : pieces_along(strip, Direction::V)) made.push_back(std::move(piece));
  return made;
}

}  // namespace

Body split_at_sharp_lines(const Body& body, int step) {
  Body made = body;
  for (std::size_t f = 0; f < body.faces.size(); ++f) {
    const Face& face = body.faces[f];
    if (!face.loops.empty()) continue;
    std::vector<Surface> pieces = smooth_pieces(*face.surface);
    if (pieces.size() == 1) continue;
    for (std::size_t k = 0; k < pieces.size(); ++k) {
      Face piece = face;
      piece.surface = std::make_shared<const Surface>(std::move(pieces[k]));
      if (k == 0) {
        made.faces[f] = std::move(piece);
        continue;
      }
      piece.tag = make_tag(step, face.tag, k);
      made.faces.push_back(std::move(piece));
    }
  }
  return made;
}

}  // namespace evenclay
