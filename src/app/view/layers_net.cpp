// The layers of the net: legs, points, symmetry frames, arrows of the direction.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "app/look/colours.h"
#include "app/view/layers.h"

namespace evenclay {

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto channel = [&](int x, int y) {
    return static_cast<int>(std::lround(x + (y - x) * share));
  };
  return {channel(a.red(), b.red()), channel(a.green(), b.green()), channel(a.blue(), b.blue())};
}

// −1 … 1 on the diverging map; darker in the middle than on surfaces, to be seen as a line.
QColor leg_colour(double t) {
  const QColor middle("#8C857C");
  return mixed(middle, t < 0.0 ? look::colours().map_below : look::colours().map_above,
               std::abs(t));
}

namespace {

constexpr int kLegColours = 9;

struct Leg {
  Vec3 a, b;
};

// Legs of one direction, coloured by their length against the mean of the direction.
void add_legs(Scene& s, const std::vector<Leg>& legs) {
  double mean = 0.0;
  int count = 0;
  for (const Leg& l : legs)
    if (distance(l.a, l.b) > 1e-9) {  // a pole's row has no legs
      mean += distance(l.a, l.b);
      ++count;
    }
  if (count == 0) return;
  mean /= count;
  std::array<LineItem, kLegColours> bins;
  for (int k = 0; k < kLegColours; ++k)
    bins[static_cast<std::size_t>(k)] = {
        {}, leg_colour(2.0 * k / (kLegColours - 1) - 1.0), 2.4F, true};
  for (const Leg& l : legs) {
    const double length = distance(l.a, l.b);
    if (!(length > 1e-9)) continue;
    const double t = std::clamp(std::log2(length / mean), -1.0, 1.0);
    const auto bin = static_cast<std::size_t>(std::lround((t + 1.0) / 2.0 * (kLegColours - 1)));
    add_piece(bins[bin].pieces, l.a, l.b);
  }
  for (LineItem& b : bins)
    if (!b.pieces.empty()) s.lines.push_back(std::move(b));
}

void add_coloured_legs(Scene& s, const Nets& nets) {
  std::array<std::vector<Leg>, 3> legs;
  for_each_leg(nets, [&](int direction, const Vec3& a, const Vec3& b) {
    legs[static_cast<std::size_t>(direction)].push_back({a, b});
  });
  for (const auto& of_direction : legs) add_legs(s, of_direction);
}

}  // namespace

namespace {

// Creases stand out, picked edges more so; a picked face is marked by its outline drawn inside it.
void add_form_marks(Scene& s, const LayerInput& in) {
  const FormNet* net = in.editor.form();
  if (net == nullptr || in.editor.form_kind() == PickKind::Corner) return;
  const std::set<Tag> picked(in.editor.form_picked().begin(), in.editor.form_picked().end());
  LineItem marks{{}, look::colours().water, 4.0F, true};
  if (in.editor.form_kind() == PickKind::Edge) {
    for (const FormTopology::Edge& e : net->links->topology.edges)
      if (picked.contains(edge_tag(net->links->point_tags, e.points)))
        add_piece(marks.pieces, net->points[e.points[0]], net->points[e.points[1]]);
  } else {
    for (const FormFace& f : net->links->faces) {
      if (!picked.contains(f.tag)) continue;
      Vec3 middle;
      for (const std::uint32_t p : f.points)
        middle += net->points[p] / static_cast<double>(f.points.size());
      for (const double inset : {0.0, 0.12, 0.5})
        for (std::size_t k = 0; k < f.points.size(); ++k) {
          const auto at = [&](std::size_t c) {
            return net->points[f.points[c % f.points.size()]] * (1.0 - inset) + middle * inset;
          };
          add_piece(marks.pieces, at(k), at(k + 1));
        }
    }
    marks.width = 2.6F;
  }
  if (!marks.pieces.empty()) s.lines.push_back(std::move(marks));
}

}  // namespace

