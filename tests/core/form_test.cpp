// Subdivision forms: against OpenSubdiv, against published values, and after any sequence of edits.
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/topologyDescriptor.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <memory>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/subdivision/edits.h"
#include "core/subdivision/limit_plan.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/sources.h"

using namespace evenclay;
using Catch::Matchers::Contains;
namespace Far = OpenSubdiv::Far;

namespace {

constexpr double kPi = std::numbers::pi;

Form cube() {
  return make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
}

// A pyramid over a polygon of n corners: an apex of valence n, a base face with n sides.
Form pyramid(int n, bool open) {
  std::vector<Vec3> points{{0, 0, 3}};
  for (int k = 0; k < n; ++k)
    points.push_back({2 * std::cos(2 * kPi * k / n), 2 * std::sin(2 * kPi * k / n), 0.1 * k});
  std::vector<std::vector<std::uint32_t>> faces;
  std::vector<std::uint32_t> base;
  for (int k = 0; k < n; ++k) {
    const auto a = static_cast<std::uint32_t>(1 + k);
    const auto b = static_cast<std::uint32_t>(1 + (k + 1) % n);
    faces.push_back({0, a, b});
    base.insert(base.begin(), a);
  }
  if (!open) faces.push_back(base);
  return make_form(points, faces, 1);
}

// An open grid of m × n quadrangles with bent points.
Form sheet(int m, int n) {
  std::vector<Vec3> points;
  for (int i = 0; i <= m; ++i)
    for (int j = 0; j <= n; ++j)
      points.push_back({1.0 * i, 1.2 * j, std::sin(1.3 * i) * std::cos(0.9 * j)});
  std::vector<std::vector<std::uint32_t>> faces;
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (n + 1) + j); };
  for (int i = 0; i < m; ++i)
    for (int j = 0; j < n; ++j)
      faces.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)});
  return make_form(points, faces, 1);
}

void shake(Form& form, std::mt19937& random) {
  std::uniform_real_distribution<double> x(-0.2, 0.2);
  for (Vec3& p : form.points) p += {x(random), x(random), x(random)};
}

void crease_some(Form& form, std::mt19937& random, double share) {
  const FormTopology t = topology(form);
  std::uniform_real_distribution<double> x(0, 1);
  for (const FormTopology::Edge& e : t.edges) {
    if (e.border() || x(random) > share) continue;
    const double s = x(random);
    form.creases[e.points] = s < 0.3 ? kSharp : 0.3 + 3.0 * x(random);
  }
}

struct Named {
  std::string name;
  Form form;
};

// Quadrangles, triangles and polygons, open and closed, valences 3 to 12, creases of 0.3 to sharp.
const std::vector<Named>& corpus() {
  static const std::vector<Named> all = [] {
    std::vector<Named> forms{{"cube", cube()}, {"box", make_box_form({}, {3, 2, 1}, 3, 2, 2, 1)}};
    for (int n = 3; n <= 12; ++n) {
      forms.push_back({"pyramid " + std::to_string(n), pyramid(n, false)});
      forms.push_back({"open pyramid " + std::to_string(n), pyramid(n, true)});
    }
    for (const auto& [m, n] : {std::pair{1, 1}, {1, 3}, {2, 2}, {4, 3}})
      forms.push_back({"sheet " + std::to_string(m * 10 + n), sheet(m, n)});
    std::mt19937 random(7);
    const std::size_t plain = forms.size();
    for (std::size_t k = 0; k < plain; ++k) {
      Named creased = forms[k];
      creased.name += " creased";
      shake(creased.form, random);
      crease_some(creased.form, random, 0.4);
      forms.push_back(std::move(creased));
    }
    return forms;
  }();
  return all;
}

// The library's side.
struct Place {
  void Clear(void* = nullptr) { p = {}; }
  void AddWithWeight(const Place& other, float w) { p += other.p * static_cast<double>(w); }
  Vec3 p;
};
// The same with weights in double, which the library calls with what it computes in.
struct Refined {
  std::unique_ptr<Far::TopologyRefiner> refiner;
  std::vector<std::vector<Place>> levels;
};

