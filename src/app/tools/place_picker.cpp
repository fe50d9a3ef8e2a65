#include "app/tools/place_picker.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/operations/offers.h"

namespace evenclay {

namespace {

const TakesPlace* taker(const Step* step) {
  return step != nullptr ? offer_of<TakesPlace>(*step->operation) : nullptr;
}

const Body* body_in(const ShapePtr& shape) {
  return shape ? std::get_if<Body>(shape.get()) : nullptr;
}

// The face below the step that a face of its result is, or is a piece of.
std::size_t face_below(const Face& shown, const Body& below, StepId step) {
  for (std::size_t f = 0; f < below.faces.size(); ++f)
    if (below.faces[f].tag == shown.tag) return f;
  for (std::size_t f = 0; f < below.faces.size(); ++f)
    for (std::uint64_t piece = 1; piece <= 8; ++piece)
      if (make_tag(step, below.faces[f].tag, piece) == shown.tag) return f;
  return 0;
}

// The curve of the shape below that comes nearest to a place, and the share of its parameters there.
struct OnCurves {
  std::size_t number = 0;
  double share = 0.0;
  Vec3 at;
};
std::optional<OnCurves> on_curves(const ShapePtr& shown, const ShapePtr& below,
                                  const SurfacePlace& place) {
  const auto* seen = shown ? std::get_if<CurveSet>(shown.get()) : nullptr;
  const auto* under = below ? std::get_if<CurveSet>(below.get()) : nullptr;
  const auto number = static_cast<std::size_t>(place.surface);
  if (seen == nullptr || under == nullptr || number >= seen->curves.size()) return std::nullopt;
  const Curve& c = seen->curves[number];
  const Vec3 p = evaluate(c, c.knots.first() + place.u * c.knots.length());
  std::optional<OnCurves> best;
  double nearest = std::numeric_limits<double>::infinity();
  for (std::size_t k = 0; k < under->curves.size(); ++k) {
    const CurvePlace found = closest_place(CurveEvaluator(under->curves[k]), p);
    if (found.distance >= nearest) continue;
    nearest = found.distance;
    const KnotVector& knots = under->curves[k].knots;
    best = OnCurves{k, (found.t - knots.first()) / knots.length(), found.p};
  }
  return best;
}

double share_in(const KnotVector& k, double value) {
  return std::clamp((into_domain(k, value) - k.first()) / k.length(), 0.0, 1.0);
}

}  // namespace

bool PlacePicker::active() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return step != nullptr && step->enabled && (model_.trial() || !model_.chosen_is_last()) &&
         taker(step) != nullptr;
}

bool PlacePicker::moves_with_hand() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return taker(step) != nullptr && !taker(step)->adds_places();
}

bool PlacePicker::pick(const SurfacePlace& place) {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto answer = model_.answer();
  if (step == nullptr || !answer || answer->shown_step != step->id) return false;
  if (const auto on = on_curves(answer->shown, answer->before, place))
    return model_.attempt([&] {
      model_.change_operation(
          step->id,
          taker(step)->with_place({PickKind::Face, 0, on->at}, static_cast<int>(on->number) + 1,
                                  std::round(on->share * 1e6) / 1e6, 0.0),
          QObject::tr("Place"), QString("%1.place").arg(step->id));
    });
  const Body* shown = body_in(answer->shown);
  const Body* below = body_in(answer->before);
  if (shown == nullptr || below == nullptr || below->faces.empty()) return false;
  const auto number = static_cast<std::size_t>(place.surface);
  if (number >= shown->faces.size()) return false;
  const Surface& s = *shown->faces[number].surface;
  const std::size_t from = face_below(shown->faces[number], *below, step->id);
  const Surface& b = *below->faces[from].surface;
  // To a millionth of the domain: more digits only make the field hard to read.
  const auto rounded = [](double share) { return std::round(share * 1e6) / 1e6; };
  const double u = rounded(share_in(b.u, s.u.first() + place.u * s.u.length()));
  const double v = rounded(share_in(b.v, s.v.first() + place.v * s.v.length()));
  return model_.attempt([&] {
    const Pick face{PickKind::Face, below->faces[from].tag,
                    evaluate(b, b.u.first() + u * b.u.length(), b.v.first() + v * b.v.length())};
    model_.change_operation(step->id,
                            taker(step)->with_place(face, static_cast<int>(from) + 1, u, v),
                            QObject::tr("Place"), QString("%1.place").arg(step->id));
  });
}

PlacePicker::Lines PlacePicker::lines_at(const SurfacePlace& place) const {
  Lines lines;
  const auto answer = model_.answer();
  const Body* shown = answer ? body_in(answer->shown) : nullptr;
  if (shown == nullptr || static_cast<std::size_t>(place.surface) >= shown->faces.size())
    return lines;
  const Surface& s = *shown->faces[static_cast<std::size_t>(place.surface)].surface;
  constexpr int kPieces = 48;
  for (int k = 0; k <= kPieces; ++k) {
    const double share = static_cast<double>(k) / kPieces;
    const auto at = [&](double u, double v) {
      return evaluate(s, s.u.first() + u * s.u.length(), s.v.first() + v * s.v.length());
    };
    lines.of_u.push_back(at(place.u, share));
    lines.of_v.push_back(at(share, place.v));
  }
  return lines;
}

}  // namespace evenclay
