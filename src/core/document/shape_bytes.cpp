#include "core/document/shape_bytes.h"

#include <bit>
#include <cmath>
#include <cstring>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

using Json = nlohmann::json;
static_assert(std::endian::native == std::endian::little, "rows of numbers are little-endian");

// ---- rows of numbers ----

template <typename T>
Json row(const T* first, std::size_t count) {
  std::vector<std::uint8_t> bytes(count * sizeof(T));
  if (count > 0) std::memcpy(bytes.data(), first, bytes.size());
  return Json::binary(std::move(bytes));
}
template <typename T>
Json row(const std::vector<T>& values) {
  static_assert(std::is_trivially_copyable_v<T>);
  return row(values.data(), values.size());
}

template <typename T>
std::vector<T> read_row(const Json& j) {
  const auto& bytes = j.get_binary();
  if (bytes.size() % sizeof(T) != 0) throw Error(say("A row of numbers is cut off."));
  std::vector<T> values(bytes.size() / sizeof(T));
  if (!values.empty()) std::memcpy(values.data(), bytes.data(), bytes.size());
  return values;
}

Json vec(const Vec3& v) {
  return Json{v.x, v.y, v.z};
}
Vec3 read_vec(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()};
}
Json frame_json(const Frame& f) {
  return Json{vec(f.origin), vec(f.x), vec(f.y), vec(f.z)};
}
Frame read_frame(const Json& j) {
  return {read_vec(j.at(0)), read_vec(j.at(1)), read_vec(j.at(2)), read_vec(j.at(3))};
}

Json knots_json(const KnotVector& k) {
  return Json{{"degree", k.degree}, {"periodic", k.periodic}, {"knots", row(k.knots)}};
}
KnotVector read_knots(const Json& j) {
  KnotVector k{j.at("degree").get<int>(), j.at("periodic").get<bool>(),
               read_row<double>(j.at("knots"))};
  check(k, "a direction");
  return k;
}

// A grid has the size its knots say.
template <typename T>
Grid<T> read_grid(const Json& j, const KnotVector& u, const KnotVector& v, int layers = 1) {
  const std::vector<T> values = read_row<T>(j);
  const std::size_t wanted = static_cast<std::size_t>(u.point_count()) *
                             static_cast<std::size_t>(v.point_count()) *
                             static_cast<std::size_t>(layers);
  if (values.size() != wanted) throw Error(say("A grid has not as many points as its knots say."));
  Grid<T> grid = Grid<T>::layered(u.point_count(), v.point_count(), layers);
  grid.values() = values;
  return grid;
}

// ---- curves and surfaces ----

Json curve_json(const Curve& c) {
  Json j{{"knots", knots_json(c.knots)}, {"points", row(c.points)}};
  if (c.rational()) j["weights"] = row(c.weights);
  return j;
}
Curve read_curve(const Json& j) {
  Curve c{read_knots(j.at("knots")), read_row<Vec3>(j.at("points")), {}};
  if (j.contains("weights")) c.weights = read_row<double>(j["weights"]);
  check(c);
  return c;
}

Json surface_json(const Surface& s) {
  Json j{{"u", knots_json(s.u)}, {"v", knots_json(s.v)}, {"points", row(s.points.values())}};
  if (s.rational()) j["weights"] = row(s.weights.values());
  return j;
}
Surface read_surface(const Json& j) {
  Surface s;
  s.u = read_knots(j.at("u"));
  s.v = read_knots(j.at("v"));
  s.points = read_grid<Vec3>(j.at("points"), s.u, s.v);
  if (j.contains("weights")) s.weights = read_grid<double>(j["weights"], s.u, s.v);
  check(s);
  return s;
}

// ---- each kind ----

Json loop_json(const Loop& loop) {
  Json uses = Json::array();
  for (const EdgeUse& use : loop)
    uses.push_back({{"edge", use.edge}, {"forward", use.forward}, {"uv", curve_json(use.uv)}});
  return uses;
}

// Surfaces that faces share are written once.
Json json_of(const Body& body) {
  Json surfaces = Json::array(), faces = Json::array(), edges = Json::array();
  std::map<const Surface*, std::size_t> number;
  for (const Face& f : body.faces) {
    const auto [at, added] = number.emplace(f.surface.get(), number.size());
    if (added) surfaces.push_back(surface_json(*f.surface));
    Json loops = Json::array();
    for (const Loop& loop : f.loops) loops.push_back(loop_json(loop));
    faces.push_back({{"tag", f.tag},
                     {"piece_of", f.piece_of},
                     {"surface", at->second},
                     {"flipped", f.flipped},
                     {"loops", std::move(loops)}});
  }
  for (const Edge& e : body.edges)
    edges.push_back({{"tag", e.tag}, {"gap", e.gap}, {"curve", curve_json(e.curve)}});
  return {{"kind", "body"},
          {"surfaces", std::move(surfaces)},
          {"faces", std::move(faces)},
          {"edges", std::move(edges)}};
}

