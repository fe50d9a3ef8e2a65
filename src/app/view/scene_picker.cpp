#include "app/view/scene_picker.h"

#include <cmath>
#include <limits>

#include "app/view/near_line.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

// Distance along the ray, from either side (T. Möller, B. Trumbore, Fast, minimum storage ray/triangle intersection,
// 1997).
std::optional<double> ray_triangle(const Ray& ray, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 x = b - a;
  const Vec3 y = c - a;
  const Vec3 p = cross(ray.direction, y);
  const double det = dot(x, p);
  if (std::abs(det) < 1e-12) return std::nullopt;
  const Vec3 t = ray.origin - a;
  const double u = dot(t, p) / det;
  const Vec3 q = cross(t, x);
  const double v = dot(ray.direction, q) / det;
  if (u < 0.0 || v < 0.0 || u + v > 1.0) return std::nullopt;
  const double way = dot(y, q) / det;
  if (way <= 0.0) return std::nullopt;
  return way;
}

constexpr double kPickRadius = 10.0;  // pixels
constexpr double kLineRadius = 6.0;
}  // namespace

std::optional<PointIndex> ScenePicker::point_at(const QPointF& at) const {
  if (!editor_.net() || !editor_.net_visible()) return std::nullopt;
  const std::size_t k = views_.at(at);
  const Nets& nets = editor_.net()->shown;
  std::optional<PointIndex> best;
  double best_rank = std::numeric_limits<double>::infinity();
  for_each_point(nets, [&](PointIndex p) {
    const OnScreen o = to_screen(views_.camera(k), views_.rect(k), nets.point(p));
    const double d = std::hypot(o.at.x() - at.x(), o.at.y() - at.y());
    if (d > kPickRadius || o.depth <= 0.0) return;
    // Of points that lie together on the screen the front one is meant.
    const double rank = std::floor(d / 4.0) * 1e6 + o.depth;
    if (rank < best_rank) {
      best_rank = rank;
      best = p;
    }
  });
  return best;
}

std::optional<ScenePicker::Pressed> ScenePicker::net_line_at(const QPointF& at) const {
  const Nets& nets = editor_.net()->shown;
  const std::size_t k = views_.at(at);
  std::optional<Pressed> best;
  double nearest = kLineRadius;
  for_each_point(nets, [&](PointIndex p) {
    for (int d = 0; d < nets.of(p).directions(); ++d) {
      const auto q = neighbour(nets.of(p), p, d, 1);
      if (!q) continue;
      std::vector<float> piece;
      for (const Vec3& x : {nets.point(p), nets.point(*q)})
        for (std::size_t a = 0; a < 3; ++a) piece.push_back(static_cast<float>(x[a]));
      const NearLine near = near_line(views_.camera(k), views_.rect(k), at, piece);
      if (near.pixels >= nearest) continue;
      nearest = near.pixels;
      best = Pressed{near.share < 0.5 ? p : *q, row_through(nets, p, d)};
    }
  });
  return best;
}

std::optional<ScenePicker::Pressed> ScenePicker::pressed_at(const QPointF& at) const {
  if (!editor_.net() || !editor_.net_visible()) return std::nullopt;
  if (editor_.form() != nullptr) return form_at(at);
  if (editor_.filter() != PickFilter::NetLines)
    if (const auto point = point_at(at)) return Pressed{*point, {*point}};
  if (editor_.filter() == PickFilter::Points) return std::nullopt;
  return net_line_at(at);
}

std::optional<ScenePicker::Pressed> ScenePicker::form_at(const QPointF& at) const {
  const FormNet& net = *editor_.form();
  const PickKind kind = editor_.form_kind();
  if (kind == PickKind::Corner) {
    const auto point = point_at(at);
    if (!point) return std::nullopt;
    return Pressed{*point, {*point}, net.links->point_tags[static_cast<std::size_t>(point->i)]};
  }
  const auto tag = kind == PickKind::Edge ? form_edge_at(at) : form_face_at(at);
  if (!tag) return std::nullopt;
  const Selection points = points_of(net, kind, {*tag});
  if (points.empty()) return std::nullopt;
  return Pressed{*points.begin(), points, *tag};
}

// Of edges that lie together on the screen the front one is meant.
std::optional<Tag> ScenePicker::form_edge_at(const QPointF& at) const {
  const FormNet& net = *editor_.form();
  const std::size_t k = views_.at(at);
  std::optional<FormEdge> best;
  double best_rank = std::numeric_limits<double>::infinity();
  for (const FormTopology::Edge& e : net.links->topology.edges) {
    std::vector<float> piece;
    for (const std::uint32_t p : e.points)
      for (std::size_t a = 0; a < 3; ++a) piece.push_back(static_cast<float>(net.points[p][a]));
    const NearLine near = near_line(views_.camera(k), views_.rect(k), at, piece);
    if (near.pixels >= kPickRadius) continue;
    const Vec3 place =
        net.points[e.points[0]] * (1.0 - near.share) + net.points[e.points[1]] * near.share;
    const double depth = to_screen(views_.camera(k), views_.rect(k), place).depth;
    const double rank = std::floor(near.pixels / 4.0) * 1e6 + depth;
    if (rank >= best_rank) continue;
    best_rank = rank;
    best = e.points;
  }
  if (!best) return std::nullopt;
  return edge_tag(net.links->point_tags, *best);
}

