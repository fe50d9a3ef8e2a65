// What ModelView draws of measures: leg colours, lines through a place, the legend.
#include <QLocale>
#include <QPainter>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/model_view.h"
#include "core/check/curve_measures.h"
#include "core/check/section.h"

namespace evenclay {

namespace {

constexpr int kLegColours = 9;

void add_piece(std::vector<float>& pieces, const Vec3& a, const Vec3& b) {
  for (const Vec3& p : {a, b})
    for (std::size_t c = 0; c < 3; ++c) pieces.push_back(static_cast<float>(p[c]));
}

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto channel = [&](int x, int y) {
    return static_cast<int>(std::lround(x + (y - x) * share));
  };
  return {channel(a.red(), b.red()), channel(a.green(), b.green()), channel(a.blue(), b.blue())};
}

// −1 … 1 on the diverging map; darker in the middle than on surfaces, to be seen as a line.
QColor leg_colour(double t) {
  const QColor middle("#8C857C");
  return mixed(middle, t < 0.0 ? look::kMapBelow : look::kMapAbove, std::abs(t));
}

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

}  // namespace

std::shared_ptr<const DisplayValues> ModelView::map_values() const {
  const auto found = model_.drawn().find(model_.chosen_part());
  if (found == model_.drawn().end()) return nullptr;
  return look_ == ModelLook::Curvature ? found->second.curvature : found->second.deviation;
}

// Teeth along the rows of the point picked last, with inflections marked across the curve.
void ModelView::add_combs(Scene& scene) const {
  if (!editor_.net()) return;
  const Nets& nets = editor_.net()->shown;
  const PointIndex p = editor_.leader();
  if (!nets.contains(p)) return;
  const Net& net = nets.of(p);
  for (int d = 0; d < net.directions(); ++d) {
    Comb c;
    if (net.curve() != nullptr) c = comb(*net.curve(), comb_density_);
    if (net.surface() != nullptr) {
      const GrevillePlace g = greville(nets, p);
      c = comb(*net.surface(), d == 0 ? Direction::U : Direction::V, d == 0 ? g.v : g.u,
               comb_density_);
    }
    add_comb(scene, c, d == 0 ? look::kClay : look::kWater);
  }
}

void ModelView::add_comb(Scene& scene, const Comb& c, const QColor& colour) const {
  if (!(c.greatest > 0.0) || c.teeth.size() < 2) return;
  const double mm = pixel_size(camera_of(0), viewport(0), c.teeth.front().at) * comb_length_;
  // Away from the centre of bending, so that the teeth stand off the surface.
  const auto tip = [&](const Tooth& t) { return t.at - t.curvature * (mm / c.greatest); };
  LineItem teeth{{}, colour, 1.0F, true};
  LineItem edge{{}, look::kInk, 1.4F, true};
  for (std::size_t k = 0; k < c.teeth.size(); ++k) {
    add_piece(teeth.pieces, c.teeth[k].at, tip(c.teeth[k]));
    if (k > 0) add_piece(edge.pieces, tip(c.teeth[k - 1]), tip(c.teeth[k]));
    if (k > 0) add_piece(edge.pieces, c.teeth[k - 1].at, c.teeth[k].at);
  }
  LineItem marks{{}, look::kBad, 3.0F, true};
  const Frame axes = camera_of(0).axes();
  const double arm = pixel_size(camera_of(0), viewport(0), c.teeth.front().at) * 6.0;
  for (const Vec3& at : c.inflections) {
    add_piece(marks.pieces, at - axes.x * arm, at + axes.x * arm);
    add_piece(marks.pieces, at - axes.y * arm, at + axes.y * arm);
  }
  scene.lines.push_back(std::move(teeth));
  scene.lines.push_back(std::move(edge));
  if (!marks.pieces.empty()) scene.lines.push_back(std::move(marks));
}