Shape read_body(const Json& j) {
  std::vector<std::shared_ptr<const Surface>> surfaces;
  for (const Json& s : j.at("surfaces"))
    surfaces.push_back(std::make_shared<const Surface>(read_surface(s)));
  Body body;
  for (const Json& e : j.at("edges"))
    body.edges.push_back(
        {e.at("tag").get<Tag>(), read_curve(e.at("curve")), e.at("gap").get<double>()});
  for (const Json& f : j.at("faces")) {
    Face face;
    face.tag = f.at("tag").get<Tag>();
    face.piece_of = f.at("piece_of").get<Tag>();
    face.surface = surfaces.at(f.at("surface").get<std::size_t>());
    face.flipped = f.at("flipped").get<bool>();
    for (const Json& l : f.at("loops")) {
      Loop loop;
      for (const Json& use : l)
        loop.push_back({use.at("edge").get<std::uint32_t>(), use.at("forward").get<bool>(),
                        read_curve(use.at("uv"))});
      face.loops.push_back(std::move(loop));
    }
    body.faces.push_back(std::move(face));
  }
  check(body);
  return body;
}

Json json_of(const TriangleMesh& m) {
  return {{"kind", "mesh"},
          {"points", row(m.points)},
          {"normals", row(m.normals)},
          {"triangles", row(m.triangles)}};
}
Shape read_mesh(const Json& j) {
  TriangleMesh m{read_row<Vec3>(j.at("points")), read_row<Vec3>(j.at("normals")),
                 read_row<std::array<std::uint32_t, 3>>(j.at("triangles"))};
  check(m);
  return m;
}

Json json_of(const CurveSet& set) {
  Json curves = Json::array();
  for (const Curve& c : set.curves) curves.push_back(curve_json(c));
  return {{"kind", "curves"}, {"curves", std::move(curves)}};
}
Shape read_curves(const Json& j) {
  CurveSet set;
  for (const Json& c : j.at("curves")) set.curves.push_back(read_curve(c));
  return set;
}

Json json_of(const Picture& p) {
  Json j{{"kind", "picture"},  {"frame", frame_json(p.frame)}, {"width", p.width},
         {"height", p.height}, {"opacity", p.opacity},         {"through", p.through}};
  if (p.bytes) j["bytes"] = row(p.bytes->data(), p.bytes->size());
  return j;
}
Shape read_picture(const Json& j) {
  Picture p;
  p.frame = read_frame(j.at("frame"));
  p.width = j.at("width").get<double>();
  p.height = j.at("height").get<double>();
  p.opacity = j.at("opacity").get<double>();
  p.through = j.at("through").get<bool>();
  if (j.contains("bytes")) {
    const std::vector<char> bytes = read_row<char>(j["bytes"]);
    p.bytes = std::make_shared<const std::string>(bytes.begin(), bytes.end());
  }
  if (!(p.width > 0 && p.height > 0 && std::isfinite(p.width) && std::isfinite(p.height)))
    throw Error(say("A picture has no size."));
  return p;
}

Json lattice_json(const Lattice& l) {
  return {{"u", knots_json(l.u)},
          {"v", knots_json(l.v)},
          {"w", knots_json(l.w)},
          {"points", row(l.points.values())}};
}
Lattice read_lattice(const Json& j) {
  Lattice l;
  l.u = read_knots(j.at("u"));
  l.v = read_knots(j.at("v"));
  l.w = read_knots(j.at("w"));
  l.points = read_grid<Vec3>(j.at("points"), l.u, l.v, l.w.point_count());
  return l;
}

Json json_of(const Cage& c) {
  return {{"kind", "cage"}, {"frame", frame_json(c.frame)}, {"size", vec(c.size)},
          {"band", c.band}, {"rest", lattice_json(c.rest)}, {"now", lattice_json(c.now)}};
}
Shape read_cage(const Json& j) {
  Cage c;
  c.frame = read_frame(j.at("frame"));
  c.size = read_vec(j.at("size"));
  c.band = j.at("band").get<double>();
  c.rest = read_lattice(j.at("rest"));
  c.now = read_lattice(j.at("now"));
  return c;
}

