#include "core/operations/guide_curves.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/nurbs/fitted.h"
#include "core/operations/body_picks.h"
#include "core/source/loft.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostPlaces = 40;
constexpr Choice kHolds[] = {{"free", "Movable"},
                             {"position", "Place held"},
                             {"tangent", "Tangent held"},
                             {"curvature", "Curvature held"}};

// The places of a guide's parameter where its points are.
KnotVector net_knots(int points, bool through, bool closed) {
  return uniform_knots(points, through ? 1 : std::min(3, points - 1), closed);
}

// The spline through values at the points' places: of points to run through; or the control values whose spline
// takes the values at their Greville places.
Curve spline_through(const std::vector<Vec3>& at_places, const KnotVector& net) {
  const int n = static_cast<int>(at_places.size());
  const std::vector<double> places = greville_places(net);
  const int degree = std::min(3, n - 1);
  const KnotVector k = net.degree > 1 ? net
                       : net.periodic ? uniform_knots(n, degree, true)
                                      : averaged_knots(places, degree);
  std::vector<double> values;
  for (const Vec3& p : at_places) values.insert(values.end(), {p.x, p.y, p.z});
  const std::vector<double> x = interpolated(k, places, values, 3);
  Curve c{k, {}, {}};
  for (std::size_t i = 0; i < at_places.size(); ++i)
    c.points.push_back({x[3 * i], x[3 * i + 1], x[3 * i + 2]});
  return c;
}

bool fits(const Shaping* s, const KnotVector& net) {
  return s != nullptr && s->u == net &&
         s->displacements.values().size() == static_cast<std::size_t>(net.point_count());
}

// What the hand did to a guide, as a curve of moves.
Curve moves_of(const Shaping* s, const KnotVector& net, bool through) {
  if (!fits(s, net))
    return {net, std::vector<Vec3>(static_cast<std::size_t>(net.point_count())), {}};
  if (through) return spline_through(s->displacements.values(), net);
  return {net, s->displacements.values(), {}};
}

Shaping shaping_of(const KnotVector& net, const std::vector<Vec3>& moves) {
  Shaping s;
  s.u = net;
  s.displacements = Grid<Vec3>(static_cast<int>(moves.size()), 1);
  s.displacements.values() = moves;
  return s;
}

// Tells plans apart that belong to one surface: all numbers that a plan is made of.
class Print {
 public:
  void add(double x) {
    std::uint64_t bits = 0;
    static_assert(sizeof bits == sizeof x);
    std::memcpy(&bits, &x, sizeof x);
    for (int k = 0; k < 8; ++k) sum_ = (sum_ ^ ((bits >> (8 * k)) & 0xff)) * 1099511628211ULL;
  }
  void add(const Curve& c) {
    for (const double k : c.knots.knots) add(k);
    for (const Vec3& p : c.points) {
      add(p.x);
      add(p.y);
    }
    for (const double w : c.weights) add(w);
  }
  std::string text() const { return say("guides {:x}", sum_); }

 private:
  std::uint64_t sum_ = 1469598103934665603ULL;
};

using Plan = std::shared_ptr<const GuidedFace>;

Plan plan_for(const Face& face, const GuideLayout& layout, const GuideOptions& options,
              const Inputs& inputs, Progress& progress) {
  const auto make = [&] {
    return std::make_shared<const GuidedFace>(face, guide_lines(face, layout), options, progress);
  };
  if (inputs.memo == nullptr) return make();
  Print print;
  print.add(layout.angle);
  print.add(layout.both_sides ? 1.0 : 0.0);
  for (const GuidePlace& p : layout.places) {
    print.add(p.through ? 1.0 : 0.0);
    print.add(p.through ? p.through->u : p.across);
    print.add(p.through ? p.through->v : 0.0);
  }
  print.add(options.points_u);
  print.add(options.points_v);
  for (const HeldEdge& e : options.edges) {
    print.add(static_cast<double>(e.hold));
    print.add(e.uv);
  }
  for (const Loop& loop : face.loops)
    for (const EdgeUse& use : loop) print.add(use.uv);
  return inputs.memo->keep<GuidedFace>(face.surface, make, print.text());
}

}  // namespace

void GuideCurvesOperation::suit(const Beginning& b) {
  const Body* body = b.before ? std::get_if<Body>(b.before.get()) : nullptr;
  if (body == nullptr || body->faces.empty()) return;
  for (const Pick& p : b.picks)
    if (p.kind == PickKind::Face) on.picked = {p};
  const Face& face = body->faces[located(*body, on).face];
  // As dense as the face is, and enough for the guides' points.
  density_u = std::clamp(face.surface->u.point_count(), 16, 60);
  density_v = std::clamp(face.surface->v.point_count(), 16, 60);
}

