#include "core/points/net.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

}  // namespace

int Net::directions() const {
  if (form() != nullptr) return 0;
  return curve() != nullptr ? 1 : (surface() != nullptr ? 2 : 3);
}

const KnotVector* Net::knots(int d) const {
  if (const Curve* c = curve()) return d == 0 ? &c->knots : nullptr;
  if (const Surface* s = surface()) return d == 0 ? &s->u : (d == 1 ? &s->v : nullptr);
  const Lattice* l = lattice();
  if (l == nullptr) return nullptr;
  return d == 0 ? &l->u : (d == 1 ? &l->v : &l->w);
}

int Net::count(int d) const {
  if (const Curve* c = curve()) return d == 0 ? c->point_count() : 1;
  if (const FormNet* f = form()) return d == 0 ? static_cast<int>(f->points.size()) : 1;
  const Grid<Vec3>& p = surface() != nullptr ? surface()->points : lattice()->points;
  return d == 0 ? p.rows() : (d == 1 ? p.columns() : p.layers());
}

bool Net::closed(int d) const {
  const KnotVector* k = knots(d);
  return k != nullptr && k->periodic;
}

std::size_t Net::size() const {
  return at(count(0)) * at(count(1)) * at(count(2));
}

const Vec3& Net::point(int i, int j, int k) const {
  if (const Surface* s = surface()) return s->points(i, j);
  if (const Curve* c = curve()) return c->points[at(i)];
  if (const FormNet* f = form()) return f->points[at(i)];
  return lattice()->points(i, j, k);
}

void Net::set_point(int i, int j, int k, const Vec3& p) {
  if (auto* s = std::get_if<Surface>(&geometry_))
    s->points(i, j) = p;
  else if (auto* c = std::get_if<Curve>(&geometry_))
    c->points[at(i)] = p;
  else if (auto* f = std::get_if<FormNet>(&geometry_))
    f->points[at(i)] = p;
  else
    std::get<Lattice>(geometry_).points(i, j, k) = p;
}

double Net::weight(int i, int j, int) const {
  if (const Surface* s = surface()) return s->weight(i, j);
  if (const Curve* c = curve()) return c->weight(i);
  return 1.0;
}

void Net::multiply_weights(const Grid<double>& factors) {
  if (auto* s = std::get_if<Surface>(&geometry_)) {
    if (s->weights.empty()) s->weights = Grid<double>(s->points.rows(), s->points.columns(), 1.0);
    for (std::size_t k = 0; k < factors.values().size(); ++k)
      s->weights.values()[k] *= factors.values()[k];
  } else if (auto* c = std::get_if<Curve>(&geometry_)) {
    if (c->weights.empty()) c->weights.assign(c->points.size(), 1.0);
    for (std::size_t k = 0; k < factors.values().size(); ++k) c->weights[k] *= factors.values()[k];
  }
}

namespace {

// Points at the ends of a curve and the open borders of a surface; none of a cage or form.
std::vector<PointIndex> border_points(const Net& net, int number) {
  std::vector<PointIndex> result;
  if (net.lattice() != nullptr || net.form() != nullptr) return result;
  for_each_point(net, number, [&](PointIndex p) {
    for (int d = 0; d < net.directions(); ++d) {
      const int place = place_along(p, d);
      if (net.closed(d) || (place != 0 && place + 1 != net.count(d))) continue;
      result.push_back(p);
      break;
    }
  });
  return result;
}

}  // namespace

// Border points are sorted along x, and only those within the tolerance are compared.
Nets::Nets(std::vector<Net> parts) : nets(std::move(parts)) {
  std::vector<PointIndex> border;
  for (std::size_t n = 0; n < nets.size(); ++n) {
    const std::vector<PointIndex> more = border_points(nets[n], static_cast<int>(n));
    border.insert(border.end(), more.begin(), more.end());
  }
  std::sort(border.begin(), border.end(),
            [&](PointIndex a, PointIndex b) { return point(a).x < point(b).x; });
  std::vector<bool> taken(border.size(), false);
  for (std::size_t a = 0; a < border.size(); ++a) {
    if (taken[a]) continue;
    std::vector<PointIndex> one_place{border[a]};
    for (std::size_t b = a + 1; b < border.size(); ++b) {
      if (point(border[b]).x - point(border[a]).x > kOnePlace) break;
      if (taken[b] || distance(point(border[a]), point(border[b])) > kOnePlace) continue;
      taken[b] = true;
      one_place.push_back(border[b]);
    }
    if (one_place.size() < 2) continue;
    std::sort(one_place.begin(), one_place.end());
    for (const PointIndex& p : one_place) united_of[p] = united.size();
    united.push_back(std::move(one_place));
  }
}

bool Nets::contains(PointIndex p) const {
  return p.net >= 0 && p.net < static_cast<int>(nets.size()) && p.i >= 0 && p.j >= 0 && p.k >= 0 &&
         p.i < of(p).count(0) && p.j < of(p).count(1) && p.k < of(p).count(2);
}

PointIndex Nets::representative(PointIndex p) const {
  const auto found = united_of.find(p);
  return found == united_of.end() ? p : united[found->second].front();
}

std::size_t Nets::size() const {
  std::size_t sum = 0;
  for (const Net& n : nets) sum += n.size();
  return sum;
}

std::optional<PointIndex> neighbour(const Net& net, PointIndex p, int d, int steps) {
  const int count = net.count(d);
  int place = place_along(p, d) + steps;
  if (net.closed(d)) place = ((place % count) + count) % count;
  if (place < 0 || place >= count) return std::nullopt;
  return with_place(p, d, place);
}

}  // namespace evenclay