// Faces as one row of counts and one of points; creases as pairs and values.
Json json_of(const Form& f) {
  std::vector<std::uint32_t> counts, corners;
  std::vector<Tag> tags;
  for (const FormFace& face : f.faces) {
    tags.push_back(face.tag);
    counts.push_back(static_cast<std::uint32_t>(face.points.size()));
    corners.insert(corners.end(), face.points.begin(), face.points.end());
  }
  std::vector<FormEdge> creased;
  std::vector<double> sharpness;
  for (const auto& [edge, value] : f.creases) {
    creased.push_back(edge);
    sharpness.push_back(value);
  }
  return {
      {"kind", "form"},          {"points", row(f.points)},    {"point_tags", row(f.point_tags)},
      {"face_tags", row(tags)},  {"counts", row(counts)},      {"corners", row(corners)},
      {"creased", row(creased)}, {"sharpness", row(sharpness)}};
}
Shape read_form(const Json& j) {
  Form f;
  f.points = read_row<Vec3>(j.at("points"));
  f.point_tags = read_row<Tag>(j.at("point_tags"));
  const auto tags = read_row<Tag>(j.at("face_tags"));
  const auto counts = read_row<std::uint32_t>(j.at("counts"));
  const auto corners = read_row<std::uint32_t>(j.at("corners"));
  const auto creased = read_row<FormEdge>(j.at("creased"));
  const auto sharpness = read_row<double>(j.at("sharpness"));
  if (tags.size() != counts.size() || creased.size() != sharpness.size())
    throw Error(say("A form's rows are not equally long."));
  std::size_t at = 0;
  for (std::size_t k = 0; k < counts.size(); ++k) {
    if (counts[k] > corners.size() - at) throw Error(say("A form's faces are cut off."));
    const auto first = corners.begin() + static_cast<std::ptrdiff_t>(at);
    f.faces.push_back({tags[k], {first, first + counts[k]}});
    at += counts[k];
  }
  for (std::size_t k = 0; k < creased.size(); ++k) f.creases[creased[k]] = sharpness[k];
  if (!f.points.empty()) check(f);
  return f;
}

Json json_of(const PointCloud& c) {
  return {{"kind", "points"}, {"points", row(c.points)}, {"normals", row(c.normals)}};
}
Shape read_cloud(const Json& j) {
  PointCloud c{read_row<Vec3>(j.at("points")), read_row<Vec3>(j.at("normals"))};
  check(c);
  return c;
}

// The parser goes down the stack with every level: bytes that nest deeper than any shape are not given to it.
class Depth : public nlohmann::json_sax<Json> {
 public:
  bool null() override { return true; }
  bool boolean(bool) override { return true; }
  bool number_integer(number_integer_t) override { return true; }
  bool number_unsigned(number_unsigned_t) override { return true; }
  bool number_float(number_float_t, const string_t&) override { return true; }
  bool string(string_t&) override { return true; }
  bool binary(binary_t&) override { return true; }
  bool key(string_t&) override { return true; }
  bool start_object(std::size_t) override { return ++depth_ <= kDeepest; }
  bool start_array(std::size_t) override { return ++depth_ <= kDeepest; }
  bool end_object() override { return leave(); }
  bool end_array() override { return leave(); }
  bool parse_error(std::size_t, const std::string&, const nlohmann::detail::exception&) override {
    return false;
  }

 private:
  static constexpr int kDeepest = 12;
  bool leave() {
    --depth_;
    return true;
  }
  int depth_ = 0;
};

Shape read_shape(const Json& j) {
  using Reader = Shape (*)(const Json&);
  static constexpr std::pair<std::string_view, Reader> readers[] = {
      {"body", read_body}, {"mesh", read_mesh}, {"curves", read_curves}, {"picture", read_picture},
      {"cage", read_cage}, {"form", read_form}, {"points", read_cloud}};
  if (j.at("evenclay_shape").get<int>() != 1)
    throw Error(say("The shape was kept by a newer version of the program."));
  const auto kind = j.at("kind").get<std::string>();
  for (const auto& [name, reader] : readers)
    if (name == kind) return reader(j);
  throw Error(say("The shape is of a kind that this version does not know."));
}

}  // namespace

std::string shape_bytes(const Shape& shape) {
  Json j = std::visit([](const auto& s) { return json_of(s); }, shape);
  j["evenclay_shape"] = 1;
  std::string bytes;
  Json::to_cbor(j, bytes);
  return bytes;
}

Shape shape_from_bytes(std::string_view bytes) {
  try {
    Depth depth;
    if (!Json::sax_parse(bytes.begin(), bytes.end(), &depth, Json::input_format_t::cbor))
      throw std::runtime_error("nested too deeply, or cut off");
    return read_shape(Json::from_cbor(bytes.begin(), bytes.end()));
  } catch (const Error& e) {
    throw Error(std::string("The shape that was kept cannot be read. ") + e.what());
  } catch (const std::exception&) {
    throw Error(say(
        "The shape that was kept cannot be read: the file is damaged. Remove the step Frozen; the "
        "steps "
        "beneath it make the shape again."));
  }
}

}  // namespace evenclay
