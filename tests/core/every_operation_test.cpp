// Every operation on every kind of shape: a shape comes out, or a sentence; nothing else.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/nurbs/conics.h"
#include "core/operations/border_surface.h"
#include "core/operations/catalogue.h"
#include "core/operations/lifted_points.h"
#include "core/operations/rows.h"
#include "core/source/outlines.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

struct NamedShape {
  std::string name;
  Shape shape;
};

std::vector<NamedShape> shapes() {
  std::vector<NamedShape> all{
      {"no faces", Body{}},
      {"no triangles", TriangleMesh{}},
      {"no curves", CurveSet{}},
      {"no picture", Picture{}},
      {"no form", Form{}},
      {"box form", make_box_form({}, {20, 20, 20}, 3, 2, 1, 1)},
      {"open form", linked(make_plane_form({}, 20, 10, 2, 2, 1))},
      {"sphere", body_of({make_sphere({}, 20)}, 1)},
      {"flat sheet", body_of({make_plane({}, 20, 10, 2, 2, 1, 1)}, 1)},
      {"two sheets", body_of({make_plane({}, 20, 10, 4, 4, 3, 3), make_torus({}, 30, 8)}, 1)},
      {"tetrahedron", TriangleMesh{{{0, 0, 0}, {9, 0, 0}, {0, 9, 0}, {0, 0, 9}},
                                   {},
                                   {{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}}}},
      {"line", CurveSet{{make_curve({{0, 0, 0}, {30, 0, 0}}, 1, false)}}},
      {"circle", CurveSet{{make_circle({}, 12)}}},
      {"helix and arc",
       CurveSet{{make_helix({}, 9, 4, 2), make_arc({0, 0, 0}, {5, 5, 0}, {10, 0, 0})}}},
      {"point-like curve", CurveSet{{make_curve({{1, 1, 1}, {1, 1, 1}, {1, 1, 1}}, 2, false)}}},
  };
  // A sheet whose points all lie in one place.
  Surface point = make_plane({}, 10, 10, 3, 3, 2, 2);
  for (Vec3& p : point.points.values()) p = {1, 2, 3};
  all.push_back({"collapsed sheet", body_of({point}, 1)});
  return all;
}

class FillParts : public PartialVisitor {
 public:
  explicit FillParts(int count) : count_(count) {}
  void part(const ParameterInfo&, PartRef& v) override { v = next(); }
  // Two places: of a form what is nearest to them is worked on.
  void picks(const ParameterInfo&, std::vector<Pick>& v, const PickRange& r) override {
    v.clear();
    for (const PickKind kind : r.kinds)
      for (const Vec3& at : {Vec3{9, 3, 10}, Vec3{-9, 1, -10}, Vec3{2, 9, 0}})
        if (v.size() < static_cast<std::size_t>(r.most)) v.push_back({kind, 0, at});
  }
  void parts(const ParameterInfo&, std::vector<PartRef>& v, const PartsRange& r) override {
    v.clear();
    for (int k = 0; k < std::min(r.most, count_); ++k) v.push_back(next());
  }

 private:
  PartRef next() { return PartRef{++given_}; }
  int count_, given_ = 0;
};

// A sentence for a designer: it ends as one, and holds no word of programming.
void check_sentence(const std::string& text) {
  INFO(text);
  REQUIRE(text.size() > 12);
  CHECK(text.back() == '.');
  for (const char* word : {"null", "assert", "exception", "std::", "Standard_", "index"})
    CHECK(text.find(word) == std::string::npos);
}

}  // namespace

namespace {

// Every other operation, so that two such checks run beside each other; each shape is met by some of the others.
constexpr std::size_t kOf = 8;
void check_operations(std::size_t first) {
  const std::vector<NamedShape> all = shapes();
  int made = 0;
  int refused = 0;
  for (std::size_t n = first; n < catalogue().size(); n += 2) {
    const OperationPtr& offered = catalogue()[n];
    for (std::size_t b = 0; b < all.size(); ++b)
      for (std::size_t k = b % kOf; k < all.size(); k += kOf) {
        const NamedShape &before = all[b], &other = all[k];
        // Those that read no part need not be tried with each.
        if (offered->inputs().empty() && k != b % kOf) {
          const auto probe = offered->clone();
          FillParts fill(4);
          probe->describe(fill);
          if (probe->inputs().empty()) break;
        }
        INFO(offered->kind() << " on " << before.name << " with " << other.name);
        const std::shared_ptr<Operation> o = offered->clone();
        FillParts fill(4);
        o->describe(fill);
        Inputs inputs;
        inputs.step = 7;
        for (const PartRef& ref : o->inputs())
          inputs.parts[ref] = std::make_shared<const Shape>(other.shape);
        Progress progress;
        try {
          const Outcome outcome = o->apply(before.shape, inputs, progress);
          if (const auto* body = std::get_if<Body>(&outcome.shape)) check(*body);
          if (const auto* form = std::get_if<Form>(&outcome.shape)) check(*form);
          if (const auto* set = std::get_if<CurveSet>(&outcome.shape))
            for (const Curve& c : set->curves) check(c);
          for (const std::string& note : outcome.notes) check_sentence(note);
          ++made;
        } catch (const Error& e) {
          check_sentence(e.what());
          ++refused;
        }
      }
  }
  CHECK(made > 100);
  CHECK(refused > 100);
}

}  // namespace

