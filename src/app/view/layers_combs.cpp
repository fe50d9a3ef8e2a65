// The layers of combs.
#include "app/look/colours.h"
#include "app/view/layers.h"
#include "core/check/curve_measures.h"

namespace evenclay {

namespace {

constexpr int kFiner = 4;  // places of the outer line for each tooth that is drawn

double run_length(const Comb& c) {
  double sum = 0.0;
  for (std::size_t k = 1; k < c.teeth.size(); ++k)
    sum += distance(c.teeth[k - 1].at, c.teeth[k].at);
  return sum;
}

void add_comb(Scene& scene, const LayerInput& in, const Comb& c, const QColor& colour) {
  if (!(c.greatest > 0.0) || c.teeth.size() < 2) return;
  const double mm = pixel_size(in.views.camera(0), in.views.rect(0), c.teeth.front().at) *
                    in.settings.comb_length;
  // Away from the centre of bending, so that the teeth stand off the surface.
  const auto tip = [&](const Tooth& t) { return t.at - t.curvature * (mm / c.greatest); };
  LineItem teeth{{}, colour, 1.0F, true};
  LineItem edge{{}, look::colours().ink, 1.4F, true};
  const double apart = run_length(c) * kFiner / static_cast<double>(c.teeth.size());
  double since = apart;
  for (std::size_t k = 0; k < c.teeth.size(); ++k) {
    if (k > 0) since += distance(c.teeth[k - 1].at, c.teeth[k].at);
    if (since >= apart || k + 1 == c.teeth.size()) {
      add_piece(teeth.pieces, c.teeth[k].at, tip(c.teeth[k]));
      since = 0.0;
    }
    if (k > 0) add_piece(edge.pieces, tip(c.teeth[k - 1]), tip(c.teeth[k]));
    if (k > 0) add_piece(edge.pieces, c.teeth[k - 1].at, c.teeth[k].at);
  }
  LineItem marks{{}, look::colours().bad, 3.0F, true};
  const Frame axes = in.views.camera(0).axes();
  const double arm = pixel_size(in.views.camera(0), in.views.rect(0), c.teeth.front().at) * 6.0;
  for (const Vec3& at : c.inflections) {
    add_piece(marks.pieces, at - axes.x * arm, at + axes.x * arm);
    add_piece(marks.pieces, at - axes.y * arm, at + axes.y * arm);
  }
  scene.lines.push_back(std::move(teeth));
  scene.lines.push_back(std::move(edge));
  if (!marks.pieces.empty()) scene.lines.push_back(std::move(marks));
}

// Teeth along the rows of the point picked last, with inflections marked across the curve.
void add_row_combs(Scene& scene, const LayerInput& in) {
  if (!in.editor.net()) return;
  const Nets& nets = in.editor.net()->shown;
  const PointIndex p = in.editor.leader();
  if (!nets.contains(p)) return;
  const Net& net = nets.of(p);
  for (int d = 0; d < net.directions(); ++d) {
    Comb c;
    if (net.curve() != nullptr) c = comb(*net.curve(), in.settings.comb_density * kFiner);
    if (net.surface() != nullptr) {
      const GrevillePlace g = greville(nets, p);
      c = comb(*net.surface(), d == 0 ? Direction::U : Direction::V, d == 0 ? g.v : g.u,
               in.settings.comb_density * kFiner);
    }
    add_comb(scene, in, c, d == 0 ? look::colours().clay : look::colours().water);
  }
}

}  // namespace

void add_combs(Scene& scene, const LayerInput& in) {
  if (in.settings.combs) add_row_combs(scene, in);
  if (const auto other = in.model.watched_section(); other && in.settings.section_combs) {
    LineItem item{{}, look::colours().water, 2.0F, true};
    item.pieces = other->pieces;
    scene.lines.push_back(std::move(item));
  }
  const auto sections = in.model.sections();
  if (!in.settings.section_combs || !sections || !in.editor.net()) return;
  for (const Comb& c : *sections) add_comb(scene, in, c, look::colours().clay);
}

}  // namespace evenclay