namespace {

// Half of a net's legs are shorter.
double usual_leg(const Net& net) {
  std::vector<double> lengths;
  for_each_leg(net, [&](int, const Vec3& a, const Vec3& b) {
    if (const double l = distance(a, b); l > 1e-9) lengths.push_back(l);
  });
  if (lengths.empty()) return 0.0;
  const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
  std::nth_element(lengths.begin(), middle, lengths.end());
  return *middle;
}

// Lines for each direction of nets whose legs are about as long.
void add_legs(Scene& s, const Nets& nets, const std::vector<double>& usual) {
  std::map<int, std::array<LineItem, 3>> sizes;
  for (std::size_t n = 0; n < nets.nets.size(); ++n) {
    const int size = usual[n] > 0.0 ? static_cast<int>(std::lround(2.0 * std::log2(usual[n]))) : 0;
    const auto [found, fresh] = sizes.try_emplace(size);
    if (fresh) {
      found->second = {{{{}, look::colours().clay, 1.5F, true},
                        {{}, look::colours().water, 1.5F, true},
                        {{}, look::colours().quiet_ink, 1.5F, true}}};
      for (LineItem& l : found->second) l.leg = usual[n];
    }
    for_each_leg(nets.nets[n],
                 [&lines = found->second](int direction, const Vec3& a, const Vec3& b) {
                   add_piece(lines[static_cast<std::size_t>(direction)].pieces, a, b);
                 });
  }
  for (auto& [size, lines] : sizes)
    for (LineItem& l : lines)
      if (!l.pieces.empty()) s.lines.push_back(std::move(l));
}

}  // namespace

void thin_crowded_net(Scene& s, double pixels_a_mm) {
  constexpr double kRoom = 13.0;  // pixels between points that are drawn whole
  constexpr double kPointsAbove = 0.55,
                   kLegsAbove = 0.25;  // of that room; closer they would be one blot
  const auto room = [&](double leg) {
    return leg > 0.0 ? leg * pixels_a_mm / (kRoom * s.point_scale) : 1.0;
  };
  std::erase_if(s.points, [&](const PointItem& p) {
    return room(p.leg) < kPointsAbove &&
           (p.state == PointState::Plain || p.state == PointState::Held);
  });
  std::erase_if(s.lines, [&](const LineItem& l) { return room(l.leg) < kLegsAbove; });
  for (PointItem& p : s.points) p.scale = std::clamp(room(p.leg), kPointsAbove, 1.0);
  for (LineItem& l : s.lines) l.width *= static_cast<float>(std::clamp(room(l.leg), 0.5, 1.0));
}

void add_net(Scene& s, const LayerInput& in) {
  const Part* part = find_part(in.model.document(), in.model.chosen_part());
  if (!in.editor.net_visible() || !in.editor.net() || part == nullptr || !in.model.is_shown(*part))
    return;
  const Nets& nets = in.editor.net()->shown;
  std::vector<double> usual;
  for (const Net& net : nets.nets) usual.push_back(usual_leg(net));
  if (in.settings.leg_colours) {
    add_coloured_legs(s, nets);
  } else {
    add_legs(s, nets, usual);
  }
  add_form_marks(s, in);
  const Selection partners = in.editor.partners();
  const bool shared = in.editor.shares().fits(nets);
  // Where edges or faces are picked, points would only be in the way.
  if (in.editor.form() != nullptr && in.editor.form_kind() != PickKind::Corner) return;
  for_each_point(nets, [&](PointIndex p) {
    PointState state = PointState::Plain;
    if (partners.contains(p)) state = PointState::Partner;
    if (in.editor.held(p)) state = PointState::Held;
    if (in.editor.picked().contains(p)) state = PointState::Picked;
    if (in.hovered == p) state = PointState::Hovered;
    s.points.push_back({nets.point(p), state, nets.weight(p), shared ? in.editor.shares()(p) : 0.0,
                        usual[static_cast<std::size_t>(p.net)]});
  });
}

void add_hand_lines(Scene& s, const LayerInput& in) {
  const auto answer = in.model.answer();
  if (!answer || !answer->hand_lines || answer->chosen != in.model.chosen_part()) return;
  LineItem lines{{}, look::colours().water, 2.2F, true};
  for (const auto& line : *answer->hand_lines)
    for (std::size_t k = 1; k < line.size(); ++k) add_piece(lines.pieces, line[k - 1], line[k]);
  s.lines.push_back(std::move(lines));
}

void add_marks(Scene& s, const LayerInput& in) {
  const auto answer = in.model.answer();
  if (!answer || answer->marks.empty() || answer->chosen != in.model.chosen_part()) return;
  LineItem first{{}, look::colours().good, 4.0F, true};
  LineItem others{{}, look::colours().good, 1.4F, true};
  for (std::size_t k = 0; k < answer->marks.size(); ++k)
    add_piece((k == 0 ? first : others).pieces, answer->marks[k][0], answer->marks[k][1]);
  s.lines.push_back(std::move(first));
  if (!others.pieces.empty()) s.lines.push_back(std::move(others));
}

void add_crossings(Scene& s, const LayerInput& in) {
  const auto gauges = in.model.gauges();
  if (!gauges || !gauges->crossings || gauges->crossings->empty() || !in.model.up_to_date()) return;
  LineItem lines{{}, look::colours().bad, 4.0F, true};
  for (const Crossing& c : *gauges->crossings)
    for (const auto& [a, b] : c.pieces) add_piece(lines.pieces, a, b);
  s.lines.push_back(std::move(lines));
}