TEST_CASE("every operation answers every kind of shape with a shape or a sentence") {
  check_operations(0);
}

TEST_CASE("every other operation answers every kind of shape, too") {
  check_operations(1);
}

TEST_CASE("a part that is not chosen yet is asked for in a sentence") {
  for (const OperationPtr& o : catalogue()) {
    INFO(o->kind());
    Progress progress;
    try {
      (void)o->apply(Shape{CurveSet{{make_circle({}, 12)}}}, {}, progress);
    } catch (const Error& e) {
      check_sentence(e.what());
    }
  }
}

TEST_CASE("summaries of all operations are short words") {
  for (const OperationPtr& o : catalogue()) {
    INFO(o->kind());
    CHECK(o->summary().size() < 80);
    CHECK_FALSE(o->help().empty());
  }
}

namespace {

// Cuts, doubles and changes characters of a text.
std::string spoiled(std::string text, std::mt19937& random) {
  const auto below = [&](std::size_t n) { return n == 0 ? 0 : random() % n; };
  for (std::size_t k = 0; k < 1 + below(4) && !text.empty(); ++k) {
    const std::size_t at = below(text.size());
    switch (below(4)) {
      case 0:
        text.erase(at, 1 + below(5));
        break;
      case 1:
        text.insert(at, text.substr(at, 1 + below(6)));
        break;
      case 2:
        text[at] = static_cast<char>("0123456789-,.[]{}\"ex "[below(21)]);
        break;
      default:
        text.resize(at);
    }
  }
  return text;
}

template <typename Data>
void spoil(Data data, const std::string& good, int seed) {
  std::mt19937 random(static_cast<unsigned>(seed));
  for (int k = 0; k < 400; ++k) {
    const std::string text = spoiled(good, random);
    Data tried = data;
    try {
      tried.from_json(text);
      // What was taken can be written and read again.
      Data again = data;
      again.from_json(tried.to_json());
      CHECK(again.to_json() == tried.to_json());
    } catch (const Error& e) {
      check_sentence(e.what());
      CHECK(tried.to_json() == data.to_json());  // and left what was there
    }
  }
}

}  // namespace

TEST_CASE("spoiled lists are refused with a sentence and leave what was there") {
  spoil(PlacesData{}, "[[1.0,2.0,3.0],[4.5,-6.0,7.0]]", 1);
  spoil(ProfileData{}, R"([[0,0,0,"line"],[10,0,0,"arc"],[20,5,0,"curve"]])", 2);
  spoil(NumbersData{}, "[0,12.5,-3]", 3);
  LiftRows rows;
  spoil(rows, R"("[4,2] off; [5,2] z; [1,0,3] x")", 4);
  RibsData ribs;
  ribs.across_u = 1;
  Shaping s;
  s.u = uniform_knots(4, 3, false);
  s.displacements = Grid<Vec3>(4, 1);
  s.displacements(1, 0) = {0, 0, 2};
  ribs.nets = {s};
  spoil(RibsData{}, ribs.to_json(), 5);
}

TEST_CASE("the demo's project survives being spoiled: it opens, or says why not") {
  const std::string good = to_project_json(make_demo());
  std::mt19937 random(6);
  int opened = 0;
  for (int k = 0; k < 120; ++k) {
    std::string text = spoiled(good, random);
    try {
      const Document d = from_project_json(text, make_operation);
      ++opened;
      CHECK_FALSE(to_project_json(d).empty());
    } catch (const Error& e) {
      check_sentence(e.what());
    }
  }
  CHECK(opened > 0);
}
