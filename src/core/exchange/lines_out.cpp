// Curves and edges as drawings (parts_out.h).
#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "core/exchange/parts_out.h"

namespace evenclay {

namespace {

// Names of layers hold letters, digits and a few signs.
std::string layer_of(const OutPart& part) {
  std::string name = part.layer.empty() ? part.name : part.layer;
  for (char& c : name) {
    const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                       c == '_' || c == '-';
    if (!plain) c = '_';
  }
  return name.empty() ? std::string("0") : name;
}

}  // namespace

// Source: the published DXF reference, release 12: polylines in space (flag 8), closed ones with flag 1 besides.
std::string to_dxf(std::span<const OutLine> lines, double scale) {
  std::vector<std::string> layers;
  for (const OutLine& l : lines)
    if (const std::string name = layer_of(*l.part);
        std::find(layers.begin(), layers.end(), name) == layers.end())
      layers.push_back(name);
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  fmt::format_to(
      out,
      "0\nSECTION\n2\nHEADER\n9\n$"
      "ACADVER\n1\nAC1009\n0\nENDSEC\n0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n70\n{}\n",
      layers.size());
  for (const std::string& name : layers)
    fmt::format_to(out, "0\nLAYER\n2\n{}\n70\n0\n62\n7\n6\nCONTINUOUS\n", name);
  fmt::format_to(out, "0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n");
  for (const OutLine& l : lines) {
    const std::string layer = layer_of(*l.part);
    fmt::format_to(out, "0\nPOLYLINE\n8\n{}\n66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n{}\n", layer,
                   l.closed ? 9 : 8);
    for (const Vec3& p : l.places)
      fmt::format_to(out, "0\nVERTEX\n8\n{}\n10\n{:.9g}\n20\n{:.9g}\n30\n{:.9g}\n70\n32\n", layer,
                     p.x * scale, p.y * scale, p.z * scale);
    fmt::format_to(out, "0\nSEQEND\n8\n{}\n", layer);
  }
  fmt::format_to(out, "0\nENDSEC\n0\nEOF\n");
  return fmt::to_string(b);
}

// Source: W3C, Scalable Vector Graphics 1.1; y runs down there.
std::string to_svg(std::span<const OutLine> lines) {
  Box3 box;
  for (const OutLine& l : lines)
    for (const Vec3& p : l.places) box.add(p);
  const Vec3 extent = box.max - box.min;
  constexpr double kMargin = 2.0;
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  const double wide = extent.x + 2 * kMargin, high = extent.y + 2 * kMargin;
  fmt::format_to(
      out,
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
      "version=\"1.1\" width=\"{0:.6g}mm\" height=\"{1:.6g}mm\" "
      "viewBox=\"0 0 {0:.6g} {1:.6g}\">\n<g fill=\"none\" stroke-width=\"0.25\" "
      "stroke-linejoin=\"round\">\n",
      wide, high);
  for (const OutLine& l : lines) {
    fmt::format_to(out, "<path stroke=\"#{:06X}\" d=\"", l.part->colour & 0xFFFFFFU);
    for (std::size_t k = 0; k < l.places.size(); ++k)
      fmt::format_to(out, "{}{:.6g} {:.6g}", k == 0 ? "M" : "L",
                     l.places[k].x - box.min.x + kMargin, box.max.y - l.places[k].y + kMargin);
    fmt::format_to(out, "{}\"/>\n", l.closed ? "Z" : "");
  }
  fmt::format_to(out, "</g>\n</svg>\n");
  return fmt::to_string(b);
}

}  // namespace evenclay
