#include "core/operations/point_script.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/evaluator.h"
#include "core/operations/common.h"
#include "core/operations/shaped_points.h"
#include "core/points/form_selection.h"
#include "core/points/hand.h"

namespace evenclay {

namespace {

// The words of one line, taken one after the other.
class Words {
 public:
  explicit Words(const std::string& line) : line_(line) {
    std::size_t at = 0;
    while (at < line.size()) {
      const std::size_t end = std::min(line.find(' ', at), line.size());
      if (end > at) words_.push_back(line.substr(at, end - at));
      at = end + 1;
    }
  }
  bool empty() const { return next_ == words_.size(); }
  std::string peek() const { return empty() ? std::string() : words_[next_]; }
  bool take(std::string_view word) {
    if (peek() != word) return false;
    ++next_;
    return true;
  }
  std::string word(const char* what) {
    if (empty()) fail(what);
    return words_[next_++];
  }
  double number(const char* what) {
    const std::string text = word(what);
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || !(std::abs(value) < 1e6))
      fail(what);
    return value;
  }
  bool number_next() const {
    const std::string text = peek();
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return !text.empty() && error == std::errc() && end == text.data() + text.size();
  }
  Vec3 vector(const char* what) {
    const double x = number(what);
    const double y = number(what);
    return {x, y, number(what)};
  }
  template <typename T>
  T one_of(const std::vector<std::pair<std::string, T>>& choices) {
    std::string list;
    for (const auto& [name, value] : choices) {
      if (take(name)) return value;
      list += (list.empty() ? "" : ", ") + name;
    }
    fail(list.c_str());
  }
  void end() const {
    if (!empty()) fail("nothing more");
  }
  [[noreturn]] void fail(const char* wanted) const {
    throw Error(say("'{}': expected {}{}.", line_, wanted,
                    empty() ? " at its end" : say(" instead of '{}'", peek())));
  }

 private:
  std::string line_;
  std::vector<std::string> words_;
  std::size_t next_ = 0;
};

const std::vector<std::pair<std::string, FalloffShape>>& shapes() {
  static const std::vector<std::pair<std::string, FalloffShape>> all{{"rigid", FalloffShape::Rigid},
                                                                     {"ramp", FalloffShape::Ramp},
                                                                     {"scoop", FalloffShape::Scoop},
                                                                     {"dome", FalloffShape::Dome},
                                                                     {"bell", FalloffShape::Bell}};
  return all;
}

const std::vector<std::pair<std::string, SymmetryPlane>>& planes() {
  using enum SymmetryPlane;
  static const std::vector<std::pair<std::string, SymmetryPlane>> all{
      {"yz", YZ},         {"xz", XZ},         {"xy", XY},   {"yz_xz", YZAndXZ},
      {"xz_xy", XZAndXY}, {"yz_xy", YZAndXY}, {"all", All}, {"off", None}};
  return all;
}

// The hand of the runner: what is picked, and the step that is being shaped.
class Script {
 public:
  Script(const Document& document, PartId part, Progress& progress);
  void edit(const std::string& line);
  Document result() const;

 private:
  void pick(Words& w);
  Selection picked_box(Words& w) const;
  PointIndex address(const std::string& text, const Words& w) const;
  PointEdit edit_in(Words& w) const;
  PointEdit move(Words& w) const;
  PointEdit scale_or_turn(Words& w, bool turning) const;
  PointEdit level_points(Words& w) const;
  PointEdit pull(Words& w) const;
  Vec3 centre(Words& w) const;
  void take_falloff(Words& w);
  void set_hold(Words& w);
  void take(OperationPtr operation);
  void find_partners();

  Document document_;
  PartId part_;
  const ShapesPoints& shaper() const { return *offer_of<ShapesPoints>(*operation_); }

