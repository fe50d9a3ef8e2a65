#include "core/grid/lighten.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <map>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/grid/counts.h"
#include "core/grid/even_out.h"
#include "core/grid/parametric_gap.h"
#include "core/grid/set_degree.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

struct Counts {
  int u, v;
};

// What neither the direction nor the options let a count go below.
int least_count(const LightenOptions& o, Direction d, int degree, bool periodic) {
  return std::max(fewest_points(degree, periodic), d == Direction::U ? o.least_u : o.least_v);
}

[[noreturn]] void cannot(const LightenOptions& o) {
  throw Error(
      say("The shape cannot be kept within {:g} mm with at most {} control points in a "
          "direction. Allow a greater tolerance, uneven spacing, or another degree.",
          o.tolerance, o.most));
}

// Refits of `s` on even knots, measured against `shape`; they differ where the spacing was evened out
// first, by a tenth of the tolerance at most.
class EvenSearch {
 public:
  EvenSearch(const Surface& s, const Surface& shape, const LightenOptions& o, Progress& progress)
      : s_(s),
        shape_(shape),
        o_(o),
        progress_(progress),
        gap_(s),
        surely_off_((&s == &shape ? 1.0 : 1.1) * o.tolerance) {}

  // From the fewest points on; of pairs with as many points the most alike counts first.
  Lightened fewest() {
    const int least_u = least_count(o_, Direction::U, o_.degree_u, s_.u.periodic);
    const int least_v = least_count(o_, Direction::V, o_.degree_v, s_.v.periodic);
    const int most_u = std::max(o_.most, least_u);
    const int most_v = std::max(o_.most, least_v);
    check_possible(most_u, most_v);
    for (int points = least_u * least_v; points <= most_u * most_v; ++points)
      for (const Counts n : pairs(points, {least_u, least_v}, {most_u, most_v}))
        if (auto found = tried(n)) return std::move(*found);
    cannot(o_);
  }

 private:
  // Where the most points do not do it, nor a few less, nothing is worth a long search.
  void check_possible(int most_u, int most_v) {
    for (int less = 0; less < 3; ++less) {
      if (most_u - less < 2 || most_v - less < 2) return;
      if (hopeless(Direction::U, most_u - less) || hopeless(Direction::V, most_v - less)) continue;
      Progress quiet;
      const Surface finest = refit(s_, knots(Direction::U, most_u - less),
                                   knots(Direction::V, most_v - less), {}, quiet);
      if (!gap_.exceeds(finest, surely_off_)) return;
    }
    cannot(o_);
  }

  static std::vector<Counts> pairs(int points, Counts least, Counts most) {
    std::vector<Counts> result;
    for (int u = least.u; u <= most.u && u * least.v <= points; ++u)
      if (points % u == 0 && points / u <= most.v) result.push_back({u, points / u});
    std::sort(result.begin(), result.end(), [](const Counts& a, const Counts& b) {
      return std::abs(a.u - a.v) < std::abs(b.u - b.v);
    });
    return result;
  }

  std::optional<Lightened> tried(Counts n) {
    if (hopeless(Direction::U, n.u) || hopeless(Direction::V, n.v)) return std::nullopt;
    progress_.check();
    Progress quiet;
    Lightened result{refit(s_, knots(Direction::U, n.u), knots(Direction::V, n.v), {}, quiet), {}};
    if (gap_.exceeds(result.surface, surely_off_)) return std::nullopt;
    // A few samples show no more than all of them do, but for feet on facets that a preview misses.
    constexpr int kFew = 3;
    const double sure = std::min(o_.degree_u, o_.degree_v) == 1 ? 1.5 : 1.1;
    if (deviation(shape_, result.surface, quiet, kFew).max > sure * o_.tolerance)
      return std::nullopt;
    result.deviation = deviation(shape_, result.surface, progress_);
    if (result.deviation.max > o_.tolerance) return std::nullopt;
    return result;
  }

  KnotVector knots(Direction d, int n) const {
    return d == Direction::U ? uniform_knots(n, o_.degree_u, s_.u.periodic)
                             : uniform_knots(n, o_.degree_v, s_.v.periodic);
  }

  // Whether so few points in one direction stray too far already with the other one left as it is.
  bool hopeless(Direction d, int n) {
    const auto key = std::pair{d, n};
    if (const auto found = hopeless_.find(key); found != hopeless_.end()) return found->second;
    progress_.check();
    Progress quiet;
    const bool u = d == Direction::U;
    const Surface r = refit(s_, u ? knots(d, n) : s_.u, u ? s_.v : knots(d, n),
                            {.keep_weights = s_.rational()}, quiet);
    return hopeless_[key] = gap_.to(r) > kTooFar * o_.tolerance;
  }