Refined refined(const Form& form, int levels) {
  using Descriptor = Far::TopologyDescriptor;
  Descriptor d;
  std::vector<int> counts, indices, crease_points;
  std::vector<float> weights;
  for (const FormFace& f : form.faces) {
    counts.push_back(static_cast<int>(f.points.size()));
    for (const std::uint32_t p : f.points) indices.push_back(static_cast<int>(p));
  }
  for (const auto& [edge, s] : form.creases) {
    crease_points.push_back(static_cast<int>(edge[0]));
    crease_points.push_back(static_cast<int>(edge[1]));
    weights.push_back(static_cast<float>(s));
  }
  d.numVertices = static_cast<int>(form.points.size());
  d.numFaces = static_cast<int>(form.faces.size());
  d.numVertsPerFace = counts.data();
  d.vertIndicesPerFace = indices.data();
  d.numCreases = static_cast<int>(weights.size());
  d.creaseVertexIndexPairs = crease_points.data();
  d.creaseWeights = weights.data();
  OpenSubdiv::Sdc::Options options;
  options.SetVtxBoundaryInterpolation(OpenSubdiv::Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER);
  Refined r;
  r.refiner.reset(Far::TopologyRefinerFactory<Descriptor>::Create(
      d,
      Far::TopologyRefinerFactory<Descriptor>::Options(OpenSubdiv::Sdc::SCHEME_CATMARK, options)));
  Far::TopologyRefiner::UniformOptions uniform(levels);
  uniform.fullTopologyInLastLevel = true;
  r.refiner->RefineUniform(uniform);
  r.levels.resize(static_cast<std::size_t>(levels) + 1);
  for (const Vec3& p : form.points) r.levels[0].push_back({p});
  const Far::PrimvarRefinerReal<double> primvar(*r.refiner);
  for (int k = 1; k <= levels; ++k) {
    r.levels[static_cast<std::size_t>(k)].resize(
        static_cast<std::size_t>(r.refiner->GetLevel(k).GetNumVertices()));
    primvar.Interpolate(k, r.levels[static_cast<std::size_t>(k) - 1],
                        r.levels[static_cast<std::size_t>(k)]);
  }
  return r;
}

// How far a surface through the same normals may differ in sense.
double degrees_between(const Vec3& a, const Vec3& b) {
  return std::atan2(length(cross(a, b)), dot(a, b)) * 180 / kPi;
}

}  // namespace

TEST_CASE("the corner of a cube goes to (0.5, 0.5, 0.5) in the limit") {
  // M. Halstead, M. Kass, T. DeRose 1993: (n² v + 4 Σe + Σf) / (n (n + 5)) with n = 3.
  const Form form = cube();
  const LimitPoints limit = limit_of(form);
  for (std::size_t k = 0; k < 8; ++k) {
    CHECK(distance(limit.points[k], form.points[k] * 0.5) < 1e-15);
    CHECK(distance(limit.normals[k], normalized(form.points[k])) < 1e-12);
  }
}

TEST_CASE("a fully creased box stays a box to 1e-12") {
  Form box = make_box_form({}, {3, 2, 1}, 2, 2, 2, 1);
  for (const FormTopology::Edge& e : topology(box).edges) {
    // The edges of the box, where two of the three coordinates are at an end.
    const auto at_end = [&](std::uint32_t p) {
      const Vec3& v = box.points[p];
      return std::array{std::abs(v.x) > 1.49, std::abs(v.y) > 0.99, std::abs(v.z) > 0.49};
    };
    const auto a = at_end(e.points[0]);
    const auto b = at_end(e.points[1]);
    int both = 0;
    for (std::size_t c = 0; c < 3; ++c) both += a[c] && b[c] ? 1 : 0;
    if (both >= 2) box.creases[e.points] = kSharp;
  }
  Progress progress;
  const TriangleMesh mesh = limit_mesh(box, 3, progress);
  for (const Vec3& p : mesh.points) {
    const double off = std::max({std::abs(p.x) / 1.5, std::abs(p.y) / 1.0, std::abs(p.z) / 0.5});
    CHECK(std::abs(off - 1.0) < 1e-12);
  }
  CHECK(volume(mesh) == Approx(6.0).epsilon(1e-12));
  // Each vertex has the normal of its side.
  for (std::size_t k = 0; k < mesh.normals.size(); ++k)
    CHECK(std::max({std::abs(mesh.normals[k].x), std::abs(mesh.normals[k].y),
                    std::abs(mesh.normals[k].z)}) > 1 - 1e-9);
}