void GuideCurvesOperation::describe(ParameterVisitor& v) {
  static constexpr Choice kDirections[] = {
      {"along_u", "Along u"}, {"along_v", "Along v"}, {"turned", "Turned"}};
  visit_choice(v, {"direction", "Guides run", "The direction of the guide curves on the face."},
               direction, kDirections);
  if (direction == GuideDirection::Turned)
    v.number({"angle", "Angle", "From u towards v."}, angle, {-180.0, 180.0, "°", 5.0, 2});
  v.data({"places", "Places, %",
          "How far across the face each guide lies; 40:25 goes through the place at 40 % of u and "
          "25 % of v. Clicks on "
          "the face add places while the step is tried."},
         places);
  v.toggle({"both_sides", "Both sides", "Each guide also as far from the other side of the face."},
           both_sides);
  v.count({"points", "Points a guide", "To pull by hand."}, points, {3, 60});
  v.toggle({"through", "Points lie on the guide",
            "The guide runs through its points; else they are its control points."},
           through);
  v.count({"density_u", "Net along u", "Control points the face has at least: more follow closer."},
          density_u, {4, 100});
  v.count({"density_v", "Net along v", "Control points the face has at least: more follow closer."},
          density_v, {4, 100});
  visit_choice(v, {"edges", "Edges", "What the edges of the face keep."}, edges, kHolds);
  describe_symmetry(v, symmetry);
  v.data({"guides", "Guides", "What the hand did to the guides' points."}, guides);
  v.group("Face and single edges");
  describe_face(v, on);
  v.picks({"free", "Movable edges", "Edges that may move, whatever the others do."}, free,
          kBodyEdges);
  v.picks({"position", "Edges held in place", "Edges that keep their place only."}, position,
          kBodyEdges);
  v.picks({"tangent", "Edges held tangent", "Edges that keep place and tangent planes."}, tangent,
          kBodyEdges);
  v.picks(
      {"curvature", "Edges held curved", "Edges that keep place, tangent planes and curvature."},
      curvature, kBodyEdges);
}

std::string GuideCurvesOperation::summary() const {
  const auto count = places.places.size();
  return say("{} of {} points{}", both_sides ? 2 * count : count, points,
             through ? ", through" : "");
}

GuideLayout GuideCurvesOperation::layout() const {
  const double a = direction == GuideDirection::AlongU   ? 0.0
                   : direction == GuideDirection::AlongV ? 90.0
                                                         : angle;
  return {a, places.places, both_sides};
}

// Seams and poles are no edges that could move by themselves.
std::vector<HeldEdge> GuideCurvesOperation::held_edges(const Body& body, std::size_t face,
                                                       std::vector<std::string>& notes) const {
  const Body with_borders = edged(body);
  std::vector<GuideHold> holds(with_borders.edges.size(), edges);
  std::vector<std::string> said;
  const auto apply = [&](const std::vector<Pick>& picks, GuideHold hold) {
    if (picks.empty()) return;
    for (const std::size_t e : edges_picked(with_borders, picks, said)) holds[e] = hold;
  };
  apply(free, GuideHold::Free);
  apply(position, GuideHold::Position);
  apply(tangent, GuideHold::Tangent);
  apply(curvature, GuideHold::Curvature);
  notes.insert(notes.end(), said.begin(), said.end());
  std::vector<int> uses(with_borders.edges.size(), 0), by_others(with_borders.edges.size(), 0);
  for (std::size_t f = 0; f < with_borders.faces.size(); ++f)
    for (const Loop& loop : with_borders.faces[f].loops)
      for (const EdgeUse& use : loop) ++(f == face ? uses : by_others)[use.edge];
  std::vector<HeldEdge> result;
  bool joined_held = false;
  for (const Loop& loop : with_borders.faces[face].loops)
    for (const EdgeUse& use : loop) {
      if (uses[use.edge] != 1 || size(with_borders.edges[use.edge].curve) < 1e-9) continue;
      GuideHold hold = holds[use.edge];
      // Moved alone it would leave its neighbour.
      if (hold == GuideHold::Free && by_others[use.edge] > 0) {
        hold = GuideHold::Position;
        joined_held = true;
      }
      result.push_back({use.uv, hold});
    }
  if (joined_held)
    notes.emplace_back(
        say("Edges joined to other faces keep their place. Take the body apart to move them."));
  return result;
}