// Where the work plane cuts the chosen part.
void ModelView::add_section_combs(Scene& scene) const {
  if (!editor_.net()) return;
  const SectionPlane plane{editor_.work_plane().origin, editor_.work_plane().z};
  for (const Net& net : editor_.net()->shown.nets) {
    if (net.surface() == nullptr) continue;
    for (const SectionRun& run : section(*net.surface(), plane, std::max(1, comb_density_ / 2)))
      add_comb(scene, section_comb(*net.surface(), plane, run), look::kClay);
  }
}

// A small diamond where the dragged point has snapped to.
void ModelView::add_snap_cue(Scene& scene) const {
  if (!snapped_ || hand_ != Hand::Drag) return;
  const Frame axes = camera_of(active_).axes();
  const double arm = pixel_size(camera_of(active_), viewport(active_), snapped_->at) * 9.0;
  LineItem cue{{}, look::kGood, 2.4F, true};
  const Vec3 corners[4] = {snapped_->at + axes.x * arm, snapped_->at + axes.y * arm,
                           snapped_->at - axes.x * arm, snapped_->at - axes.y * arm};
  for (std::size_t k = 0; k < 4; ++k) add_piece(cue.pieces, corners[k], corners[(k + 1) % 4]);
  scene.lines.push_back(std::move(cue));
}

QString ModelView::address_words(PointIndex p) const {
  const Nets& nets = editor_.net()->shown;
  QStringList numbers;
  if (nets.nets.size() > 1) numbers << QString::number(p.net);
  numbers << QString::number(p.i);
  if (nets.of(p).directions() > 1) numbers << QString::number(p.j);
  if (nets.of(p).directions() > 2) numbers << QString::number(p.k);
  return "[" + numbers.join(",") + "]";
}

// The numbers of all points, or of the picked ones where there are too many to read.
void ModelView::paint_numbers(QPainter& painter) const {
  if (!editor_.net() || !editor_.net_visible()) return;
  constexpr std::size_t kReadable = 400;
  const Nets& nets = editor_.net()->shown;
  Selection named = editor_.picked();
  if (nets.size() <= kReadable) named = points_where(nets, [](const Vec3&) { return true; });
  const QColor plate(look::kRaised.red(), look::kRaised.green(), look::kRaised.blue(), 205);
  std::vector<QRectF> taken;  // a number that would cover another is left out
  for (const PointIndex& p : named) {
    if (nets.representative(p) != p || taken.size() > kReadable) continue;
    const OnScreen o = to_screen(camera_of(0), viewport(0), nets.point(p));
    if (o.depth <= 0.0 || !rect().contains(o.at.toPoint()) || is_behind(nets.point(p), o.at))
      continue;
    const QString text = address_words(p);
    const QRectF box(o.at + QPointF(7, -18),
                     painter.fontMetrics().size(Qt::TextSingleLine, text) + QSize(6, 1));
    if (std::any_of(taken.begin(), taken.end(),
                    [&](const QRectF& other) { return other.intersects(box); }))
      continue;
    taken.push_back(box);
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(look::kInk);
    painter.drawText(box, Qt::AlignCenter, text);
  }
}

double ModelView::reach() const {
  if (look_ == ModelLook::Curvature && curvature_radius_ > 0.0) return 1.0 / curvature_radius_;
  if (look_ == ModelLook::Curvature) {
    const auto values = map_values();
    return values ? std::max(values->reach, 1e-9) : 1.0;
  }
  const auto found = model_.drawn().find(model_.chosen_part());
  if (found == model_.drawn().end() || !found->second.deviation) return 1.0;
  // The measure looks closer than the vertices do; the legend and the gauge must agree.
  const auto gauges = model_.gauges();
  const double measured = gauges && gauges->deviation ? gauges->deviation->max : 0.0;
  return std::max({found->second.deviation->reach, measured, 1e-6});
}

void ModelView::add_coloured_legs(Scene& s) const {
  std::array<std::vector<Leg>, 3> legs;
  for_each_leg(editor_.net()->shown, [&](int direction, const Vec3& a, const Vec3& b) {
    legs[static_cast<std::size_t>(direction)].push_back({a, b});
  });
  for (const auto& of_direction : legs) add_legs(s, of_direction);
}

