#include "core/document/picture.h"

#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string_view>

namespace evenclay {

namespace {

std::uint32_t byte_at(const std::string& s, std::size_t k) {
  return static_cast<unsigned char>(s[k]);
}

std::uint32_t big(const std::string& s, std::size_t at, std::size_t count) {
  std::uint32_t x = 0;
  for (std::size_t k = 0; k < count; ++k) x = (x << 8U) | byte_at(s, at + k);
  return x;
}

std::int32_t little(const std::string& s, std::size_t at) {
  std::uint32_t x = 0;
  for (std::size_t k = 0; k < 4; ++k) x |= byte_at(s, at + k) << (8U * static_cast<unsigned>(k));
  return static_cast<std::int32_t>(x);
}

std::optional<double> ratio(double width, double height) {
  const double r = std::abs(width / height);
  if (!(r > 1e-4 && r < 1e4)) return std::nullopt;
  return r;
}

std::optional<double> of_png(const std::string& s) {
  if (s.size() < 24 || s.compare(0, 8, "\x89PNG\r\n\x1a\n") != 0) return std::nullopt;
  return ratio(big(s, 16, 4), big(s, 20, 4));
}

std::optional<double> of_bmp(const std::string& s) {
  if (s.size() < 26 || s.compare(0, 2, "BM") != 0) return std::nullopt;
  return ratio(little(s, 18), little(s, 22));
}

std::optional<double> of_jpeg(const std::string& s) {
  if (s.size() < 4 || s.compare(0, 2, "\xff\xd8") != 0) return std::nullopt;
  for (std::size_t at = 2; at + 9 < s.size();) {
    if (byte_at(s, at) != 0xFF) return std::nullopt;
    const std::uint32_t kind = byte_at(s, at + 1);
    if (kind == 0xFF) {  // a fill byte
      ++at;
      continue;
    }
    // Frame headers, but neither Huffman tables, extensions nor arithmetic conditioning.
    const bool frame = kind >= 0xC0 && kind <= 0xCF && kind != 0xC4 && kind != 0xC8 && kind != 0xCC;
    if (frame) return ratio(big(s, at + 7, 2), big(s, at + 5, 2));
    const std::uint32_t length = big(s, at + 2, 2);
    if (length < 2) return std::nullopt;
    at += 2 + length;
  }
  return std::nullopt;
}

// The number an attribute of the svg element begins with.
std::optional<double> attribute(std::string_view tag, std::string_view name) {
  for (std::size_t at = tag.find(name); at != std::string_view::npos; at = tag.find(name, at + 1)) {
    const bool begins =
        at > 0 && (tag[at - 1] == ' ' || tag[at - 1] == '\n' || tag[at - 1] == '\t');
    std::size_t k = at + name.size();
    if (!begins || k + 1 >= tag.size() || tag[k] != '=') continue;
    k += 2;  // the quote
    const std::string text(tag.substr(k, 40));
    char* end = nullptr;
    const double x = std::strtod(text.c_str(), &end);
    if (end != text.c_str() && *end != '%') return x;
  }
  return std::nullopt;
}

std::optional<double> of_svg(const std::string& s) {
  const std::size_t at = s.substr(0, 4096).find("<svg");
  if (at == std::string::npos) return std::nullopt;
  const std::size_t end = s.find('>', at);
  if (end == std::string::npos) return std::nullopt;
  const std::string_view tag = std::string_view(s).substr(at, end - at);
  const auto width = attribute(tag, "width");
  const auto height = attribute(tag, "height");
  if (width && height) return ratio(*width, *height);
  const std::size_t box = tag.find("viewBox");
  if (box == std::string_view::npos) return std::nullopt;
  std::string numbers(tag.substr(box + 7, 80));
  for (char& c : numbers)
    if (c == ',' || c == '=' || c == '"' || c == '\'') c = ' ';
  const char* from = numbers.c_str();
  double x[4] = {};
  for (double& value : x) {
    char* next = nullptr;
    value = std::strtod(from, &next);
    if (next == from) return std::nullopt;
    from = next;
  }
  return ratio(x[2], x[3]);
}

}  // namespace

std::optional<double> picture_proportion(const std::string& bytes) {
  for (const auto read : {of_png, of_jpeg, of_bmp, of_svg})
    if (const auto r = read(bytes)) return r;
  return std::nullopt;
}

}  // namespace evenclay