// What the hand did on these guides; where they lay otherwise when it did, what that comes to here.
GuideCurvesOperation::OnGuides GuideCurvesOperation::on_guides(const Face& face,
                                                               const GuidedFace& plan,
                                                               const GuideOptions& options,
                                                               const Inputs& inputs,
                                                               Progress& progress) const {
  OnGuides result;
  const bool shaped = std::any_of(guides.nets.begin(), guides.nets.end(),
                                  [](const Shaping& s) { return !s.empty(); });
  const bool same =
      guides.layout == layout() && guides.points == points && guides.through == through;
  const auto shaping = [&](std::size_t k) {
    return k < guides.nets.size() ? &guides.nets[k] : nullptr;
  };
  if (!shaped || same) {
    for (std::size_t k = 0; k < plan.lines().size(); ++k) {
      const KnotVector net = net_knots(points, through, plan.lines()[k].closed);
      const Shaping* s = shaped ? shaping(k) : nullptr;
      result.moves.push_back(moves_of(s, net, through));
      result.own.push_back(fits(s, net) ? s->displacements.values()
                                        : std::vector<Vec3>(static_cast<std::size_t>(points)));
    }
    return result;
  }
  result.carried = true;
  const Plan old = plan_for(face, guides.layout, options, inputs, progress);
  std::vector<Curve> moves;
  for (std::size_t k = 0; k < old->lines().size(); ++k)
    moves.push_back(moves_of(shaping(k),
                             net_knots(guides.points, guides.through, old->lines()[k].closed),
                             guides.through));
  const SurfaceEvaluator was(old->moved(moves).surface);
  const SurfaceEvaluator below(plan.below());
  for (const GuideLine& line : plan.lines()) {
    const KnotVector net = net_knots(points, through, line.closed);
    std::vector<Vec3> at;
    for (const double t : greville_places(net)) {
      const Parameter p = line.at(t);
      at.push_back(was.point(p.u, p.v) - below.point(p.u, p.v));
    }
    result.moves.push_back(spline_through(at, net));
    result.own.push_back(through ? std::move(at) : result.moves.back().points);
  }
  return result;
}

// The points to pull, with the face's normals, and the guides as they are now.
std::shared_ptr<const HandNets> GuideCurvesOperation::hand_on(const GuidedFace& plan,
                                                              const OnGuides& moved,
                                                              const Surface& made,
                                                              bool flipped) const {
  auto hand = std::make_shared<HandNets>();
  const SurfaceEvaluator below(plan.below());
  const SurfaceEvaluator after(made);
  std::vector<Net> nets;
  std::vector<std::vector<Vec3>> normals;
  for (std::size_t k = 0; k < plan.lines().size(); ++k) {
    const GuideLine& guide = plan.lines()[k];
    const KnotVector net = net_knots(points, through, guide.closed);
    std::vector<Vec3> at, off, line;
    for (const double t : greville_places(net)) {
      const Parameter p = guide.at(t);
      at.push_back(below.point(p.u, p.v));
      off.push_back(normal(plan.below(), p.u, p.v) * (flipped ? -1.0 : 1.0));
    }
    nets.emplace_back(through ? Curve{net, at, {}} : spline_through(at, net));
    normals.push_back(std::move(off));
    hand->shapings.push_back(shaping_of(net, moved.own[k]));
    constexpr int kPieces = 64;
    for (int n = 0; n <= kPieces; ++n) {
      const Parameter p = guide.at(static_cast<double>(n) / kPieces);
      line.push_back(after.point(p.u, p.v));
    }
    hand->lines.push_back(std::move(line));
  }
  hand->below = Nets(std::move(nets));
  hand->below.normals = std::move(normals);
  return hand;
}

Outcome GuideCurvesOperation::apply(const Shape& before, const Inputs& inputs,
                                    Progress& progress) const {
  const Body& body = faces_of(before, label());
  const FacePlace place = located(body, on);
  const Face& face = body.faces[place.face];
  std::vector<std::string> notes;
  if (!place.note.empty()) notes.push_back(place.note);
  const GuideOptions options{density_u, density_v, held_edges(body, place.face, notes)};
  const Plan plan = plan_for(face, layout(), options, inputs, progress);
  const OnGuides moved = on_guides(face, *plan, options, inputs, progress);
  if (moved.carried) notes.emplace_back(say("Shaped on other guides, carried over to these."));
  const Guided made = plan->moved(moved.moves);
  notes.push_back(say("The face has {} × {} points and follows its guides within {:.3g} mm{}",
                      made.surface.u.point_count(), made.surface.v.point_count(),
                      std::max(0.001, made.miss),
                      made.miss > inputs.tolerance ? "; a denser net follows closer." : "."));
  if (made.drift > inputs.tolerance)
    notes.push_back(say("Held edges have moved by up to {:.3g} mm; a denser net holds them better.",
                        made.drift));
  if (made.degrees > 0.1)
    notes.push_back(
        say("Along edges held tangent the face has turned by up to {:.2g}°; a denser net "
            "holds them better.",
            made.degrees));
  Outcome outcome{with_surface(body, place.face, made.surface), std::move(notes)};
  outcome.hand = hand_on(*plan, moved, made.surface, face.flipped);
  return outcome;
}