  static constexpr double kTooFar = 2.0;
  const Surface& s_;
  const Surface& shape_;
  const LightenOptions& o_;
  Progress& progress_;
  ParametricGap gap_;
  double surely_off_;
  std::map<std::pair<Direction, int>, bool> hopeless_;
};

Lightened lighten_even(const Surface& s, const Surface& shape, const LightenOptions& o,
                       Progress& progress) {
  return EvenSearch(s, shape, o, progress).fewest();
}

// --- uneven knots: taking grid lines away -----------------------------------------------------------

struct Line {
  Direction direction;
  double at;
  double harm;  // mm, quick judgement of removing this one alone
};

std::vector<Line> lines_by_harm(const Surface& original, const Surface& s, const LightenOptions& o,
                                Progress& progress) {
  std::vector<Line> lines;
  const ParametricGap gap(original);
  for (const Direction d : {Direction::U, Direction::V}) {
    const KnotVector& k = knots_of(s, d);
    const int least = least_count(o, d, k.degree, k.periodic);
    if (k.point_count() <= least) continue;
    const std::vector<double> breaks = breakpoints(k);
    for (std::size_t b = 1; b + 1 < breaks.size(); ++b) {
      progress.check();
      lines.push_back({d, breaks[b], gap.to(remove_knot(s, d, breaks[b]))});
    }
  }
  std::sort(lines.begin(), lines.end(),
            [](const Line& a, const Line& b) { return a.harm < b.harm; });
  return lines;
}

// Removes the first `count` lines and refits on what is left; nothing when counts fall too low.
std::optional<Surface> without(const Surface& original, const Surface& s,
                               std::span<const Line> lines, const LightenOptions& o,
                               Progress& progress) {
  KnotVector u = s.u;
  KnotVector v = s.v;
  for (const Line& line : lines) {
    KnotVector& k = line.direction == Direction::U ? u : v;
    const int least = least_count(o, line.direction, k.degree, k.periodic);
    if (k.point_count() <= least) continue;
    k.knots.erase(std::find(k.knots.begin(), k.knots.end(), line.at));
  }
  if (u == s.u && v == s.v) return std::nullopt;
  return refit(original, u, v, {}, progress);
}

// As few lines as the quick judgement allows within `quick` mm.
Surface thinned(const Surface& s, Surface best, const LightenOptions& o, double quick,
                Progress& progress) {
  const ParametricGap gap(s);
  for (bool fewer = true; fewer;) {
    fewer = false;
    const std::vector<Line> lines = lines_by_harm(s, best, o, progress);
    // As many of the least harmful at once as the tolerance allows, found by halving.
    for (std::size_t take = lines.size(); take > 0; take = take > 1 ? take / 2 : 0) {
      const auto trial = without(s, best, std::span(lines).first(take), o, progress);
      if (!trial || gap.to(*trial) > quick) continue;
      best = *trial;
      fewer = true;
      break;
    }
  }
  return best;
}

Lightened lighten_uneven(const Surface& s, const LightenOptions& o, Progress& progress) {
  const Surface in_degree = set_degree(s, o.degree_u, o.degree_v, progress);
  Lightened result{refit(s, in_degree.u, in_degree.v, {}, progress), {}};
  const Surface start = result.surface;
  double quick = o.tolerance;
  for (int tries = 0; tries < 5; ++tries) {
    result.surface = thinned(s, start, o, quick, progress);
    result.deviation = deviation(s, result.surface, progress);
    if (result.deviation.max <= o.tolerance) return result;
    quick *= std::min(0.97, 0.99 * o.tolerance / result.deviation.max);
  }
  cannot(o);
}

void check_options(const LightenOptions& o) {
  if (!(o.tolerance > 0.0) || !std::isfinite(o.tolerance))
    throw Error(say("Lighten needs a tolerance greater than 0 mm."));
  for (const int degree : {o.degree_u, o.degree_v})
    if (degree < 1 || degree > kMaxDegree)
      throw Error(say("Degree {} cannot be used; choose 1 to {}.", degree, kMaxDegree));
}

long points(const Surface& s) {
  return static_cast<long>(s.points.rows()) * s.points.columns();
}

}  // namespace

