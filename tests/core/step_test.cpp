// A large STEP file: all of it comes in, its progress is told, and reading it can be given up.
#include <unistd.h>

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <STEPControl_Writer.hxx>
#include <atomic>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <gp_Pnt.hxx>
#include <gp_Vec.hxx>
#include <numbers>
#include <sstream>
#include <thread>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/exchange/step_file.h"
#include "core/operations/report.h"

using namespace evenclay;

namespace {

constexpr int kBodies = 20;
constexpr int kSides = 98;
constexpr double kRadius = 80.0;  // mm
constexpr double kHeight = 25.0;

// A stack of twenty prisms of 98 sides, written by the kernel: 2000 faces.
const std::string& large_file() {
  static const std::string text = [] {
    STEPControl_Writer writer;
    for (int body = 0; body < kBodies; ++body) {
      BRepBuilderAPI_MakePolygon polygon;
      for (int k = 0; k < kSides; ++k) {
        const double a = 2.0 * std::numbers::pi * k / kSides;
        polygon.Add(gp_Pnt(kRadius * std::cos(a), kRadius * std::sin(a), 30.0 * body));
      }
      polygon.Close();
      const TopoDS_Face base = BRepBuilderAPI_MakeFace(polygon.Wire());
      writer.Transfer(BRepPrimAPI_MakePrism(base, gp_Vec(0, 0, kHeight)).Shape(), STEPControl_AsIs);
    }
    const auto path =
        std::filesystem::temp_directory_path() / ("large-" + std::to_string(::getpid()) + ".step");
    writer.Write(path.c_str());
    std::ostringstream bytes;
    bytes << std::ifstream(path, std::ios::binary).rdbuf();
    std::filesystem::remove(path);
    return bytes.str();
  }();
  return text;
}

}  // namespace

TEST_CASE("a STEP file of two thousand faces comes in whole") {
  Progress progress;
  const StepFile file = read_step(large_file(), 3, progress);
  REQUIRE(file.bodies.size() == kBodies);
  CHECK(file.faces_left_out == 0);
  // A regular polygon of n sides: area n R² sin(2π/n) / 2.
  const double area = kSides * kRadius * kRadius * std::sin(2.0 * std::numbers::pi / kSides) / 2.0;
  const double side = 2.0 * kRadius * std::sin(std::numbers::pi / kSides);
  std::size_t faces = 0;
  for (const StepBody& b : file.bodies) {
    faces += b.body.faces.size();
    CHECK(b.body.edges.size() == 3 * kSides);  // Euler: V − E + F = 2 with V = 2 n
    const Topology t = topology(b.body);
    CHECK(t.closed);
    CHECK(t.open_edges.empty());
  }
  CHECK(faces == 2000);
  const Report r = report(file.bodies[7].body, nullptr, {}, progress);
  REQUIRE(r.volume);
  CHECK(*r.volume == Approx(area * kHeight).epsilon(1e-8));
  CHECK(r.area == Approx(2.0 * area + kSides * side * kHeight).epsilon(1e-8));
  CHECK(r.box.min.z == Approx(210.0).epsilon(1e-9));
}

TEST_CASE("reading a large STEP file tells its progress and is given up in the middle") {
  Progress progress;
  std::atomic<bool> finished{false};
  std::jthread reader([&] {
    try {
      read_step(large_file(), 3, progress);
      finished = true;
    } catch (const Cancelled&) {
    }
  });
  double seen = 0.0;
  while (seen < 0.1 && !finished) {
    seen = progress.share();
    std::this_thread::sleep_for(std::chrono::milliseconds(1));
  }
  progress.cancel();
  reader.join();
  CHECK_FALSE(finished.load());
  CHECK(seen >= 0.1);
  CHECK(seen < 1.0);
}
