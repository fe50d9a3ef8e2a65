#include "core/operations/point_script.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <map>

#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/operations/common.h"
#include "core/operations/shaped_points.h"
#include "core/points/arrange.h"
#include "core/points/falloff.h"

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
    throw Error(fmt::format("'{}': expected {}{}.", line_, wanted,
                            empty() ? " at its end" : fmt::format(" instead of '{}'", peek())));
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

// The hand of the runner: what is picked, and the step that is being shaped.
class Hand {
 public:
  Hand(const Document& document, PartId part, Progress& progress);
  void edit(const std::string& line);
  Document result() const;

 private:
  void pick(Words& w);
  Selection picked_box(Words& w) const;
  PointIndex address(const std::string& text, const Words& w) const;
  void move(Words& w);
  void scale_or_turn(Words& w, bool turning);
  void level_points(Words& w);
  void pull(Words& w);
  Vec3 centre(Words& w) const;
  void take_falloff(Words& w);
  void set_hold(Words& w);
  void take(const PointMoves& moves, const PointShares& shares);
  void arrange(const PointMoves& moves) { take(moves, shares()); }
  PointShares shares() const;
  ShapeRules rules() const;
  void need_points() const;

  Document document_;
  PartId part_;
  std::shared_ptr<ShapedPointsOperation> operation_;
  StepId step_ = 0;  // of the operation; 0: it is to be added
  Nets below_, shown_;
  Shapings shapings_;
  Selection picked_;
  PointIndex leader_;
  Falloff falloff_;
};

Hand::Hand(const Document& document, PartId part, Progress& progress)
    : document_(document), part_(part) {
  const Evaluation e = Evaluator().evaluate(document, progress, {part});
  const Part& p = *find_part(document, part);
  const PartResult& result = e.parts.at(part);
  ShapePtr before = result.shape;
  const auto* shaped = dynamic_cast<const ShapedPointsOperation*>(p.steps.back().operation.get());
  if (shaped != nullptr && p.steps.size() > 1 && p.steps.back().enabled) {
    operation_ = std::static_pointer_cast<ShapedPointsOperation>(shaped->clone());
    step_ = p.steps.back().id;
    before = result.steps[p.steps.size() - 2].shape;
  } else {
    operation_ = std::make_shared<ShapedPointsOperation>();
  }
  ShapesPoints::Offer offer = operation_->offered(*before);
  below_ = std::move(offer.below);
  shapings_ = std::move(offer.shapings);
  shown_ = with_shaping(below_, shapings_);
}

Document Hand::result() const {
  const OperationPtr operation = operation_->with_shapings(shapings_);
  if (step_ != 0) return with_operation(document_, step_, operation);
  return with_step(document_, part_, operation).document;
}

PointShares Hand::shares() const {
  need_points();
  return evenclay::shares(shown_, picked_, falloff_);
}

void Hand::need_points() const {
  if (picked_.empty()) throw Error("Nothing is picked. Pick points first, such as: pick all");
}

ShapeRules Hand::rules() const {
  ShapeRules r;
  const auto mirrors = find_mirrors(shown_, operation_->symmetry, kMirrorTolerance);
  if (!mirrors)
    throw Error("The control points are not symmetric about the chosen planes within 0.01 mm.");
  r.mirrors = *mirrors;
  r.leader = leader_;
  r.edges = operation_->holds;
  return r;
}

void Hand::take(const PointMoves& moves, const PointShares& shares) {
  shapings_ = with_moves(shapings_, shown_, moves, shares, rules());
  shown_ = with_shaping(below_, shapings_);
}

PointIndex Hand::address(const std::string& text, const Words& w) const {
  if (text.size() < 3 || text.front() != '[' || text.back() != ']')
    w.fail("an address such as [4,2]");
  const std::vector<double> n = numbers_in(std::string_view(text).substr(1, text.size() - 2));
  PointIndex p;
  const auto at = [&](std::size_t k) { return static_cast<int>(n[k]); };
  const std::size_t directions = static_cast<std::size_t>(shown_.nets.front().directions());
  const std::size_t first = n.size() > directions ? 1 : 0;
  if (n.size() > 4 || n.size() < first + directions) w.fail("an address such as [4,2]");
  if (first == 1) p.net = at(0);
  p.i = at(first);
  if (directions > 1) p.j = at(first + 1);
  if (directions > 2) p.k = at(first + 2);
  if (!shown_.contains(p)) throw Error(fmt::format("There is no control point {}.", text));
  return p;
}

Selection Hand::picked_box(Words& w) const {
  std::array<double, 3> low{-1e9, -1e9, -1e9};
  std::array<double, 3> high{1e9, 1e9, 1e9};
  while (!w.empty()) {
    const auto axis = w.one_of<std::size_t>({{"x", 0}, {"y", 1}, {"z", 2}});
    low[axis] = w.number("the lower number");
    high[axis] = w.number("the upper number");
  }
  return points_where(shown_, [&](const Vec3& p) {
    for (std::size_t a = 0; a < 3; ++a)
      if (p[a] < low[a] || p[a] > high[a]) return false;
    return true;
  });
}