  OperationPtr operation_;  // offers ShapesPoints
  StepId step_ = 0;         // of the operation; 0: it is to be added
  Hand hand_;
};

Script::Script(const Document& document, PartId part, Progress& progress)
    : document_(document), part_(part) {
  const Evaluation e = Evaluator().evaluate(document, progress, {part});
  const Part& p = *find_part(document, part);
  const PartResult& result = e.parts.at(part);
  const Step& last = p.steps.back();
  const StepResult& made = result.steps.back();
  const bool shaped = last.enabled && offer_of<ShapesPoints>(*last.operation) != nullptr;
  HandNets offer;
  if (shaped && made.hand) {  // a step with nets of its own, such as ribs
    operation_ = last.operation;
    offer = *made.hand;
    step_ = last.id;
  } else if (shaped && p.steps.size() > 1) {
    operation_ = last.operation;
    offer = shaper().offered(*result.steps[p.steps.size() - 2].shape);
    step_ = last.id;
  } else {
    operation_ = std::make_shared<ShapedPointsOperation>();
    offer = shaper().offered(*result.shape);
  }
  hand_.below = std::move(offer.below);
  hand_.shapings = std::move(offer.shapings);
  hand_.shown = with_shaping(hand_.below, hand_.shapings);
  hand_.symmetry = shaper().symmetry_planes();
  hand_.holds = shaper().edge_rules();
  find_partners();
}

Document Script::result() const {
  const OperationPtr operation = shaper().with_shapings(hand_.shapings);
  if (step_ != 0) return with_operation(document_, step_, operation);
  return with_step(document_, part_, operation).document;
}

void Script::find_partners() {
  hand_.mirrors = find_mirrors(hand_.shown, hand_.symmetry, kMirrorTolerance)
                      .value_or(std::vector<MirrorMap>{});
}

void Script::take(OperationPtr operation) {
  operation_ = std::move(operation);
  hand_.symmetry = shaper().symmetry_planes();
  hand_.holds = shaper().edge_rules();
  find_partners();
}

PointIndex Script::address(const std::string& text, const Words& w) const {
  if (text.size() < 3 || text.front() != '[' || text.back() != ']')
    w.fail("an address such as [4,2]");
  const std::vector<double> n = numbers_in(std::string_view(text).substr(1, text.size() - 2));
  PointIndex p;
  const auto at = [&](std::size_t k) { return static_cast<int>(n[k]); };
  // The points of a form have one number each.
  const std::size_t directions =
      static_cast<std::size_t>(std::max(1, hand_.shown.nets.front().directions()));
  const std::size_t first = n.size() > directions ? 1 : 0;
  if (n.size() > 4 || n.size() < first + directions) w.fail("an address such as [4,2]");
  if (first == 1) p.net = at(0);
  p.i = at(first);
  if (directions > 1) p.j = at(first + 1);
  if (directions > 2) p.k = at(first + 2);
  if (!hand_.shown.contains(p)) throw Error(say("There is no control point {}.", text));
  return p;
}

Selection Script::picked_box(Words& w) const {
  std::array<double, 3> low{-1e9, -1e9, -1e9};
  std::array<double, 3> high{1e9, 1e9, 1e9};
  while (!w.empty()) {
    const auto axis = w.one_of<std::size_t>({{"x", 0}, {"y", 1}, {"z", 2}});
    low[axis] = w.number("the lower number");
    high[axis] = w.number("the upper number");
  }
  return points_where(hand_.shown, [&](const Vec3& p) {
    for (std::size_t a = 0; a < 3; ++a)
      if (p[a] < low[a] || p[a] > high[a]) return false;
    return true;
  });
}

void Script::pick(Words& w) {
  Selection found;
  const FormNet* form = hand_.shown.nets.front().form();
  if (form != nullptr && (w.peek() == "checker" || w.peek() == "every" || w.peek() == "ring"))
    throw Error(
        say("The points of a form lie in no rows. Pick them by a box, by numbers or by growing."));
  const Selection all = points_where(hand_.shown, [](const Vec3&) { return true; });
  if (w.take("all")) {
    found = all;
  } else if (w.take("none")) {
    found = {};
  } else if (w.take("invert")) {
    for (const PointIndex& p : all)
      if (!hand_.picked.contains(p)) found.insert(p);
  } else if (w.take("grow")) {
    found = grown(hand_.shown, hand_.picked);
  } else if (w.take("shrink")) {
    found = shrunk(hand_.shown, hand_.picked);
  } else if (w.take("checker")) {
    found = checker(hand_.picked, false);
  } else if (w.take("ring")) {
    for (const PointIndex& p : hand_.picked) found.merge(ring_through(hand_.shown, p));
  } else if (w.take("partners")) {
    check_symmetry(hand_);
    for (const MirrorMap& m : hand_.mirrors)
      for (const PointIndex& p : hand_.picked) found.insert(m.partner(p));
  } else if (w.take("every")) {
    const int n = static_cast<int>(w.number("a count"));
    const int start = w.take("start") ? static_cast<int>(w.number("a count")) : 0;
    if (n < 2 || start < 0) w.fail("a count of 2 or more");
    found = every_nth(hand_.picked, row_direction(hand_.picked).value_or(0), n, start);
  } else if (w.take("box")) {
    found = picked_box(w);
  } else if (w.take("row")) {
    const int d = w.one_of<int>({{"u", 0}, {"v", 1}, {"w", 2}});
    while (!w.empty()) {
      const PointIndex p = address(w.word("an address"), w);
      if (d >= hand_.shown.of(p).directions()) w.fail("a direction that the net has");
      found.merge(row_through(hand_.shown, p, d));
      hand_.leader = p;
    }
  } else if (w.take("named")) {
    const std::string name = w.word("a name");
    for (const NamedPoints& s : find_part(document_, part_)->selections)
      if (s.name == name && form != nullptr)
        for (const Pick& pick : s.picks) found.merge(points_of(*form, pick.kind, {pick.tag}));
      else if (s.name == name)
        for (const auto& [net, i, j, k] : s.points)
          if (const PointIndex p{net, i, j, k}; hand_.shown.contains(p)) found.insert(p);
    if (found.empty()) throw Error(say("The part has no selection '{}'.", name));
  } else {
    while (!w.empty()) {
      hand_.leader = address(w.word("an address"), w);
      found.insert(hand_.leader);
    }
    if (found.empty()) w.fail("what to pick");
  }
  hand_.picked = with_united(hand_.shown, found);
  if (!hand_.picked.empty() && !hand_.picked.contains(hand_.leader))
    hand_.leader = *hand_.picked.begin();
}

PointEdit Script::move(Words& w) const {
  using enum MoveDirection;
  const auto direction = w.one_of<MoveDirection>({{"x", X},
                                                  {"y", Y},
                                                  {"z", Z},
                                                  {"off_skin", OffSkin},
                                                  {"on_skin", OnSkin},
                                                  {"net_u", AlongU},
                                                  {"net_v", AlongV},
                                                  {"net_w", AlongW},
                                                  {"by", InView}});
  Move m{direction, 0.0, {}};
  if (direction == InView || direction == OnSkin)
    m.vector = w.vector("three numbers");
  else
    m.amount = w.number("a distance in mm");
  return MovePoints{m};
}

Vec3 Script::centre(Words& w) const {
  if (hand_.picked.empty())
    throw Error(say("Nothing is picked. Pick points first, such as: pick all"));
  const auto about = [&](Pivot pivot) {
    return pivot_place(hand_.shown, hand_.picked, hand_.leader, hand_.symmetry, pivot);
  };
  if (w.take("at")) return w.vector("three numbers");
  if (!w.take("about")) return about(Pivot::Picked);
  return about(w.one_of<Pivot>({{"picked", Pivot::Picked},
                                {"part", Pivot::Part},
                                {"last", Pivot::Leader},
                                {"symmetry", Pivot::Symmetry}}));
}

PointEdit Script::scale_or_turn(Words& w, bool turning) const {
  const double first = w.number(turning ? "degrees" : "a factor");
  Vec3 other{first, first, first};
  if (turning) {
    other = w.one_of<Vec3>({{"x", {1, 0, 0}}, {"y", {0, 1, 0}}, {"z", {0, 0, 1}}});
  } else if (w.number_next()) {
    other.y = w.number("a factor");
    other.z = w.number("a factor");
  }
  if (turning) return TurnPoints{centre(w), other, first};
  Frame about;
  about.origin = centre(w);
  return ScalePoints{about, other};
}

PointEdit Script::level_points(Words& w) const {
  if (w.take("mean")) return LevelToMean{};
  LevelPlane plane;
  if (w.take("points")) {
    std::vector<Vec3> p;
    for (int k = 0; k < 3; ++k) p.push_back(hand_.shown.point(address(w.word("an address"), w)));
    plane = plane_through(p[0], p[1], p[2]);
  } else {
    const auto axis = w.one_of<std::size_t>({{"yz", 0}, {"xz", 1}, {"xy", 2}});
    plane.origin[axis] = w.number("a coordinate in mm");
    plane.normal[axis] = 1.0;
  }
  return LevelTo{plane};
}

PointEdit Script::pull(Words& w) const {
  std::vector<double> numbers;
  while (w.number_next()) numbers.push_back(w.number("a share"));
  if (numbers.empty() || numbers.size() > 3 || !w.take("by")) w.fail("U V by DX DY DZ");
  const double net = numbers.size() == 3 ? numbers[0] : 0.0;
  if (!(net >= 0.0 && net < static_cast<double>(hand_.shown.nets.size())))
    throw Error(say("There is no surface {:g}.", net));
  const double u = numbers[numbers.size() > 1 ? numbers.size() - 2 : 0];
  const SkinPlace place =
      skin_place(hand_.shown, static_cast<int>(net), u, numbers.size() > 1 ? numbers.back() : 0.0);
  return PullSkin{place, w.vector("three numbers")};
}

void Script::take_falloff(Words& w) {
  hand_.falloff = {};
  hand_.falloff.reach_along = static_cast<int>(w.number("a count of points"));
  hand_.falloff.reach_across = static_cast<int>(w.number("a count of points"));
  if (hand_.falloff.reach_along < 0 || hand_.falloff.reach_across < 0) w.fail("counts of points");
  if (!w.empty() && w.peek() != "strength")
    hand_.falloff.along = hand_.falloff.across = w.one_of(shapes());
  if (!w.empty() && w.peek() != "strength") hand_.falloff.across = w.one_of(shapes());
  if (!w.take("strength")) return;
  const double strength = w.number("a strength from 0.2 to 5");
  if (!(strength >= 0.2 && strength <= 5.0)) w.fail("a strength from 0.2 to 5");
  hand_.falloff.strength_along = hand_.falloff.strength_across = strength;
}

void Script::set_hold(Words& w) {
  const std::string edge = "hold_" + w.word("an edge");
  take(with_parameter(*operation_, edge, w.word("what it keeps")));
}

PointEdit Script::edit_in(Words& w) const {
  if (w.take("move")) return move(w);
  if (w.take("scale")) return scale_or_turn(w, false);
  if (w.take("turn")) return scale_or_turn(w, true);
  if (w.take("set")) {
    const int axis = w.one_of<int>({{"x", 0}, {"y", 1}, {"z", 2}});
    return SetCoordinate{axis, w.number("a coordinate in mm")};
  }
  if (w.take("level")) return level_points(w);
  if (w.take("straighten")) {
    if (w.take("view")) return StraightenInView{normalized(w.vector("three numbers"))};
    return StraightenRows{};
  }
  if (w.take("smooth"))
    return SmoothPoints{w.empty() ? 0.5 : std::clamp(w.number("a share"), 0.0, 1.0)};
  if (w.take("relax")) return RelaxPoints{};
  if (w.take("weight")) return SetWeight{w.number("a weight")};
  if (w.take("pull")) return pull(w);
  if (w.take("back")) return BringBack{};
  if (w.take("symmetric")) {
    if (!w.empty()) return MakeSymmetric{w.one_of(planes())};
    return MakeSymmetric{hand_.symmetry != SymmetryPlane::None ? hand_.symmetry
                                                               : SymmetryPlane::XZ};
  }
  w.fail(
      "pick, name, symmetry, hold, falloff, move, scale, turn, set, level, straighten, smooth, "
      "relax, weight, pull, symmetric or back");
}

void Script::edit(const std::string& line) {
  Words w(line);
  if (w.take("pick")) {
    pick(w);
  } else if (w.take("name")) {
    NamedPoints kept{w.word("a name"), {}};
    if (const FormNet* form = hand_.shown.nets.front().form())
      kept.picks =
          as_picks(*form, PickKind::Corner, tags_with(*form, PickKind::Corner, hand_.picked));
    else
      for (const PointIndex& p : hand_.picked) kept.points.push_back({p.net, p.i, p.j, p.k});
    document_ = with_selection(document_, part_, std::move(kept));
  } else if (w.take("symmetry")) {
    take(shaper().with_symmetry(w.one_of(planes())));
    check_symmetry(hand_);
  } else if (w.take("hold")) {
    set_hold(w);
  } else if (w.take("falloff")) {
    take_falloff(w);
  } else {
    hand_.shapings = edited(hand_, edit_in(w));
    hand_.shown = with_shaping(hand_.below, hand_.shapings);
    find_partners();
  }
  w.end();
}

}  // namespace

Document with_point_edits(const Document& document, PartId part, std::span<const std::string> edits,
                          Progress& progress) {
  Script script(document, part, progress);
  for (const std::string& line : edits) {
    progress.check();
    script.edit(line);
  }
  return script.result();
}

}  // namespace evenclay
