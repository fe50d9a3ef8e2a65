#include "core/exchange/points_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>
#include <charconv>
#include <cmath>
#include <cstring>
#include <limits>
#include <sstream>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/mesh/place_table.h"

namespace evenclay {

namespace {

constexpr std::size_t kMost = 50'000'000;
constexpr double kFar = 1e7;  // mm

std::string label_of(const std::string& name) {
  const std::string label = name.substr(0, name.find_last_of('.'));
  return label.empty() ? std::string("Scan") : label;
}

void refuse_many(const std::string& name, std::size_t count, const char* what) {
  if (count > kMost)
    throw Error(say("{} holds {} {}, more than can be used. Thin it first.", name, count, what));
}

// Points as they come, each once, with what was left out.
class Collected {
 public:
  explicit Collected(std::size_t expected) : table_(std::min(expected, kMost)) {}
  void add(const Vec3& p, const Vec3& n) {
    if (!is_finite(p) || length(p) > kFar) {
      ++no_numbers_;
      return;
    }
    const std::size_t before = table_.places().size();
    if (table_.number(p) < before) {
      ++twice_;
      return;
    }
    normals_.push_back(n);
    const double l = length(n);
    unit_ += std::abs(l - 1.0) < 0.02 ? 1 : 0;
  }
  std::size_t count() const { return table_.places().size(); }

  BroughtFile file(const std::string& name) {
    if (count() == 0)
      throw Error(
          say("{} holds no points that can be used. Save it as lines of x y z, or with its faces.",
              name));
    PointCloud cloud;
    const bool with_normals = static_cast<double>(unit_) > 0.95 * static_cast<double>(count());
    cloud.points = table_.take();
    if (with_normals) {
      for (Vec3& n : normals_) n = length(n) > 1e-6 ? normalized(n) : Vec3{0, 0, 1};
      cloud.normals = std::move(normals_);
    }
    BroughtFile file;
    file.note =
        say("{} points{}; such files say no unit, so lengths are taken as they are written.",
            cloud.points.size(), with_normals ? " with normals" : "");
    if (no_numbers_ > 0) file.note += say(" {} that are no numbers were left out.", no_numbers_);
    if (twice_ > 0) file.note += say(" {} that occur twice were left out.", twice_);
    file.parts.push_back(
        {label_of(name), std::nullopt, std::make_shared<const Shape>(std::move(cloud))});
    return file;
  }