TEST_CASE("one subdivision puts every point where OpenSubdiv does") {
  Progress progress;
  REQUIRE(corpus().size() >= 40);
  for (const Named& n : corpus()) {
    INFO(n.name);
    const FormTopology t = topology(n.form);
    const Form fine = subdivided(n.form, progress);
    check(fine);
    const Refined r = refined(n.form, 1);
    const Far::TopologyLevel& base = r.refiner->GetLevel(0);
    const auto there = [&](int k) { return r.levels[1][static_cast<std::size_t>(k)].p; };
    const std::size_t points = n.form.points.size();
    // Sharpness is kept there in single precision.
    for (std::size_t k = 0; k < points; ++k)
      CHECK(distance(fine.points[k], there(base.GetVertexChildVertex(static_cast<int>(k)))) < 1e-6);
    for (std::size_t e = 0; e < t.edges.size(); ++e) {
      const int edge = base.FindEdge(static_cast<int>(t.edges[e].points[0]),
                                     static_cast<int>(t.edges[e].points[1]));
      CHECK(distance(fine.points[points + e], there(base.GetEdgeChildVertex(edge))) < 1e-6);
    }
    for (std::size_t f = 0; f < n.form.faces.size(); ++f)
      CHECK(distance(fine.points[points + t.edges.size() + f],
                     there(base.GetFaceChildVertex(static_cast<int>(f)))) < 1e-6);
  }
}

TEST_CASE("limits and their normals are those of OpenSubdiv") {
  constexpr int kLevels = 6;  // all creases but sharp ones have run out
  int compared = 0;
  for (const Named& n : corpus()) {
    INFO(n.name);
    const LimitPoints limit = limit_of(n.form);
    const Refined r = refined(n.form, kLevels);
    const Far::PrimvarRefinerReal<double> primvar(*r.refiner);
    std::vector<Place> places(r.levels.back().size()), du(places.size()), dv(places.size());
    primvar.Limit(r.levels.back(), places, du, dv);
    const FormTopology t = topology(n.form);
    for (std::size_t k = 0; k < n.form.points.size(); ++k) {
      int at = static_cast<int>(k);
      for (int level = 0; level < kLevels; ++level)
        at = r.refiner->GetLevel(level).GetVertexChildVertex(at);
      const auto there = static_cast<std::size_t>(at);
      // Where one crease ends the library takes the mask of smooth points, which is near the limit and not it: its error
      // falls with the levels.
      int creases = 0;
      for (const std::uint32_t e : t.edges_of_point[k])
        creases += n.form.crease(t.edges[e].points[0], t.edges[e].points[1]) >= kSharp ? 1 : 0;
      const bool dart = creases == 1 && t.faces_of_point[k].size() == t.edges_of_point[k].size();
      CHECK(distance(limit.points[k], places[there].p) < (dart ? 1e-2 : 2e-6));
      // A normal is one where at most a border, or no crease at all, passes.
      int sharp = 0;
      for (const std::uint32_t e : t.edges_of_point[k])
        sharp += !t.edges[e].border() && n.form.creases.contains(t.edges[e].points) ? 1 : 0;
      if (sharp > 0 || t.faces_of_point[k].size() < 2) continue;
      CHECK(degrees_between(limit.normals[k], normalized(cross(du[there].p, dv[there].p))) < 1e-3);
      ++compared;
    }
  }
  CHECK(compared > 200);
}

TEST_CASE("a limit does not depend on how often the form was subdivided before") {
  Progress progress;
  for (const Named& n : corpus()) {
    INFO(n.name);
    const LimitPoints coarse = limit_of(n.form);
    const Form once = subdivided(n.form, progress);
    const LimitPoints fine = limit_of(subdivided(once, progress));
    for (std::size_t k = 0; k < n.form.points.size(); ++k) {
      CHECK(distance(coarse.points[k], fine.points[k]) < 1e-11);
      CHECK(degrees_between(coarse.normals[k], fine.normals[k]) < 0.01);
    }
  }
}

TEST_CASE("the limit as triangles is closed and settles with the subdivisions") {
  Progress progress;
  const Form form = cube();
  double before = 0.0;
  for (const int levels : {2, 3, 4, 5}) {
    const TriangleMesh mesh = limit_mesh(form, levels, progress);
    CHECK(check_edges(mesh).watertight());
    const double now = volume(mesh);
    if (levels > 2) CHECK(std::abs(now - before) < 0.06 * now / std::pow(4.0, levels - 3));
    before = now;
  }
}