void Hand::pick(Words& w) {
  Selection found;
  const Selection all = points_where(shown_, [](const Vec3&) { return true; });
  if (w.take("all")) {
    found = all;
  } else if (w.take("none")) {
    found = {};
  } else if (w.take("invert")) {
    for (const PointIndex& p : all)
      if (!picked_.contains(p)) found.insert(p);
  } else if (w.take("grow")) {
    found = grown(shown_, picked_);
  } else if (w.take("shrink")) {
    found = shrunk(shown_, picked_);
  } else if (w.take("checker")) {
    found = checker(picked_, false);
  } else if (w.take("ring")) {
    for (const PointIndex& p : picked_) found.merge(ring_through(shown_, p));
  } else if (w.take("partners")) {
    for (const MirrorMap& m : rules().mirrors)
      for (const PointIndex& p : picked_) found.insert(m.partner(p));
  } else if (w.take("every")) {
    const int n = static_cast<int>(w.number("a count"));
    const int start = w.take("start") ? static_cast<int>(w.number("a count")) : 0;
    if (n < 2 || start < 0) w.fail("a count of 2 or more");
    found = every_nth(picked_, row_direction(picked_).value_or(0), n, start);
  } else if (w.take("box")) {
    found = picked_box(w);
  } else if (w.take("row")) {
    const int d = w.one_of<int>({{"u", 0}, {"v", 1}, {"w", 2}});
    while (!w.empty()) {
      const PointIndex p = address(w.word("an address"), w);
      if (d >= shown_.of(p).directions()) w.fail("a direction that the net has");
      found.merge(row_through(shown_, p, d));
      leader_ = p;
    }
  } else if (w.take("named")) {
    const std::string name = w.word("a name");
    for (const NamedPoints& s : find_part(document_, part_)->selections)
      if (s.name == name)
        for (const auto& [net, i, j, k] : s.points)
          if (const PointIndex p{net, i, j, k}; shown_.contains(p)) found.insert(p);
    if (found.empty()) throw Error(fmt::format("The part has no selection '{}'.", name));
  } else {
    while (!w.empty()) {
      leader_ = address(w.word("an address"), w);
      found.insert(leader_);
    }
    if (found.empty()) w.fail("what to pick");
  }
  picked_ = with_united(shown_, found);
  if (!picked_.empty() && !picked_.contains(leader_)) leader_ = *picked_.begin();
}

void Hand::move(Words& w) {
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
  const PointShares s = shares();
  take(moves_of(shown_, s, m), s);
}

Vec3 Hand::centre(Words& w) const {
  need_points();
  Vec3 sum;
  for (const PointIndex& p : picked_) sum += shown_.point(p);
  sum = sum / static_cast<double>(picked_.size());
  if (w.take("at")) return w.vector("three numbers");
  if (!w.take("about") || w.take("picked")) return sum;
  if (w.take("last")) return shown_.point(leader_);
  if (w.take("part")) {
    Box3 box;
    for_each_point(shown_, [&](PointIndex p) { box.add(shown_.point(p)); });
    return box.centre();
  }
  if (!w.take("symmetry")) w.fail("picked, part, last or symmetry");
  for (const SymmetryPlane plane : planes_of(operation_->symmetry))
    sum = (sum + mirrored(sum, plane)) * 0.5;
  return sum;
}

void Hand::scale_or_turn(Words& w, bool turning) {
  const double first = w.number(turning ? "degrees" : "a factor");
  Vec3 other{first, first, first};
  if (turning) {
    other = w.one_of<Vec3>({{"x", {1, 0, 0}}, {"y", {0, 1, 0}}, {"z", {0, 0, 1}}});
  } else if (w.number_next()) {
    other.y = w.number("a factor");
    other.z = w.number("a factor");
  }
  Frame about;
  about.origin = centre(w);
  const PointShares s = shares();
  take(turning ? turn(shown_, s, about.origin, other, first) : scale(shown_, s, about, other), s);
}

void Hand::level_points(Words& w) {
  need_points();
  LevelPlane plane;
  if (w.take("mean")) {
    plane = mean_plane(shown_, picked_);
  } else if (w.take("points")) {
    std::vector<Vec3> p;
    for (int k = 0; k < 3; ++k) p.push_back(shown_.point(address(w.word("an address"), w)));
    plane = plane_through(p[0], p[1], p[2]);
  } else {
    const auto axis = w.one_of<std::size_t>({{"yz", 0}, {"xz", 1}, {"xy", 2}});
    plane.origin[axis] = w.number("a coordinate in mm");
    plane.normal[axis] = 1.0;
  }
  arrange(level(shown_, shares(), plane));
}