 private:
  PlaceTable table_;
  std::vector<Vec3> normals_;
  std::size_t no_numbers_ = 0, twice_ = 0, unit_ = 0;
};

bool is_gap(char c) {
  return c == ' ' || c == '\t' || c == ',' || c == ';' || c == '\r';
}

// Up to six numbers of a line; how many there are. "nan" counts as one.
std::size_t numbers_of(const char* at, const char* end, std::array<double, 6>& out) {
  std::size_t n = 0;
  while (n < 6) {
    while (at < end && is_gap(*at)) ++at;
    if (at < end && *at == '+') ++at;
    const auto [next, error] = std::from_chars(at, end, out[n]);
    if (error == std::errc::result_out_of_range) {
      out[n] = std::numeric_limits<double>::quiet_NaN();
    } else if (error != std::errc() || (next < end && !is_gap(*next))) {
      return n;
    }
    at = next;
    ++n;
  }
  return n;
}

}  // namespace

BroughtFile read_points(const std::string& name, const std::string& bytes, Progress& progress) {
  Collected points(bytes.size() / 24);
  std::array<double, 6> x{};
  std::size_t lines = 0;
  for (const char *at = bytes.data(), *end = at + bytes.size(); at < end;) {
    const char* stop =
        static_cast<const char*>(std::memchr(at, '\n', static_cast<std::size_t>(end - at)));
    if (stop == nullptr) stop = end;
    const std::size_t n = numbers_of(at, stop, x);
    if (n >= 3) points.add({x[0], x[1], x[2]}, n >= 6 ? Vec3{x[3], x[4], x[5]} : Vec3{});
    refuse_many(name, points.count(), "points");
    if (++lines % 65536 == 0)
      progress.report(static_cast<double>(at - bytes.data()) / static_cast<double>(bytes.size()));
    at = stop + 1;
  }
  return points.file(name);
}

namespace {

struct PlyProperty {
  std::string type, name;
};

struct PlyHead {
  bool ascii = false, big = false, faces = false;
  std::size_t vertices = 0, data = 0;
  std::vector<PlyProperty> properties;  // of the vertices
};

std::size_t bytes_of(const std::string& type) {
  if (type == "char" || type == "uchar" || type == "int8" || type == "uint8") return 1;
  if (type == "short" || type == "ushort" || type == "int16" || type == "uint16") return 2;
  if (type == "double" || type == "float64") return 8;
  if (type == "int" || type == "uint" || type == "int32" || type == "uint32" || type == "float" ||
      type == "float32")
    return 4;
  return 0;
}

// Nothing when it is no head of such a file.
std::optional<PlyHead> ply_head(const std::string& bytes) {
  constexpr std::size_t kLongest = 20'000;
  const std::string_view end = "end_header";
  const std::size_t found = bytes.substr(0, kLongest).find(end);
  if (bytes.compare(0, 3, "ply") != 0 || found == std::string::npos) return std::nullopt;
  PlyHead h;
  std::istringstream in(bytes.substr(0, found));
  std::string line, element;
  while (std::getline(in, line)) {
    std::istringstream words(line);
    std::string first, second, third;
    words >> first >> second >> third;
    if (first == "format") {
      h.ascii = second == "ascii";
      h.big = second == "binary_big_endian";
    } else if (first == "element") {
      element = second;
      std::size_t count = 0;
      const auto [next, error] = std::from_chars(third.data(), third.data() + third.size(), count);
      if (error != std::errc()) return std::nullopt;
      if (element == "vertex")
        h.vertices = count;
      else if (h.vertices == 0)
        return std::nullopt;  // something stands before the vertices
      else if (count > 0)
        h.faces = true;
    } else if (first == "property" && element == "vertex") {
      if (bytes_of(second) == 0) return std::nullopt;  // a list
      h.properties.push_back({second, third});
    }
  }
  h.data = bytes.find('\n', found) + 1;
  return h;
}

double number_at(const char* at, const std::string& type, bool big) {
  const std::size_t n = bytes_of(type);
  std::array<char, 8> b{};
  for (std::size_t k = 0; k < n; ++k) b[k] = at[big ? n - 1 - k : k];
  if (type == "double" || type == "float64") return std::bit_cast<double>(b);
  if (type == "float" || type == "float32") {
    float f = 0.0F;
    std::memcpy(&f, b.data(), 4);
    return static_cast<double>(f);
  }
  return 0.0;  // colours and the like
}

// Where x, y, z and nx, ny, nz stand among the properties; −1: not there.
std::array<int, 6> columns_of(const PlyHead& h) {
  static constexpr std::array<const char*, 6> names{"x", "y", "z", "nx", "ny", "nz"};
  std::array<int, 6> at{};
  for (std::size_t c = 0; c < 6; ++c) {
    const auto found = std::find_if(h.properties.begin(), h.properties.end(),
                                    [&](const PlyProperty& p) { return p.name == names[c]; });
    at[c] = found == h.properties.end() ? -1 : static_cast<int>(found - h.properties.begin());
  }
  return at;
}

}  // namespace

std::optional<BroughtFile> read_ply_points(const std::string& name, const std::string& bytes,
                                           Progress& progress) {
  const std::optional<PlyHead> h = ply_head(bytes);
  if (!h || h->faces || h->vertices == 0) return std::nullopt;
  refuse_many(name, h->vertices, "points");
  const std::array<int, 6> column = columns_of(*h);
  if (column[0] < 0 || column[1] < 0 || column[2] < 0)
    throw Error(say("{} has no x, y and z for its points. Save it anew where it was made.", name));
  std::size_t record = 0;
  std::vector<std::size_t> offset;
  for (const PlyProperty& p : h->properties) {
    offset.push_back(record);
    record += bytes_of(p.type);
  }
  const auto breaks_off = [&] {
    return Error(say("{} breaks off before its last point. Ask for it again.", name));
  };
  if (!h->ascii && (bytes.size() < h->data || (bytes.size() - h->data) / record < h->vertices))
    throw breaks_off();
  Collected points(h->vertices);
  std::istringstream text(h->ascii ? bytes.substr(h->data) : std::string());
  std::vector<double> row(h->properties.size());
  for (std::size_t k = 0; k < h->vertices; ++k) {
    if (k % 65536 == 0) progress.report(static_cast<double>(k) / static_cast<double>(h->vertices));
    std::array<double, 6> x{};
    if (h->ascii) {
      std::string word;
      for (double& v : row) {
        if (!(text >> word)) throw breaks_off();
        const auto [next, error] = std::from_chars(word.data(), word.data() + word.size(), v);
        if (error != std::errc()) v = std::numeric_limits<double>::quiet_NaN();
      }
    }
    for (std::size_t c = 0; c < 6; ++c) {
      if (column[c] < 0) continue;
      const auto p = static_cast<std::size_t>(column[c]);
      x[c] = h->ascii ? row[p]
                      : number_at(bytes.data() + h->data + k * record + offset[p],
                                  h->properties[p].type, h->big);
    }
    points.add({x[0], x[1], x[2]}, {x[3], x[4], x[5]});
  }
  return points.file(name);
}

std::optional<BroughtFile> read_binary_stl(const std::string& name, const std::string& bytes,
                                           Progress& progress) {
  constexpr std::size_t kHead = 84, kRecord = 50;
  if (bytes.size() < kHead + kRecord) return std::nullopt;
  std::uint32_t count = 0;
  std::memcpy(&count, bytes.data() + 80, 4);
  if (count == 0 || bytes.size() < kHead + kRecord * static_cast<std::size_t>(count) ||
      bytes.size() > kHead + kRecord * static_cast<std::size_t>(count) + 16)
    return std::nullopt;
  refuse_many(name, count, "triangles");
  PlaceTable table(count / 2 + 16);
  TriangleMesh mesh;
  mesh.triangles.reserve(count);
  std::size_t no_numbers = 0;
  for (std::size_t t = 0; t < count; ++t) {
    if (t % 65536 == 0) progress.report(static_cast<double>(t) / count);
    std::array<float, 9> f{};
    std::memcpy(f.data(), bytes.data() + kHead + kRecord * t + 12, 36);
    const bool sound = std::all_of(f.begin(), f.end(),
                                   [](float x) { return std::abs(x) < static_cast<float>(kFar); });
    if (!sound) {
      ++no_numbers;
      continue;
    }
    std::array<std::uint32_t, 3> v{};
    for (std::size_t k = 0; k < 3; ++k)
      v[k] = table.number({static_cast<double>(f[3 * k]), static_cast<double>(f[3 * k + 1]),
                           static_cast<double>(f[3 * k + 2])});
    if (v[0] != v[1] && v[1] != v[2] && v[2] != v[0]) mesh.triangles.push_back(v);
  }
  if (mesh.triangles.empty())
    throw Error(
        say("{} holds no triangles that can be used. Ask for it again, or save it anew "
            "where it was made.",
            name));
  mesh.points = table.take();
  BroughtFile file;
  file.note = say("{} triangles; such files say no unit, so lengths are taken as they are written.",
                  mesh.triangles.size());
  if (no_numbers > 0)
    file.note += say(" {} with corners that are no numbers were left out.", no_numbers);
  file.parts.push_back(
      {label_of(name), std::nullopt, std::make_shared<const Shape>(std::move(mesh))});
  return file;
}

}  // namespace evenclay
