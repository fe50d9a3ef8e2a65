// A drawing of three views with the lengths of the box (parts_out.h).
#include <fmt/format.h>

#include <array>
#include <cmath>
#include <map>
#include <numbers>

#include "core/exchange/parts_out.h"
#include "core/mesh/ray_scene.h"

namespace evenclay {

namespace {

constexpr double kMargin = 25.0, kGap = 25.0, kBeside = 12.0;  // mm on the sheet

struct View {
  std::string_view name;
  Vec3 right, up, towards;  // towards the eye
};
constexpr std::array<View, 3> kViews{{{"front", {1, 0, 0}, {0, 0, 1}, {0, -1, 0}},
                                      {"above", {1, 0, 0}, {0, 1, 0}, {0, 0, 1}},
                                      {"left", {0, -1, 0}, {0, 0, 1}, {-1, 0, 0}}}};

// A piece of a line that may be hidden; the normal is zero where none is known.
struct Piece {
  Vec3 a, b, normal;
};

using Index = std::uint32_t;

// Where a smooth mesh turns away from the eye: across each triangle whose normals look both ways.
void add_outline(const TriangleMesh& mesh, const Vec3& towards, std::vector<Piece>& pieces) {
  for (const auto& t : mesh.triangles) {
    std::array<double, 3> s{};
    for (std::size_t k = 0; k < 3; ++k) s[k] = dot(mesh.normals[t[k]], towards);
    std::vector<std::pair<Vec3, Vec3>> at;
    for (std::size_t k = 0; k < 3; ++k) {
      const std::size_t n = (k + 1) % 3;
      if ((s[k] < 0.0) == (s[n] < 0.0)) continue;
      const double share = s[k] / (s[k] - s[n]);
      at.emplace_back(mesh.points[t[k]] * (1.0 - share) + mesh.points[t[n]] * share,
                      mesh.normals[t[k]] * (1.0 - share) + mesh.normals[t[n]] * share);
    }
    if (at.size() == 2)
      pieces.push_back({at[0].first, at[1].first, normalized(at[0].second + at[1].second)});
  }
}

// Of a mesh of flat faces the edges that are sharp, open, or turn away from the eye.
void add_flat_outline(const TriangleMesh& mesh, const Vec3& towards, std::vector<Piece>& pieces) {
  constexpr double kSharp = 0.866;  // cosine of 30°
  std::map<std::pair<Index, Index>, std::vector<Vec3>> faces;
  for (const auto& t : mesh.triangles) {
    const Vec3 n = normalized(
        cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
    for (std::size_t k = 0; k < 3; ++k) faces[std::minmax(t[k], t[(k + 1) % 3])].push_back(n);
  }
  for (const auto& [ends, normals] : faces) {
    const bool plain = normals.size() == 2 && dot(normals[0], normals[1]) > kSharp &&
                       (dot(normals[0], towards) < 0.0) == (dot(normals[1], towards) < 0.0);
    Vec3 sum;
    for (const Vec3& n : normals) sum += n;
    if (!plain)
      pieces.push_back({mesh.points[ends.first], mesh.points[ends.second],
                        length(sum) > 1e-9 ? normalized(sum) : Vec3{}});
  }
}

class Sheet {
 public:
  Sheet(std::span<const OutMesh> meshes, std::span<const OutLine> lines)
      : meshes_(meshes), lines_(lines), rays_(merged(meshes, 1.0)) {
    for (const OutMesh& m : meshes)
      for (const Vec3& p : m.mesh.points) box_.add(p);
    for (const OutLine& l : lines)
      for (const Vec3& p : l.places) box_.add(p);
    lift_ = 1.5e-3 * std::max(box_.size(), 1e-6);
    const Vec3 extent = box_.max - box_.min;
    wide_ = extent.x;
    deep_ = extent.y;
    high_ = extent.z;
  }

  std::string svg(Progress& progress) {
    const double width = 2 * kMargin + wide_ + kGap + deep_;
    const double height = 2 * kMargin + high_ + kGap + deep_;
    write(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
        "version=\"1.1\" width=\"{0:.6g}mm\" height=\"{1:.6g}mm\" viewBox=\"0 0 {0:.6g} "
        "{1:.6g}\">\n",
        width, height);
    for (const View& v : kViews) {
      progress.check();
      draw(v);
    }
    sizes();
    write("</svg>\n");
    return fmt::to_string(text_);
  }

 private:
  template <typename... Values>
  void write(fmt::format_string<Values...> words, Values&&... values) {
    fmt::format_to(std::back_inserter(text_), words, std::forward<Values>(values)...);
  }
  // Open skins may have their outside on either side.
  bool seen(const Piece& piece, const View& v) const {
    const Vec3 middle = (piece.a + piece.b) * 0.5 + v.towards * lift_;
    return !rays_.first({middle + piece.normal * lift_, v.towards}) ||
           (length(piece.normal) > 0.0 && !rays_.first({middle - piece.normal * lift_, v.towards}));
  }
  std::vector<Piece> pieces_of(const View& v) const {
    std::vector<Piece> pieces;
    for (const OutMesh& m : meshes_) {
      if (m.mesh.normals.empty())
        add_flat_outline(m.mesh, v.towards, pieces);
      else
        add_outline(m.mesh, v.towards, pieces);
    }
    const double most =
        5e-3 * std::max(box_.size(), 1e-6);  // so that what is half hidden is half drawn
    for (const OutLine& l : lines_)
      for (std::size_t k = 0; k + (l.closed ? 0 : 1) < l.places.size(); ++k) {
        const Vec3& a = l.places[k];
        const Vec3& b = l.places[(k + 1) % l.places.size()];
        const int parts = std::max(1, static_cast<int>(std::ceil(distance(a, b) / most)));
        for (int n = 0; n < parts; ++n)
          pieces.push_back({a + (b - a) * (static_cast<double>(n) / parts),
                            a + (b - a) * (static_cast<double>(n + 1) / parts),
                            {}});
      }
    return pieces;
  }
  void draw(const View& v) {
    const bool above = v.name == "above", left = v.name == "left";
    const double x0 = kMargin + (left ? wide_ + kGap : 0.0);
    const double y0 = kMargin + (above ? high_ + kGap : 0.0);
    const auto low = [&](const Vec3& axis) {
      return std::min(dot(box_.min, axis), dot(box_.max, axis));
    };
    const auto high = [&](const Vec3& axis) {
      return std::max(dot(box_.min, axis), dot(box_.max, axis));
    };
    const double from_x = low(v.right), from_y = high(v.up);
    write(
        "<path id=\"{}\" fill=\"none\" stroke=\"#000000\" stroke-width=\"0.5\" "
        "stroke-linecap=\"round\" d=\"",
        v.name);
    std::array<double, 2> pen{1e300, 1e300};
    for (const Piece& p : pieces_of(v)) {
      if (!seen(p, v)) continue;
      const std::array<double, 2> a{x0 + dot(p.a, v.right) - from_x, y0 + from_y - dot(p.a, v.up)};
      const std::array<double, 2> b{x0 + dot(p.b, v.right) - from_x, y0 + from_y - dot(p.b, v.up)};
      if (std::hypot(a[0] - b[0], a[1] - b[1]) < 1e-9) continue;  // seen from its end
      if (std::hypot(pen[0] - a[0], pen[1] - a[1]) > 1e-9) write("M{:.6g} {:.6g}", a[0], a[1]);
      write("L{:.6g} {:.6g}", b[0], b[1]);
      pen = b;
    }
    write("\"/>\n");
  }
  // A length between two places, its line `beside` mm away from them, to the left of the way from a to b.
  void dimension(const std::array<double, 2>& a, const std::array<double, 2>& b, double beside) {
    const double length = std::hypot(b[0] - a[0], b[1] - a[1]);
    if (!(length > 0.0)) return;
    const std::array<double, 2> way{(b[0] - a[0]) / length, (b[1] - a[1]) / length};
    const std::array<double, 2> off{way[1], -way[0]};
    const auto at = [&](const std::array<double, 2>& p, double along, double out) {
      return fmt::format("{:.6g} {:.6g}", p[0] + way[0] * along + off[0] * out,
                         p[1] + way[1] * along + off[1] * out);
    };
    write(
        "<path fill=\"none\" stroke=\"#000000\" stroke-width=\"0.25\" d=\"M{}L{}M{}L{}M{}L{}\"/>\n",
        at(a, 0, 2), at(a, 0, beside + 2), at(b, 0, 2), at(b, 0, beside + 2), at(a, 0, beside),
        at(b, 0, beside));
    write("<path fill=\"#000000\" d=\"M{}L{}L{}ZM{}L{}L{}Z\"/>\n", at(a, 0, beside),
          at(a, 3, beside + 0.5), at(a, 3, beside - 0.5), at(b, 0, beside), at(b, -3, beside + 0.5),
          at(b, -3, beside - 0.5));
    const std::array<double, 2> middle{0.5 * (a[0] + b[0]) + off[0] * (beside + 1.5),
                                       0.5 * (a[1] + b[1]) + off[1] * (beside + 1.5)};
    write(
        "<text font-family=\"sans-serif\" font-size=\"5\" text-anchor=\"middle\" "
        "transform=\"translate({:.6g} {:.6g}) rotate({:.6g})\">{:.1f}</text>\n",
        middle[0], middle[1], std::atan2(way[1], way[0]) * 180.0 / std::numbers::pi, length);
  }
  // Width over the view from above, height and depth at the left; read from below and from the right (ISO 129-1).
  void sizes() {
    const double top = kMargin + high_ + kGap;
    dimension({kMargin, kMargin + high_ + kGap}, {kMargin + wide_, kMargin + high_ + kGap},
              kBeside - 3.0);
    dimension({kMargin, kMargin + high_}, {kMargin, kMargin}, kBeside);
    dimension({kMargin, top + deep_}, {kMargin, top}, kBeside);
  }

  std::span<const OutMesh> meshes_;
  std::span<const OutLine> lines_;
  RayScene rays_;
  Box3 box_;
  double lift_ = 0.0, wide_ = 0.0, deep_ = 0.0, high_ = 0.0;
  fmt::memory_buffer text_;
};

}  // namespace

std::string to_drawing(std::span<const OutMesh> meshes, std::span<const OutLine> lines,
                       Progress& progress) {
  return Sheet(meshes, lines).svg(progress);
}

}  // namespace evenclay
