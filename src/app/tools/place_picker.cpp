#include "app/tools/place_picker.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/operations/directions.h"

namespace evenclay {

namespace {

class Names : public ParameterVisitor {
 public:
  std::set<std::string, std::less<>> all;
  void number(const ParameterInfo& i, double&, const NumberRange&) override { add(i); }
  void count(const ParameterInfo& i, int&, const CountRange&) override { add(i); }
  void toggle(const ParameterInfo& i, bool&) override { add(i); }
  void choice(const ParameterInfo& i, int&, std::span<const Choice>) override { add(i); }
  void part(const ParameterInfo& i, PartId&) override { add(i); }
  void data(const ParameterInfo& i, DataParameter&) override { add(i); }

 private:
  void add(const ParameterInfo& i) { all.emplace(i.name); }
};

bool has_place(const Step& step) {
  Names names;
  step.operation->clone()->describe(names);
  return names.all.contains("place_u") && names.all.contains("place_v");
}

const SurfaceSet* surfaces(const ShapePtr& shape) {
  return shape ? std::get_if<SurfaceSet>(shape.get()) : nullptr;
}

// Which surface below the step a surface of its result comes from: a split one becomes two.
std::size_t number_below(const Step& step, std::size_t shown, std::size_t below_count) {
  const auto* split = dynamic_cast<const SplitSurfaceOperation*>(step.operation.get());
  const bool later = split != nullptr && shown >= static_cast<std::size_t>(split->surface);
  return std::min(later ? shown - 1 : shown, below_count - 1);
}

double share_in(const KnotVector& k, double value) {
  return std::clamp((into_domain(k, value) - k.first()) / k.length(), 0.0, 1.0);
}

}  // namespace

bool PlacePicker::active() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return step != nullptr && step->enabled && (model_.trial() || !model_.chosen_is_last()) &&
         has_place(*step);
}

bool PlacePicker::pick(const SurfacePlace& place) {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto answer = model_.answer();
  if (step == nullptr || !answer || answer->shown_step != step->id) return false;
  const SurfaceSet* shown = surfaces(answer->shown);
  const SurfaceSet* below = surfaces(answer->before);
  if (shown == nullptr || below == nullptr || below->surfaces.empty()) return false;
  const auto number = static_cast<std::size_t>(place.surface);
  if (number >= shown->surfaces.size()) return false;
  const Surface& s = shown->surfaces[number];
  // A failed step shows the shape below it, whose surfaces have their own numbers already.
  const bool same_count = shown->surfaces.size() == below->surfaces.size();
  const std::size_t from =
      same_count ? number : number_below(*step, number, below->surfaces.size());
  const Surface& b = below->surfaces[from];
  const double u = share_in(b.u, s.u.first() + place.u * s.u.length());
  const double v = share_in(b.v, s.v.first() + place.v * s.v.length());
  return model_.attempt([&] {
    OperationPtr changed = with_parameter(*step->operation, "place_u", fmt::format("{:.6f}", u));
    changed = with_parameter(*changed, "place_v", fmt::format("{:.6f}", v));
    changed = with_parameter(*changed, "surface", std::to_string(from + 1));
    model_.change_operation(step->id, changed, QObject::tr("Place"),
                            QString("%1.place").arg(step->id));
  });
}

PlacePicker::Lines PlacePicker::lines_at(const SurfacePlace& place) const {
  Lines lines;
  const auto answer = model_.answer();
  const SurfaceSet* shown = answer ? surfaces(answer->shown) : nullptr;
  if (shown == nullptr || static_cast<std::size_t>(place.surface) >= shown->surfaces.size())
    return lines;
  const Surface& s = shown->surfaces[static_cast<std::size_t>(place.surface)];
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