void ModelView::add_place_lines(Scene& s) const {
  if (!hovered_place_) return;
  const PlacePicker::Lines lines = picker_.lines_at(*hovered_place_);
  for (const auto* run : {&lines.of_u, &lines.of_v}) {
    LineItem item{{}, run == &lines.of_u ? look::kClay : look::kWater, 2.0F, true};
    for (std::size_t k = 0; k + 1 < run->size(); ++k)
      add_piece(item.pieces, (*run)[k], (*run)[k + 1]);
    s.lines.push_back(std::move(item));
  }
}

// A vertical bar with a name and three or five values.
void ModelView::paint_legend(QPainter& painter) const {
  const bool bend = look_ == ModelLook::Curvature;
  const bool map = look_ == ModelLook::Deviation || bend;
  const bool legs = leg_colours_ && editor_.net_visible() && editor_.net();
  if (!map && !legs) return;
  const auto values = map_values();
  const bool compared = values && !values->values.empty();
  const QLocale plain = QLocale::c();
  const QRectF bar(22, 122, 14, 150);
  const QColor plate(look::kRaised.red(), look::kRaised.green(), look::kRaised.blue(), 225);
  painter.setPen(Qt::NoPen);
  painter.setBrush(plate);
  painter.drawRoundedRect(QRectF(12, 88, map ? 148 : 136, 196), 5, 5);
  painter.setPen(look::kInk);
  const QString title = bend  ? tr("bend, by radius")
                        : map ? tr("off before, mm")
                              : tr("leg ÷ mean leg");
  painter.drawText(QRectF(22, 92, 132, 22), Qt::AlignLeft | Qt::AlignVCenter, title);
  if (map && !compared) {
    painter.setPen(look::kQuietInk);
    painter.drawText(QRectF(22, 118, 130, 120), Qt::AlignLeft | Qt::TextWordWrap,
                     bend ? tr("A mesh has no curvature. Choose a part made of surfaces.")
                          : tr("Nothing to compare: choose a step that changes surfaces."));
    return;
  }
  QLinearGradient gradient(bar.topLeft(), bar.bottomLeft());
  for (int k = 0; k <= 10; ++k) {
    const double t = 1.0 - k / 5.0;
    QColor colour = leg_colour(t);
    if (bend)
      colour = mixed(look::kMapMiddle, look::kMapBelow.darker(161), 1.0 - k / 10.0);
    else if (map)
      colour = mixed(look::kMapMiddle, t < 0.0 ? look::kMapBelow : look::kMapAbove, std::abs(t));
    gradient.setColorAt(k / 10.0, colour);
  }
  painter.setPen(QPen(look::kLine, 1.0));
  painter.setBrush(gradient);
  painter.drawRect(bar);
  painter.setPen(look::kInk);
  const auto label = [&](double share, const QString& text) {
    const double y = bar.top() + bar.height() * share;
    painter.drawLine(QPointF(bar.right() + 2, y), QPointF(bar.right() + 6, y));
    painter.drawText(QRectF(bar.right() + 10, y - 9, 110, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     text);
  };
  if (bend) {
    const auto radius = [&](double share) {
      return tr("R %1 mm").arg(plain.toString(1.0 / (share * reach()), 'g', 3));
    };
    label(0.0, tr("%1 and less").arg(radius(1.0)));
    label(0.5, radius(0.5));
    label(0.75, radius(0.25));
    label(1.0, tr("flat"));
  } else if (map) {
    const double r = reach();
    const auto mm = [&](double x) { return plain.toString(x, 'g', 3); };
    label(0.0, tr("+%1 outside").arg(mm(r)));
    label(0.25, "+" + mm(0.5 * r));
    label(0.5, "0");
    label(0.75, QString::fromUtf8("\u2212") + mm(0.5 * r));
    label(1.0, QString::fromUtf8("\u2212") + tr("%1 inside").arg(mm(r)));
  } else {
    label(0.0, tr("200 % and more"));
    label(0.5, "100 %");
    label(1.0, tr("50 % and less"));
  }
}

}  // namespace evenclay