void add_symmetry_frames(Scene& s, const LayerInput& in) {
  if (!in.editor.net() || !in.editor.net_visible()) return;
  for (const SymmetryPlane plane : planes_of(in.editor.symmetry())) {
    Box3 box = box_of(in.editor.net()->shown);
    for (const Vec3& corner : {box.min, box.max}) box.add(mirrored(corner, plane));
    const Vec3 margin = Vec3{1, 1, 1} * (0.06 * box.size());
    const Vec3 a = box.min - margin;
    const Vec3 b = box.max + margin;
    std::array<Vec3, 4> c;
    if (plane == SymmetryPlane::YZ)
      c = {{{0, a.y, a.z}, {0, b.y, a.z}, {0, b.y, b.z}, {0, a.y, b.z}}};
    else if (plane == SymmetryPlane::XZ)
      c = {{{a.x, 0, a.z}, {b.x, 0, a.z}, {b.x, 0, b.z}, {a.x, 0, b.z}}};
    else
      c = {{{a.x, a.y, 0}, {b.x, a.y, 0}, {b.x, b.y, 0}, {a.x, b.y, 0}}};
    LineItem frame{{}, look::colours().quiet_ink, 1.0F, true};
    for (std::size_t k = 0; k < 4; ++k) add_piece(frame.pieces, c[k], c[(k + 1) % 4]);
    s.lines.push_back(std::move(frame));
  }
}

// Arrows of the chosen direction at the picked points; one at the centre when all are parallel.
void add_arrows(Scene& s, const LayerInput& in, std::size_t k) {
  if (!in.editor.net() || !in.editor.net_visible() || in.editor.picked().empty()) return;
  const Camera& c = in.views.camera(k);
  const Frame axes = c.axes();
  const double scale = k == 0 ? 1.0 : 0.45;
  LineItem arrows{{}, look::colours().water, k == 0 ? 2.2F : 1.4F, true};
  const auto arrow = [&](const Vec3& from, const Vec3& direction, double pixels) {
    const Vec3 d = direction * (pixels * pixel_size(c, in.views.rect(k), from));
    const Vec3 side = normalized(cross(direction, axes.z)) * length(d) * 0.13;
    add_piece(arrows.pieces, from, from + d);
    add_piece(arrows.pieces, from + d, from + d * 0.78 + side);
    add_piece(arrows.pieces, from + d, from + d * 0.78 - side);
  };
  const MoveDirection d = in.editor.direction();
  const bool free =
      d == MoveDirection::InView || d == MoveDirection::OnSkin || d == MoveDirection::WorkPlane;
  const bool own = d == MoveDirection::OffSkin || d == MoveDirection::AlongU ||
                   d == MoveDirection::AlongV || d == MoveDirection::AlongW;
  if (in.editor.mode() == EditMode::PullSkin || in.editor.mode() == EditMode::Weight) return;
  if (in.editor.mode() == EditMode::Scale || in.editor.mode() == EditMode::Turn) {
    // A cross at the centre; turning shows its axis as well.
    const Vec3 centre = in.editor.pivot_place();
    const double arm = 9.0 * scale * pixel_size(c, in.views.rect(k), centre);
    for (const Vec3& w : {axes.x, axes.y})
      add_piece(arrows.pieces, centre - w * arm, centre + w * arm);
    if (in.editor.mode() == EditMode::Turn)
      arrow(centre, in.editor.axis(in.editor.leader(), axes), 62.0 * scale);
  } else if (own && in.editor.form() != nullptr && in.editor.form_kind() != PickKind::Corner) {
    Vec3 mean;  // of faces and edges one arrow, off all of them together
    for (const PointIndex& p : in.editor.picked()) mean += in.editor.axis(p, axes);
    if (length(mean) > 1e-9) arrow(in.editor.picked_centre(), normalized(mean), 62.0 * scale);
  } else if (own) {
    std::size_t drawn = 0;
    for (const PointIndex& p : in.editor.picked())
      if (++drawn <= 40)
        arrow(in.editor.net()->shown.point(p), in.editor.axis(p, axes),
              (p == in.editor.leader() ? 56.0 : 30.0) * scale);
  } else if (free) {
    for (const Vec3& w : {axes.x, axes.y, -axes.x, -axes.y})
      arrow(in.editor.picked_centre(), w, 40.0 * scale);
  } else {
    arrow(in.editor.picked_centre(), in.editor.axis(in.editor.leader(), axes), 62.0 * scale);
  }
  s.lines.push_back(std::move(arrows));
}

}  // namespace evenclay
