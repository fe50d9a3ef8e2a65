#include "core/kernel/lowered.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/knot_vector.h"

namespace evenclay::kernel {

namespace {

constexpr int kDegree = 5;
constexpr double kWithin = 1e-7;  // of the size
constexpr std::size_t kMostPoints = 200'000;

struct Knot {
  double at = 0.0;
  int times = 0;
};

// One direction of the kernel's surface: its degree and its knots.
struct Way {
  int degree = 0;
  std::vector<Knot> knots;
};

KnotVector knots_of(const Way& way, int degree) {
  KnotVector k;
  k.degree = degree;
  for (std::size_t i = 0; i < way.knots.size(); ++i) {
    const bool end = i == 0 || i + 1 == way.knots.size();
    // As often derivable as before, but not more often than the degree allows.
    const int smooth = way.degree - way.knots[i].times;
    const int times = end ? degree + 1 : std::clamp(degree - smooth, 1, degree);
    k.knots.insert(k.knots.end(), static_cast<std::size_t>(times), way.knots[i].at);
  }
  return k;
}

double size_of(const Handle(Geom_BSplineSurface) & s) {
  Box3 box;
  for (int i = 1; i <= s->NbUPoles(); ++i)
    for (int j = 1; j <= s->NbVPoles(); ++j) {
      const gp_Pnt p = s->Pole(i, j);
      box.add(Vec3{p.X(), p.Y(), p.Z()});
    }
  return box.size();
}

}  // namespace

Surface lowered(const Handle(Geom_BSplineSurface) & s, Progress& progress) {
  Way u{s->UDegree(), {}}, v{s->VDegree(), {}};
  for (int i = 1; i <= s->NbUKnots(); ++i) u.knots.push_back({s->UKnot(i), s->UMultiplicity(i)});
  for (int i = 1; i <= s->NbVKnots(); ++i) v.knots.push_back({s->VKnot(i), s->VMultiplicity(i)});
  const bool rational = s->IsURational() || s->IsVRational();
  const bool u_anew = rational || u.degree > kMaxDegree;
  const bool v_anew = rational || v.degree > kMaxDegree;
  KnotVector ku = knots_of(u, u_anew ? kDegree : u.degree);
  KnotVector kv = knots_of(v, v_anew ? kDegree : v.degree);
  const auto place = [&](double a, double b) {
    const gp_Pnt p = s->Value(a, b);
    return Vec3{p.X(), p.Y(), p.Z()};
  };
  const double within = kWithin * size_of(s);
  const Surface like{ku, kv, {}, {}};  // its spans are sampled
  while (static_cast<std::size_t>(ku.point_count()) * static_cast<std::size_t>(kv.point_count()) <=
         kMostPoints) {
    Surface made = fitted_surface(place, ku, kv, like, progress);
    if (greatest_miss(made, place) <= within) return made;
    if (u_anew) ku = refined_cubic(ku, 1);
    if (v_anew) kv = refined_cubic(kv, 1);
  }
  throw Error(
      say("A surface has degree {} × {}, and no lower one comes near enough. Take "
          "smaller faces.",
          u.degree, v.degree));
}

}  // namespace evenclay::kernel