TEST_CASE("a point of valence n has n faces around it in order, also at borders") {
  for (const Named& n : corpus()) {
    INFO(n.name);
    const FormTopology t = topology(n.form);
    // L. Euler: all forms here are one sphere or one disk.
    CHECK(t.euler == (t.borders == 0 ? 2 : 1));
    CHECK(t.shells == 1);
  }
}

TEST_CASE("a box form has the counts of its formula, and its faces look outside") {
  for (const auto& [x, y, z] : {std::tuple{1, 1, 1}, {3, 2, 4}}) {
    const Form box = make_box_form({}, {3, 2, 4}, x, y, z, 1);
    CHECK(box.faces.size() == static_cast<std::size_t>(2 * (x * y + y * z + z * x)));
    const FormTopology t = topology(box);
    CHECK(t.euler == 2);
    for (const FormFace& f : box.faces) {
      const Vec3 n = cross(box.points[f.points[1]] - box.points[f.points[0]],
                           box.points[f.points[2]] - box.points[f.points[0]]);
      Vec3 middle;
      for (const std::uint32_t p : f.points) middle += box.points[p] / 4.0;
      CHECK(dot(n, middle) > 0.0);
    }
  }
}

TEST_CASE("forms that are no manifolds are refused with a sentence") {
  const std::vector<Vec3> p{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0},
                            {0, 0, 1}, {2, 2, 2}, {3, 2, 2}};
  CHECK_THROWS_WITH(make_form(p, {{0, 1}}, 1), Contains("fewer than three"));
  CHECK_THROWS_WITH(make_form(p, {{0, 1, 9}}, 1), Contains("not there"));
  CHECK_THROWS_WITH(make_form(p, {{0, 1, 1}}, 1), Contains("twice"));
  CHECK_THROWS_WITH(make_form({p[0], p[1], p[2], p[3]}, {{0, 1, 2}, {0, 1, 3}}, 1),
                    Contains("same way"));
  CHECK_THROWS_WITH(make_form({p[0], p[1], p[2], p[3], p[4]}, {{0, 1, 2}, {0, 3, 4}}, 1),
                    Contains("single point"));
  CHECK_THROWS_WITH(make_form(p, {{0, 1, 2, 3}}, 1), Contains("no face"));
  Form bad = cube();
  bad.points[0].x = std::nan("");
  CHECK_THROWS_WITH(check(bad), Contains("not a number"));
  bad = cube();
  bad.creases[{0, 7}] = 1;
  CHECK_THROWS_AS(check(bad), Error);
  bad = cube();
  bad.creases.clear();
  bad.faces[0].tag = bad.faces[1].tag;
  CHECK_THROWS_WITH(check(bad), Contains("one name"));
  CHECK_THROWS_WITH(extruded(cube(), {}, {0, 0, 1}, 1), Contains("No face"));
  CHECK_THROWS_WITH(without_faces(cube(), std::array<std::uint32_t, 6>{0, 1, 2, 3, 4, 5}),
                    Contains("nothing would be left"));
  CHECK_THROWS_WITH(make_box_form({}, {1, 1, 1}, 0, 1, 1, 1), Contains("1 to 100"));
}

TEST_CASE(
    "plans of forms with sharp edges alone, and of points with two faces, give what subdividing "
    "gives") {
  Progress progress;
  std::mt19937 random(11);
  std::vector<Named> forms;
  for (const Named& n : corpus()) {
    if (!n.form.creases.empty()) continue;
    forms.push_back({n.name + " sharp", n.form});
    shake(forms.back().form, random);
    const FormTopology t = topology(n.form);
    for (const FormTopology::Edge& e : t.edges)
      if (!e.border() && random() % 3 == 0) forms.back().form.creases[e.points] = kSharp;
  }
  // A point in the middle of an edge has two faces around it, for which there are no tables.
  Form split = cube();
  const FormEdge edge = topology(split).edges[0].points;
  const auto middle = static_cast<std::uint32_t>(split.points.size());
  split.points.push_back((split.points[edge[0]] + split.points[edge[1]]) * 0.55);
  split.point_tags.push_back(make_tag(3, 1, 1));
  for (FormFace& f : split.faces)
    for (std::size_t k = 0; k < f.points.size(); ++k)
      if (form_edge(f.points[k], f.points[(k + 1) % f.points.size()]) == edge) {
        f.points.insert(f.points.begin() + static_cast<std::ptrdiff_t>(k) + 1, middle);
        break;
      }
  split.creases.clear();
  forms.push_back({"cube with a point in an edge", split});
  for (const Named& n : forms) {
    INFO(n.name);
    const Form form = linked(n.form);
    for (const int levels : {1, 3}) {
      TriangleMesh now;
      const LimitPlan plan(form, levels, progress, &now);
      const TriangleMesh expected = limit_mesh(form, levels, progress);
      REQUIRE(now.triangles.size() == expected.triangles.size());
      REQUIRE(now.points.size() == plan.vertices());
      for (std::size_t t = 0; t < now.triangles.size(); ++t)
        for (std::size_t c = 0; c < 3; ++c) {
          const std::uint32_t v = now.triangles[t][c], w = expected.triangles[t][c];
          REQUIRE(distance(now.points[v], expected.points[w]) < 1e-11);
          REQUIRE(distance(now.normals[v], expected.normals[w]) < 1e-6);
        }
      CHECK(plan.mesh(form.points).triangles == now.triangles);
    }
  }
}