// The face whose smooth skin is seen there; beside the skin the front polygon of the net.
std::optional<Tag> ScenePicker::form_face_at(const QPointF& at) const {
  const FormNet& net = *editor_.form();
  const std::size_t k = views_.at(at);
  const Ray ray = ray_through(views_.camera(k), views_.rect(k), at);
  const auto drawn = model_.drawn().find(model_.chosen_part());
  if (drawn != model_.drawn().end() && drawn->second.mesh && drawn->second.shape)
    if (const auto* form = std::get_if<Form>(drawn->second.shape.get()))
      if (const auto found = first_hit(ray, drawn->second))
        if (const auto face =
                face_of_triangle(*form, drawn->second.mesh->indices.size() / 3, found->triangle))
          return form->faces[*face].tag;
  std::optional<Tag> best;
  double nearest = std::numeric_limits<double>::infinity();
  for (const FormFace& face : net.links->faces)
    for (std::size_t c = 1; c + 1 < face.points.size(); ++c) {
      const auto t = ray_triangle(ray, net.points[face.points[0]], net.points[face.points[c]],
                                  net.points[face.points[c + 1]]);
      if (!t || *t >= nearest) continue;
      nearest = *t;
      best = face.tag;
    }
  return best;
}

PartId ScenePicker::part_at(const QPointF& at) const {
  const std::size_t k = views_.at(at);
  const Ray ray = ray_through(views_.camera(k), views_.rect(k), at);
  PartId front = 0;
  double nearest = std::numeric_limits<double>::infinity();
  for (const Part& part : model_.document().parts) {
    const auto drawn = model_.drawn().find(part.id);
    if (!model_.is_shown(part) || is_locked(model_.document(), part) ||
        drawn == model_.drawn().end() || !drawn->second.mesh)
      continue;
    if (drawn->second.curves) {
      const NearLine near =
          near_line(views_.camera(k), views_.rect(k), at, drawn->second.curves->pieces);
      if (near.pixels < kCurveRadius) return part.id;  // a curve is thin: it is meant
      continue;
    }
    const auto distance = hit(ray, drawn->second);
    if (!distance || *distance >= nearest) continue;
    nearest = *distance;
    front = part.id;
  }
  return front;
}

bool ScenePicker::hides(std::size_t k, const Vec3& at, double margin) const {
  const auto drawn = model_.drawn().find(model_.chosen_part());
  if (drawn == model_.drawn().end() || !drawn->second.mesh) return false;
  const OnScreen o = to_screen(views_.camera(k), views_.rect(k), at);
  const Ray ray = ray_through(views_.camera(k), views_.rect(k), o.at);
  const auto first = hit(ray, drawn->second);
  const double there = dot(at - ray.origin, ray.direction);
  return first && *first < there - margin * drawn->second.mesh->box.size();
}

bool ScenePicker::is_behind(const Vec3& at) const {
  return hides(0, at, 0.01);
}

Selection ScenePicker::without_hidden(const Selection& points, std::size_t k) const {
  Selection result;
  for (const PointIndex& p : points)
    if (!hides(k, editor_.net()->shown.point(p), 0.02)) result.insert(p);
  return result;
}

std::optional<SurfacePlace> ScenePicker::place_at(const QPointF& at) const {
  return place_on(model_.chosen_part(), at);
}

std::optional<SurfacePlace> ScenePicker::place_on(PartId part, const QPointF& at) const {
  const std::size_t k = views_.at(at);
  const auto drawn = model_.drawn().find(part);
  if (drawn == model_.drawn().end() || !drawn->second.mesh) return std::nullopt;
  if (drawn->second.curves) return place_on_curves(at, *drawn->second.shape);
  const auto found = first_hit(ray_through(views_.camera(k), views_.rect(k), at), drawn->second);
  if (!found) return std::nullopt;
  return place_in_triangle(*drawn->second.mesh, found->triangle, found->b, found->c);
}

std::optional<SurfacePlace> ScenePicker::place_on_curves(const QPointF& at,
                                                         const Shape& shape) const {
  const std::size_t k = views_.at(at);
  const auto* set = std::get_if<CurveSet>(&shape);
  if (set == nullptr) return std::nullopt;
  std::optional<SurfacePlace> best;
  double nearest = kCurveRadius;
  for (std::size_t c = 0; c < set->curves.size(); ++c) {
    const Curve& curve = set->curves[c];
    const DisplayLines lines = curve_lines(CurveSet{{curve}}, 24);
    const NearLine near = near_line(views_.camera(k), views_.rect(k), at, lines.pieces);
    if (near.pixels >= nearest) continue;
    nearest = near.pixels;
    // The run of the pieces is the run of the parameter, span by span.
    std::vector<double> run = sample_places(curve.knots, curve.knots.degree == 1 ? 1 : 24);
    if (curve.knots.periodic) run.push_back(curve.knots.last());
    const double t = run[near.piece] + (run[near.piece + 1] - run[near.piece]) * near.share;
    best = SurfacePlace{static_cast<int>(c), (t - curve.knots.first()) / curve.knots.length(), 0.0};
  }
  return best;
}

}  // namespace evenclay