void Hand::pull(Words& w) {
  SkinPlace place;
  std::vector<double> numbers;
  while (w.number_next()) numbers.push_back(w.number("a share"));
  if (numbers.empty() || numbers.size() > 3 || !w.take("by")) w.fail("U V by DX DY DZ");
  if (numbers.size() == 3) place.net = static_cast<int>(numbers[0]);
  if (place.net < 0 || place.net >= static_cast<int>(shown_.nets.size()))
    throw Error(fmt::format("There is no surface {}.", place.net));
  const Net& net = shown_.nets[static_cast<std::size_t>(place.net)];
  const auto at = [&](int d, double share) {
    const KnotVector* k = net.knots(d);
    return k == nullptr ? 0.0 : k->first() + std::clamp(share, 0.0, 1.0) * k->length();
  };
  place.u = at(0, numbers[numbers.size() > 1 ? numbers.size() - 2 : 0]);
  place.v = numbers.size() > 1 ? at(1, numbers.back()) : 0.0;
  PointShares s(shown_, 1.0);
  for_each_point(shown_, [&](PointIndex p) {
    if (is_held(shown_, p, operation_->holds)) s(p) = 0.0;
  });
  take(pull_skin(shown_, s, place, w.vector("three numbers")), s);
}

void Hand::take_falloff(Words& w) {
  falloff_ = {};
  falloff_.reach_along = static_cast<int>(w.number("a count of points"));
  falloff_.reach_across = static_cast<int>(w.number("a count of points"));
  if (falloff_.reach_along < 0 || falloff_.reach_across < 0) w.fail("counts of points");
  if (!w.empty() && w.peek() != "strength") falloff_.along = falloff_.across = w.one_of(shapes());
  if (!w.empty() && w.peek() != "strength") falloff_.across = w.one_of(shapes());
  if (!w.take("strength")) return;
  const double strength = w.number("a strength from 0.2 to 5");
  if (!(strength >= 0.2 && strength <= 5.0)) w.fail("a strength from 0.2 to 5");
  falloff_.strength_along = falloff_.strength_across = strength;
}

void Hand::set_hold(Words& w) {
  const std::string edge = "hold_" + w.word("an edge");
  const auto changed = with_parameter(*operation_, edge, w.word("what it keeps"));
  operation_ = std::static_pointer_cast<ShapedPointsOperation>(changed->clone());
}

void Hand::edit(const std::string& line) {
  Words w(line);
  if (w.take("pick")) {
    pick(w);
  } else if (w.take("name")) {
    NamedPoints kept{w.word("a name"), {}};
    for (const PointIndex& p : picked_) kept.points.push_back({p.net, p.i, p.j, p.k});
    document_ = with_selection(document_, part_, std::move(kept));
  } else if (w.take("symmetry")) {
    std::string plane = w.word("a plane");
    if (plane == "off") plane = "none";
    operation_ = std::static_pointer_cast<ShapedPointsOperation>(
        with_parameter(*operation_, "symmetry", plane)->clone());
    rules();  // says when the points are not symmetric
  } else if (w.take("hold")) {
    set_hold(w);
  } else if (w.take("falloff")) {
    take_falloff(w);
  } else if (w.take("move")) {
    move(w);
  } else if (w.take("scale")) {
    scale_or_turn(w, false);
  } else if (w.take("turn")) {
    scale_or_turn(w, true);
  } else if (w.take("set")) {
    const int axis = w.one_of<int>({{"x", 0}, {"y", 1}, {"z", 2}});
    arrange(set_coordinate(shown_, shares(), axis, w.number("a coordinate in mm")));
  } else if (w.take("level")) {
    level_points(w);
  } else if (w.take("straighten")) {
    need_points();
    arrange(straighten_rows(shown_, shares(), picked_, row_direction(picked_).value_or(0)));
  } else if (w.take("smooth")) {
    arrange(smooth(shown_, shares(), w.empty() ? 0.5 : std::clamp(w.number("a share"), 0.0, 1.0)));
  } else if (w.take("relax")) {
    arrange(relax_from_borders(shown_, shares()));
  } else if (w.take("weight")) {
    need_points();
    Selection all = picked_;
    for (const MirrorMap& m : rules().mirrors)
      for (const PointIndex& p : Selection(all)) all.insert(m.partner(p));
    shapings_ = with_weight(shapings_, below_, all, w.number("a weight"));
    shown_ = with_shaping(below_, shapings_);
  } else if (w.take("pull")) {
    pull(w);
  } else if (w.take("symmetric")) {
    for (const SymmetryPlane plane : planes_of(operation_->symmetry)) {
      const auto map = find_mirror(below_, plane, kMirrorTolerance);
      if (!map) throw Error("The shape below is not symmetric about that plane.");
      shapings_ = made_symmetric(shapings_, shown_, *map, leader_);
      shown_ = with_shaping(below_, shapings_);
    }
  } else {
    w.fail(
        "pick, name, symmetry, hold, falloff, move, scale, turn, set, level, straighten, smooth, "
        "relax, weight, pull or symmetric");
  }
  w.end();
}

}  // namespace

Document with_point_edits(const Document& document, PartId part, std::span<const std::string> edits,
                          Progress& progress) {
  Hand hand(document, part, progress);
  for (const std::string& line : edits) {
    progress.check();
    hand.edit(line);
  }
  return hand.result();
}

}  // namespace evenclay