OperationPtr GuideCurvesOperation::with_place(const Pick& face, int number, double u,
                                              double v) const {
  auto changed = std::make_shared<GuideCurvesOperation>(*this);
  const bool other = on.picked.empty() ? on.number != number : on.picked.front().tag != face.tag;
  changed->on.picked = {face};
  changed->on.number = number;
  std::vector<GuidePlace>& all = changed->places.places;
  if (other) all.clear();
  const GuidePlace clicked{0.5, Parameter{u, v}};
  // A click on a guide takes it away: along u and v that is known without the face.
  constexpr double kNear = 0.02;
  const auto on_it = [&](const GuidePlace& p) {
    const double across = direction == GuideDirection::AlongU ? v : u;
    if (!p.through)
      return direction != GuideDirection::Turned && std::abs(p.across - across) < kNear;
    const double du = std::abs(p.through->u - u), dv = std::abs(p.through->v - v);
    if (direction == GuideDirection::AlongU) return dv < kNear;
    if (direction == GuideDirection::AlongV) return du < kNear;
    return du < kNear && dv < kNear;
  };
  const auto found = std::find_if(all.begin(), all.end(), on_it);
  if (found == all.end()) {
    if (all.size() >= kMostPlaces) throw Error(say("There are at most 40 guide curves on a face."));
    all.push_back(clicked);
  } else if (all.size() > 1) {
    all.erase(found);
  }
  return changed;
}

GuideHold GuideCurvesOperation::hold_of(const Pick& edge) const {
  const auto in = [&](const std::vector<Pick>& picks) {
    return std::any_of(picks.begin(), picks.end(),
                       [&](const Pick& p) { return p.tag == edge.tag; });
  };
  if (in(curvature)) return GuideHold::Curvature;
  if (in(tangent)) return GuideHold::Tangent;
  if (in(position)) return GuideHold::Position;
  return in(free) ? GuideHold::Free : edges;
}

OperationPtr GuideCurvesOperation::with_next_rule(const std::vector<Pick>& clicked) const {
  auto changed = std::make_shared<GuideCurvesOperation>(*this);
  if (clicked.empty()) return changed;
  const auto next = static_cast<GuideHold>((static_cast<int>(hold_of(clicked.front())) + 1) % 4);
  const std::array<std::vector<Pick>*, 4> lists{&changed->free, &changed->position,
                                                &changed->tangent, &changed->curvature};
  for (const Pick& edge : clicked) {
    for (auto* list : lists) std::erase_if(*list, [&](const Pick& p) { return p.tag == edge.tag; });
    if (next != edges) lists[static_cast<std::size_t>(next)]->push_back(edge);
  }
  return changed;
}

std::string_view GuideCurvesOperation::rule_of(const Pick& edge) const {
  return kHolds[static_cast<std::size_t>(hold_of(edge))].label;
}

ShapesPoints::Offer GuideCurvesOperation::offered(const Shape&) const {
  throw Error(say("The points of the guide curves come with the step's result."));
}

OperationPtr GuideCurvesOperation::with_shapings(Shapings shapings) const {
  auto changed = std::make_shared<GuideCurvesOperation>(*this);
  changed->guides.nets = std::move(shapings);
  changed->guides.layout = layout();
  changed->guides.points = points;
  changed->guides.through = through;
  return changed;
}

OperationPtr GuideCurvesOperation::with_symmetry(SymmetryPlane planes) const {
  auto changed = std::make_shared<GuideCurvesOperation>(*this);
  changed->symmetry = planes;
  return changed;
}

// The ends of the guides stay where the edges do.
std::array<EdgeRule, 4> GuideCurvesOperation::edge_rules() const {
  EdgeRule rule = EdgeRule::Free;
  if (edges != GuideHold::Free) rule = EdgeRule::Position;
  if (!through && edges == GuideHold::Tangent) rule = EdgeRule::Tangent;
  if (!through && edges == GuideHold::Curvature) rule = EdgeRule::Curvature;
  return {rule, rule, EdgeRule::Free, EdgeRule::Free};
}

}  // namespace evenclay