TEST_CASE("the limit where a crease ends inside is what many subdivisions come to") {
  Progress progress;
  std::mt19937 random(3);
  for (const int n : {3, 4, 5, 7, 10}) {
    INFO(n);
    Form form = pyramid(n, false);
    shake(form, random);
    const FormTopology t = topology(form);
    // The apex is the point of the highest valence: one sharp edge ends there.
    std::uint32_t apex = 0;
    for (std::uint32_t p = 0; p < form.points.size(); ++p)
      if (t.edges_of_point[p].size() > t.edges_of_point[apex].size()) apex = p;
    const FormEdge ending = t.edges[t.edges_of_point[apex][0]].points;
    form.creases[ending] = kSharp;
    const LimitPoints limit = limit_of(form);
    Form fine = form;
    for (int k = 0; k < 5; ++k) fine = subdivided(fine, progress);
    // Points of a form keep their numbers.
    CHECK(distance(limit.points[apex], limit_of(fine).points[apex]) < 1e-11);
    CHECK(distance(limit.normals[apex], limit_of(fine).normals[apex]) < 1e-8);
    // Of the ring itself the plane settles slowly; it comes nearer all the same.
    CHECK(distance(limit.points[apex], fine.points[apex]) < 0.05);
  }
}

TEST_CASE("the plan of a limit gives what subdividing gives, also after points have moved") {
  Progress progress;
  std::mt19937 random(5);
  for (const Named& n : corpus()) {
    INFO(n.name);
    Form form = linked(n.form);
    for (const int levels : {0, 1, 2, 4}) {
      const LimitPlan plan(form, levels, progress);
      CHECK(plan.fits(form, levels));
      const TriangleMesh expected = limit_mesh(form, levels, progress);
      TriangleMesh now = plan.mesh(form.points);
      REQUIRE(now.points.size() == expected.points.size());
      REQUIRE(now.triangles.size() == expected.triangles.size());
      // Vertices may be numbered otherwise; triangles are the same one by one, and none is left out.
      std::vector<std::uint32_t> twin(now.points.size(), 0xFFFFFFFF);
      for (std::size_t t = 0; t < now.triangles.size(); ++t)
        for (std::size_t c = 0; c < 3; ++c) {
          const std::uint32_t v = now.triangles[t][c], w = expected.triangles[t][c];
          REQUIRE((twin[v] == 0xFFFFFFFF || twin[v] == w));
          twin[v] = w;
          REQUIRE(distance(now.points[v], expected.points[w]) < 1e-11);
          REQUIRE(distance(now.normals[v], expected.normals[w]) < 1e-6);
        }
      std::sort(twin.begin(), twin.end());
      for (std::size_t v = 0; v < twin.size(); ++v) REQUIRE(twin[v] == v);
      // One point moved: only what it reaches is summed again, and all is as if made anew.
      Form moved = form;
      const auto p = static_cast<std::uint32_t>(random() % form.points.size());
      moved.points[p] += Vec3{0.1, -0.2, 0.3};
      CHECK(plan.fits(moved, levels));
      plan.update(moved.points, std::array{p}, now);
      const TriangleMesh again = plan.mesh(moved.points);
      for (std::size_t v = 0; v < now.points.size(); ++v) {
        REQUIRE(now.points[v] == again.points[v]);
        REQUIRE(now.normals[v] == again.normals[v]);
      }
    }
    Form other = form;
    other.creases[topology(form).edges[0].points] = 3.0;
    CHECK_FALSE(LimitPlan(form, 0, progress).fits(other, 0));
  }
}