Lightened lighten(const Surface& s, const LightenOptions& o, Progress& progress) {
  check_options(o);
  if (o.spacing_even) {
    const EvenedOut even =
        even_out(s, {.tolerance = 0.1 * o.tolerance, .add_points = true}, progress);
    return lighten_even(even.surface, s, o, progress);
  }
  if (!o.uneven_knots) return lighten_even(s, s, o, progress);
  std::optional<Lightened> even;
  try {
    even = lighten_even(s, s, o, progress);
  } catch (const Error&) {
    // Even knots cannot do it at all.
  }
  try {
    Lightened uneven = lighten_uneven(s, o, progress);
    if (!even || points(uneven.surface) < points(even->surface)) return uneven;
  } catch (const Error&) {
    if (!even) throw;
  }
  return *even;
}

// --- common borders ------------------------------------------------------------------------------

namespace {

struct BorderPlaces {
  std::size_t surface;
  int along;  // 0: u runs along it, 1: v
  std::array<Vec3, 9> places;
};

std::vector<BorderPlaces> borders_of(std::span<const Surface> surfaces, double tolerance) {
  std::vector<BorderPlaces> result;
  for (std::size_t k = 0; k < surfaces.size(); ++k)
    for (const Border e : kBorders) {
      const Surface& s = surfaces[k];
      const bool of_u = e == Border::UMin || e == Border::UMax;
      if ((of_u ? s.u : s.v).periodic || is_pole(s, e, tolerance)) continue;
      const KnotVector& across = of_u ? s.u : s.v;
      const KnotVector& along = of_u ? s.v : s.u;
      const double end = e == Border::UMin || e == Border::VMin ? across.first() : across.last();
      BorderPlaces b{k, of_u ? 1 : 0, {}};
      for (std::size_t i = 0; i < b.places.size(); ++i) {
        const double w =
            along.first() + along.length() * static_cast<double>(i) / (b.places.size() - 1);
        b.places[i] = of_u ? evaluate(s, end, w) : evaluate(s, w, end);
      }
      result.push_back(b);
    }
  return result;
}

bool common(const BorderPlaces& a, const BorderPlaces& b, double tolerance) {
  bool same = true;
  bool turned = true;
  for (std::size_t i = 0; i < a.places.size(); ++i) {
    same = same && distance(a.places[i], b.places[i]) <= tolerance;
    turned = turned && distance(a.places[i], b.places[b.places.size() - 1 - i]) <= tolerance;
  }
  return same || turned;
}

}  // namespace

std::vector<std::array<int, 2>> linked_directions(std::span<const Surface> surfaces,
                                                  double tolerance) {
  std::vector<std::array<int, 2>> group;
  for (std::size_t k = 0; k < surfaces.size(); ++k)
    group.push_back({static_cast<int>(2 * k), static_cast<int>(2 * k + 1)});
  const std::vector<BorderPlaces> borders = borders_of(surfaces, tolerance);
  for (std::size_t a = 0; a < borders.size(); ++a)
    for (std::size_t b = a + 1; b < borders.size(); ++b) {
      if (!common(borders[a], borders[b], tolerance)) continue;
      const int keep = group[borders[a].surface][static_cast<std::size_t>(borders[a].along)];
      const int gone = group[borders[b].surface][static_cast<std::size_t>(borders[b].along)];
      for (auto& g : group)
        for (int& x : g)
          if (x == gone) x = keep;
    }
  return group;
}

std::vector<Lightened> lighten_together(std::span<const Surface> surfaces, const LightenOptions& o,
                                        double join_tolerance, Progress& progress) {
  const auto group = linked_directions(surfaces, join_tolerance);
  std::map<int, int> count;  // of each group: what its neediest member takes
  std::vector<std::optional<Lightened>> result(surfaces.size());
  for (bool settled = false; !settled;) {
    settled = true;
    for (std::size_t k = 0; k < surfaces.size(); ++k) {
      LightenOptions own = o;
      own.uneven_knots = o.uneven_knots && surfaces.size() == 1;
      own.least_u = std::max(o.least_u, count[group[k][0]]);
      own.least_v = std::max(o.least_v, count[group[k][1]]);
      const bool right =
          result[k] &&
          (count[group[k][0]] == 0 || result[k]->surface.points.rows() == count[group[k][0]]) &&
          (count[group[k][1]] == 0 || result[k]->surface.points.columns() == count[group[k][1]]);
      if (right) continue;
      result[k] = lighten(surfaces[k], own, progress);
      count[group[k][0]] = std::max(count[group[k][0]], result[k]->surface.points.rows());
      count[group[k][1]] = std::max(count[group[k][1]], result[k]->surface.points.columns());
      settled = false;
    }
  }
  std::vector<Lightened> out;
  for (auto& r : result) out.push_back(std::move(*r));
  return out;
}

}  // namespace evenclay
