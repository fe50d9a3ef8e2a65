// Drives the headless runner as a user would: by its command line.
#include "run_support.h"

#include <array>
#include <cstdio>
#include <numbers>

using namespace evenclay::testing;

TEST_CASE("operations lists every parameter with name, type, unit, range, default and help") {
  const Result r = run("operations");
  REQUIRE(r.status == 0);
  const Json all = Json::parse(r.out);
  REQUIRE(all.size() >= 5);
  for (const Json& o : all) {
    CHECK(o["kind"].is_string());
    REQUIRE(o["parameters"].size() > 0);
    for (const Json& p : o["parameters"]) {
      for (const char* key : {"name", "type", "default", "help"}) CHECK(p.contains(key));
      if (p["type"] == "number" || p["type"] == "count") {
        CHECK(p.contains("unit"));
        CHECK(p["range"].size() == 2);
      }
    }
  }
}

TEST_CASE("info tells parts, steps, parameters and messages") {
  const Folder folder;
  const Result r = run("info " + demo(folder));
  REQUIRE(r.status == 0);
  const Json j = Json::parse(r.out);
  REQUIRE(j["parts"].size() == 25);
  CHECK(j["parts"][0]["name"] == "Shell");
  CHECK(j["parts"][0]["steps"][1]["parameters"]["points_u"] == 10);
  CHECK(j["parts"][0]["steps"][1]["message"] == "");
}

TEST_CASE("measure prints numbers with units in the key names") {
  const Folder folder;
  const std::string file = uncut(folder);
  const Result r = run("measure " + file + " --part Shell --set 'Shell/Rebuild.enabled=false' " +
                       "--set 'Shell/Shaped points.enabled=false'");
  REQUIRE(r.status == 0);
  const Json j = Json::parse(r.out);
  CHECK(j["volume_mm3"].get<double>() ==
        Approx(4.0 / 3.0 * std::numbers::pi * 52 * 52 * 52).epsilon(1e-8));
  CHECK(j["area_mm2"].get<double>() == Approx(4 * std::numbers::pi * 52 * 52).epsilon(1e-8));
  // On a sphere both principal curvatures agree, and their difference is the root of rounding.
  CHECK(j["least_radius_mm"].get<double>() == Approx(52).epsilon(1e-7));
  CHECK(j["box"]["max"][2].get<double>() == Approx(52).epsilon(1e-8));
  const Result against = run("measure " + file + " --part Grille --against Shell");
  REQUIRE(against.status == 0);
  const Json g = Json::parse(against.out);
  CHECK(g["deviation"]["max_mm"].get<double>() > 0.5);
  CHECK(g["deviation"].contains("mean_mm"));
  CHECK(g["deviation"]["at"].size() == 3);
  const Result shell = run("measure " + file + " --part Shell");
  const Json s = Json::parse(shell.out);
  CHECK(s["grid"]["points_u"] == 10);
  CHECK(s["evenness"]["u_percent"].get<double>() > 90);
}

TEST_CASE("export writes each format, and set changes the model first") {
  const Folder folder;
  const std::string file = uncut(folder);
  for (const char* name : {"s.stl", "s.obj", "s.step", "s.surface.json"}) {
    const Result r = run("export " + file + " --part Shell --out " + (folder / name) +
                         " --chord 0.2 --set 'Shell/Rebuild.points_u=12'");
    INFO(name << ": " << r.err);
    CHECK(r.status == 0);
    CHECK(r.out.empty());
    CHECK(fs::file_size(folder / name) > 1000);
  }
  const Json j = Json::parse(read_file(folder / "s.surface.json"));
  CHECK(j["surfaces"][0]["points"].size() == 12 + 3);  // clamped form of 12 periodic points
}

TEST_CASE("exit status 2 for wrong calls, with a sentence") {
  const Folder folder;
  const std::string file = uncut(folder);
  for (const std::string& call :
       {std::string(), std::string("fly"), "measure " + file, "measure " + file + " --part Nose",
        "measure " + file + " --part Shell --set nonsense",
        "measure " + file + " --part Shell --set 'Shell/Rebuild.points_u=900'",
        "export " + file + " --part Grille --out " + (folder / "g.step")}) {
    const Result r = run(call);
    INFO(call);
    CHECK(r.status == 2);
    CHECK(r.err.size() + r.out.size() > 10);
  }
}

TEST_CASE("exit status 3 for files that cannot be read or written") {
  const Folder folder;
  const std::string file = uncut(folder);
  std::ofstream(folder / "bad.evenclay") << "PK rubbish";
  CHECK(run("info " + (folder / "bad.evenclay")).status == 3);
  CHECK(run("info " + (folder / "none.evenclay")).status == 3);
  CHECK(run("demo " + (folder / "no/such/place.evenclay")).status == 3);
  CHECK(run("export " + file + " --part Shell --out " + (folder / "no/such.stl")).status == 3);
  CHECK(run("export " + file + " --part Shell --out " + (folder / "s.unknown")).status == 3);
}

TEST_CASE("exit status 4 when a step failed, and what could be computed is still written") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string failing = " --set 'Shell/Rebuild.points_u=3'";
  const Result measured = run("measure " + file + " --part Shell" + failing);
  CHECK(measured.status == 4);
  CHECK(measured.err.find("Shell / Rebuild:") != std::string::npos);
  CHECK(Json::parse(measured.out).contains("area_mm2"));
  const Result exported =
      run("export " + file + " --part Shell --out " + (folder / "s.obj") + failing);
  CHECK(exported.status == 4);
  CHECK(fs::file_size(folder / "s.obj") > 1000);
  CHECK(run("info " + file + failing).status == 4);
}

TEST_CASE("progress goes to stderr and leaves the JSON alone") {
  const Folder folder;
  const Result r = run("measure " + uncut(folder) + " --part Shell --progress");
  CHECK(r.status == 0);
  CHECK(r.err.find("100 %") != std::string::npos);
  CHECK(Json::parse(r.out).contains("area_mm2"));
}

TEST_CASE("a bare project.json serves like the container, and saving it round-trips") {
  const Folder folder;
  REQUIRE(run("demo " + (folder / "project.json")).status == 0);
  CHECK(run("info " + (folder / "project.json")).status == 0);
  CHECK(read_file(folder / "project.json").front() == '{');
}

TEST_CASE("every grid step can be added, set, measured and saved without a window") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string shell = "'Shell/";
  const struct {
    const char* kind;
    const char* setting;
    double most;  // mm off the shape before
  } steps[] = {{"set_degree", "Set degree.degree_u=5", 1e-6},
               {"lighten", "Lighten.tolerance=0.3", 0.3},
               {"even_out", "Even out.tolerance=0.4", 0.4},
               {"add_grid_line", "Add grid line.lines=halfway_both", 1e-6},
               {"remove_grid_line", "Remove grid line.place_v=0.4", 20.0},
               {"open_close", "Open or close.place=0.25", 1e-6},
               {"directions", "Directions.swap=true", 1e-6},
               {"split_surface", "Split surface.along=v", 1e-6}};
  for (const auto& s : steps) {
    INFO(s.kind);
    const std::string changed = folder / "changed.evenclay";
    const Result saved = run("save " + file + " --add '" + "Shell/" + s.kind + "' --set '" +
                             "Shell/" + s.setting + "' --out " + changed);
    INFO(saved.err);
    REQUIRE(saved.status == 0);
    const Result info = run("info " + changed);
    REQUIRE(info.status == 0);
    const Json step = Json::parse(info.out)["parts"][0]["steps"].back();
    CHECK(step["kind"] == s.kind);
    CHECK(step["failed"] == false);
    const Result dump =
        run("export " + changed + " --part Shell --out " + (folder / "a.surface.json"));
    CHECK(dump.status == 0);
    const Json surfaces = Json::parse(read_file(folder / "a.surface.json"))["surfaces"];
    CHECK(surfaces.size() == (std::string(s.kind) == "split_surface" ? 2U : 1U));
  }
  CHECK(run("info " + file + " --add Shell/fly").status == 2);
  CHECK(run("info " + file + " --add Nose/rebuild").status == 2);
  CHECK(run("info " + file + " --add rebuild").status == 2);
  CHECK(run("info " + file + " --add /").status == 2);
}

TEST_CASE("a grid changed under shaping keeps the shape and tells how well") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string finer = " --set 'Shell/Rebuild.points_u=14' --set 'Shell/Rebuild.points_v=10'";
  const Json before = Json::parse(run("measure " + file + " --part Shell").out);
  const Json after = Json::parse(run("measure " + file + " --part Shell" + finer).out);
  CHECK(after["grid"]["points_u"] == 14);
  CHECK(after["volume_mm3"].get<double>() ==
        Approx(before["volume_mm3"].get<double>()).epsilon(2e-3));
  const Json info = Json::parse(run("info " + file + finer).out);
  const Json step = info["parts"][0]["steps"][2];
  REQUIRE(step.contains("kept"));
  CHECK(step["kept"]["max_mm"].get<double>() < 0.6);
  CHECK(step["kept"]["mean_mm"].get<double>() < step["kept"]["max_mm"].get<double>());
  CHECK_FALSE(Json::parse(run("info " + file).out)["parts"][0]["steps"][2].contains("kept"));
}

TEST_CASE("a ring is made, rebuilt and shaped from the command line, and handed over") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string ring =
      file +
      " --add Ring/circle --set \"Ring/Circle.radius=22\" --add Ring/rebuild_curve "
      "--set \"Ring/Rebuild curve.points=44\" "
      "--shape \"Ring: pick all; pick every 2; scale 0.9; name bumps\"";
  const Result measured = run("measure " + ring + " --part Ring");
  REQUIRE(measured.status == 0);
  const Json m = Json::parse(measured.out);
  CHECK(m["curve"]["points"] == 44);
  CHECK(m["curve"]["degree"] == 3);
  // Between the circles of radius 0.9 · 22 and 22, and longer than the smaller one for its waves.
  CHECK(m["length_mm"].get<double>() > 2 * std::numbers::pi * 19.8);
  CHECK(m["length_mm"].get<double>() < 2 * std::numbers::pi * 22.0 * 1.2);
  CHECK_FALSE(m.contains("area_mm2"));

  const std::string saved = folder / "ring.evenclay";
  REQUIRE(run("save " + ring + " --out " + saved).status == 0);
  const Json info = Json::parse(run("info " + saved).out);
  const Json part = info["parts"].back();
  CHECK(part["name"] == "Ring");
  CHECK(part["selections"]["bumps"] == 22);
  CHECK(part["steps"].back()["summary"].get<std::string>().find("22 moved") == 0);
  // Single points of a curve are addressed with one number.
  CHECK(
      run("measure " + saved + " --part Ring --set \"Ring/Shaped points.point[7]=0,0,2\"").status ==
      0);
  CHECK(run("measure " + saved + " --part Ring --set \"Ring/Shaped points.point[7,1]=0,0,2\"")
            .status == 2);

  REQUIRE(run("export " + saved + " --part Ring --out " + (folder / "r.surface.json")).status == 0);
  const Json curve = Json::parse(read_file(folder / "r.surface.json"))["curves"][0];
  CHECK(curve["closed"] == true);
  CHECK(curve["knots"].size() == curve["points"].size() + 4);
  CHECK(curve["points"].front() == curve["points"].back());
  REQUIRE(run("export " + saved + " --part Ring --out " + (folder / "r.step")).status == 0);
  CHECK(read_file(folder / "r.step").find("B_SPLINE_CURVE") != std::string::npos);
  const Result stl = run("export " + saved + " --part Ring --out " + (folder / "r.stl"));
  CHECK(stl.status == 2);
  CHECK(stl.err.find("curve") != std::string::npos);
}

TEST_CASE("shaping in words says what is wrong with them, and measures what they did") {
  const Folder folder;
  const std::string file = uncut(folder);
  const Result lost = run("measure " + file + " --part Shell --shape \"pick all\"");
  CHECK(lost.status == 2);
  CHECK(lost.err.find("part and a colon") != std::string::npos);
  CHECK(run("measure " + file + " --part Shell --shape \"Shell: squash\"").status == 2);
  const Result before = run("measure " + file + " --part Shell");
  const Result after =
      run("measure " + file +
          " --part Shell --shape \"Shell: falloff 2 2 bell; pick [2,4]; move off_skin 6\"");
  REQUIRE(after.status == 0);
  const Json a = Json::parse(before.out);
  const Json b = Json::parse(after.out);
  CHECK(b["volume_mm3"].get<double>() > a["volume_mm3"].get<double>() + 100);
  CHECK(b["symmetry"]["xz"]["max_mm"].get<double>() < 1e-9);
  const Result crooked = run(
      "measure " + file +
      " --part Shell --shape \"Shell: symmetry off; pick [2,4]; move off_skin 6; symmetry xz\"");
  CHECK(crooked.status == 2);  // no longer symmetric
}

TEST_CASE("an opening is cut, measured and written by the runner, and read again") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string cut =
      " --add Ring/circle --set Ring/Circle.radius=9 --set Ring/Circle.centre_z=30"
      " --add Shell/trim_away --set \"Shell/Trim away.curve=Ring\""
      " --set \"Shell/Trim away.direction=z\" --set \"Shell/Trim away.reach=forwards\"";
  const Json whole = Json::parse(run("measure " + file + " --part Shell").out);
  const Result r = run("measure " + file + cut + " --part Shell");
  REQUIRE(r.status == 0);
  const Json open = Json::parse(r.out);
  CHECK(whole["closed"] == true);
  CHECK(open["closed"] == false);
  // A nearly flat disc of radius 9 mm is gone: π 81 = 254.5 mm², a little more on a curved skin.
  const double gone = whole["area_mm2"].get<double>() - open["area_mm2"].get<double>();
  CHECK(gone > 254.4);
  CHECK(gone < 262.0);
  CHECK(open["gap_mm"].get<double>() < 1e-3);
  const std::string step = folder / "shell.step";
  REQUIRE(run("export " + file + cut + " --part Shell --out " + step).status == 0);
  const Result back = run("measure " + file +
                          " --add In/bring_in --set \"In/Bring in.file=" + step + "\" --part In");
  REQUIRE(back.status == 0);
  CHECK(Json::parse(back.out)["area_mm2"].get<double>() ==
        Approx(open["area_mm2"].get<double>()).epsilon(1e-6));
  // A curve beside the part, and one that is missing.
  const Result beside =
      run("measure " + file + cut + " --set Ring/Circle.centre_x=500 --part Shell");
  CHECK(beside.status == 4);
  CHECK(beside.err.find("misses the part") != std::string::npos);
  const Result none = run("measure " + file + " --add Shell/trim_away --part Shell");
  CHECK(none.status == 4);
  CHECK(none.err.find("no curve yet") != std::string::npos);
  CHECK(run("measure " + file +
            " --add In/bring_in --set \"In/Bring in.file=/no/such.step\" --part In")
            .status == 3);
}

TEST_CASE("named numbers, formulas and picks from the command line") {
  const Folder folder;
  const std::string file = folder / "n.evenclay";
  REQUIRE(run("demo " + file + " --number lift=12 --number 'twice=2 * lift' " +
              "--set 'Dimple tile/1.length_x=twice / 3'")
              .status == 0);
  const auto info = Json::parse(run("info " + file).out);
  CHECK(info["numbers"].back()["name"] == "twice");
  CHECK(info["numbers"].back()["value"] == 24.0);
  const auto& step = info["parts"][2]["steps"][0];
  CHECK(step["formulas"]["length_x"] == "twice / 3");
  CHECK(step["parameters"]["length_x"] == 8.0);
  const auto wider = Json::parse(run("info " + file + " --number lift=15").out);
  CHECK(wider["parts"][2]["steps"][0]["parameters"]["length_x"] == 10.0);
  const Result circle = run("info " + file + " --number 'lift=twice'");
  CHECK(circle.status == 2);
  CHECK(circle.err.find("circle") != std::string::npos);
  const Result missing = run("info " + file + " --set 'Shell/1.radius=2 * width'");
  CHECK(missing.status == 2);
  CHECK(missing.err.find("no number 'width'") != std::string::npos);
  CHECK(run("info " + file + " --number lift").status == 2);
}

TEST_CASE("interrupted, the runner ends at once, says so, and leaves no file behind") {
  const Folder folder;
  const std::string project = demo(folder);
  const std::string out = folder / "ball.step";
  const std::string said = folder / "said.txt";
  // A search over grids that takes many seconds.
  const std::string command =
      std::string("'") + EVENCLAY_RUN + "' export " + project + " --part Ball --out " + out +
      " --add Ball/sphere --add Ball/rebuild --add Ball/lighten --set Ball/Rebuild.points_u=200" +
      " --set Ball/Rebuild.points_v=200 --set Ball/Lighten.tolerance=0.0001";
  const int status = std::system(("sh -c '" +
                                  [&] {
                                    std::string quoted;
                                    for (const char c : command)
                                      if (c == '\'')
                                        quoted += "'\\''";
                                      else
                                        quoted += c;
                                    return quoted;
                                  }() +
                                  " 2>" + said + " & pid=$!; sleep 1; kill -INT $pid; wait $pid'")
                                     .c_str());
  CHECK(WEXITSTATUS(status) == 130);
  CHECK(read_file(said).find("Cancelled") != std::string::npos);
  CHECK_FALSE(fs::exists(out));
  for (const auto& entry : fs::directory_iterator(folder.path))
    CHECK(entry.path().filename().string().find("ball") == std::string::npos);
}

TEST_CASE("surfaces are laid through curves of several parts, by name, and follow them") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string circles =
      " --add Low/circle --set Low/Circle.radius=20 --add High/circle --set High/Circle.radius=12"
      " --set High/Circle.centre_z=30";
  const std::string loft = circles + " --add Cone/loft --set \"Cone/Loft.sections=Low; High\"";
  const Json cone = Json::parse(run("measure " + file + loft + " --part Cone").out);
  // The side of a frustum: pi (r + R) times the slant.
  const double slant = std::hypot(30.0, 8.0);
  CHECK(cone["area_mm2"].get<double>() == Approx(3.14159265358979 * 32 * slant).epsilon(1e-6));
  const Json wider =
      Json::parse(run("measure " + file + loft + " --set High/Circle.radius=20 --part Cone").out);
  CHECK(wider["area_mm2"].get<double>() == Approx(3.14159265358979 * 40 * 30).epsilon(1e-6));
  // A part reads no part that is not there, and none twice.
  CHECK(
      run("info " + file + circles + " --add C/loft --set \"C/Loft.sections=Low; Nose\"").status ==
      2);
  CHECK(run("info " + file + circles + " --add C/loft --set \"C/Loft.sections=Low; Low\"").status ==
        2);
}

TEST_CASE("a border surface is pushed and its ribs are shaped by words") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string border =
      " --add Edge/rectangle --set Edge/Rectangle.length=60 --set Edge/Rectangle.width=40"
      " --add Edge/split_curve --set Edge/Split.pieces=4"
      " --add Pad/border_surface --set \"Pad/Border surface.border=Edge\"";
  const Json flat = Json::parse(run("measure " + file + border + " --part Pad").out);
  CHECK(flat["area_mm2"].get<double>() == Approx(2400.0).epsilon(1e-6));
  const Json up = Json::parse(
      run("measure " + file + border + " --set \"Pad/Border surface.push=5\" --part Pad").out);
  CHECK(up["box"]["max"][2].get<double>() - up["box"]["min"][2].get<double>() ==
        Approx(5.0).epsilon(1e-6));
  const Json shaped = Json::parse(
      run("measure " + file + border + " --shape \"Pad: pick [1,3,0]; move z 6\" --part Pad").out);
  // A cubic rib of seven points: the middle one counts two thirds there.
  CHECK(shaped["box"]["max"][2].get<double>() == Approx(4.0).margin(0.05));
}

TEST_CASE("profiles, fills and lifted points are made by words and follow numbers") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string plate =
      " --add Rim/profile --set \"Rim/Profile.places=0,0,0:arc 30,0,0 30,16,0:arc 0,16,0\""
      " --set Rim/Profile.closed=true --add Plate/fill --set Plate/Fill.border=Rim";
  const Json stadium = Json::parse(run("measure " + file + plate + " --part Plate").out);
  // A rectangle of 30 x 16 and a disc of radius 8.
  CHECK(stadium["area_mm2"].get<double>() == Approx(480 + 3.14159265358979 * 64).epsilon(1e-4));
  const std::string lift =
      " --add Sheet/plane --add Sheet/rebuild --set Sheet/Rebuild.points_u=5 --set "
      "Sheet/Rebuild.points_v=5"
      " --add Sheet/lifted_points --set \"Sheet/Lifted points.rows=[2,2] z; [1,1] z\""
      " --number rise=6 --set \"Sheet/Lifted points.amount_1=2 * rise\"";
  const std::string out = folder / "s.surface.json";
  REQUIRE(run("export " + file + lift + " --part Sheet --out " + out).status == 0);
  const Json high = Json::parse(read_file(out));
  CHECK(high["surfaces"][0]["points"][2][2][2].get<double>() == Approx(12.0));
  CHECK(high["surfaces"][0]["points"][1][1][2].get<double>() == Approx(0.0).margin(1e-9));
}

TEST_CASE("profiles with corners become walls of exactly their volume") {
  const Folder folder;
  const auto wall = [&](const std::string& places, const char* closed, const char* side) {
    const Result made = run("measure " + uncut(folder) +
                            " --add Wall/profile --set \"Wall/Profile.places=" + places +
                            "\" --set Wall/Profile.closed=" + closed +
                            " --add Wall/extrude --set Wall/Extrude.length=19 --add Wall/thicken"
                            " --set Wall/Thicken.thickness=2 --set Wall/Thicken.side=" +
                            side + " --part Wall");
    INFO(made.err);
    REQUIRE(made.status == 0);
    const Json measures = Json::parse(made.out);
    CHECK(measures["closed"] == true);
    return measures["volume_mm3"].get<double>();
  };
  const std::string angle = "-25,0,0 0,0,0 0,20,0", tube = "0,0,0 40,0,0 40,30,0 0,30,0";
  CHECK(wall(angle, "false", "inward") == Approx(19 * (45 * 2 - 4)).margin(1e-6));
  CHECK(wall(angle, "false", "both") == Approx(19 * 45 * 2).margin(1e-6));
  CHECK(wall(tube, "true", "inward") == Approx(19 * (40 * 30 - 36 * 26)).margin(1e-6));
  CHECK(wall(tube, "true", "outward") == Approx(19 * (44 * 34 - 40 * 30)).margin(1e-6));
}

// Pappus' rule: what a cut takes away is its section times the way of the section's centroid. The section of a round in a
// right angle is (1 - pi/4) r^2, its centroid (10 - 3 pi) / (3 (4 - pi)) r from both sides; that of a chamfer is a triangle.
TEST_CASE("a wall with a bend is made from a profile, and its edge rounded and chamfered") {
  const Folder folder;
  const double pi = 3.14159265358979;
  const std::string wall =
      uncut(folder) +
      " --add Wall/profile --set \"Wall/Profile.places=-25,0,0 0,0,0 8,8,0:arc\""
      " --add Wall/extrude --set Wall/Extrude.length=19"
      " --add Wall/thicken --set Wall/Thicken.thickness=2";
  const auto volume_of = [](const std::string& model) {
    const Result made = run("measure " + model + " --part Wall");
    INFO(made.err);
    REQUIRE(made.status == 0);
    const Json measures = Json::parse(made.out);
    CHECK(measures["closed"] == true);
    return measures["volume_mm3"].get<double>();
  };
  const double whole = 19 * (25 * 2.0 + pi / 4 * (8 * 8 - 6 * 6));
  CHECK(volume_of(wall) == Approx(whole).margin(0.02));
  const double round = (1 - pi / 4) * (25 + pi / 2 * (8 - (10 - 3 * pi) / (3 * (4 - pi))));
  CHECK(volume_of(wall + " --add Wall/round_edges --set Wall/Round\\ edges.radius=1"
                         " --set \"Wall/Round edges.edges=edge -12,0,19\"") ==
        Approx(whole - round).margin(0.03));
  const double chamfer = 0.5 * (25 + pi / 2 * (8 - 1.0 / 3));
  CHECK(volume_of(wall + " --add Wall/chamfer_edges --set Wall/Chamfer\\ edges.distance=1"
                         " --set \"Wall/Chamfer edges.edges=edge -12,0,19\"") ==
        Approx(whole - chamfer).margin(0.03));
}

TEST_CASE("tiles and patterns are made, measured and handed over from the command line") {
  const Folder folder;
  const std::string file = folder / "p.evenclay";
  REQUIRE(run("demo " + file).status == 0);
  const std::string tile =
      file + " --add Cell/shelf_tile --set 'Cell/Tile from the shelf.tile=dimple'" +
      " --set 'Cell/Tile from the shelf.length_x=6' --set 'Cell/Tile from the shelf.length_y=6'";
  // A dimple of 80 % of the tile: its height is what was asked for, within the fit on 16 × 16 points.
  const Json cell = Json::parse(run("measure " + tile + " --part Cell").out);
  CHECK(cell["box"]["max"][0].get<double>() - cell["box"]["min"][0].get<double>() == Approx(6));
  CHECK(cell["box"]["max"][2].get<double>() - cell["box"]["min"][2].get<double>() ==
        Approx(1.6).epsilon(0.05));
  const std::string flowed =
      tile + " --add Ring/torus --add Skin/flow_pattern --set 'Skin/Flow pattern.tile=Cell'" +
      " --set 'Skin/Flow pattern.target=Ring' --set 'Skin/Flow pattern.v_from=0'" +
      " --set 'Skin/Flow pattern.v_to=1' --set 'Skin/Flow pattern.count_u=12'" +
      " --set 'Skin/Flow pattern.count_v=5'";
  const Json info = Json::parse(run("info " + flowed).out);
  const Json step = info["parts"].back()["steps"][0];
  CHECK(step["failed"] == false);
  std::string notes;
  for (const auto& n : step["notes"]) notes += n.get<std::string>() + " ";
  CHECK(notes.find("12 × 5 tiles") != std::string::npos);
  CHECK(notes.find("Tiles go over into each other") != std::string::npos);
  const Json mesh = Json::parse(run("measure " + flowed + " --part Skin").out);
  CHECK(mesh["closed"] == true);
  // A wall: its volume is the skin's area times its thickness, but for what the bend of the inside takes away.
  const Json wall = Json::parse(
      run("measure " + flowed + " --add Skin/thicken --set Skin/Thicken.thickness=0.1 --part Skin")
          .out);
  CHECK(wall["closed"] == true);
  CHECK(wall["volume_mm3"].get<double>() ==
        Approx(0.1 * mesh["area_mm2"].get<double>()).margin(20.0));
  CHECK(run("export " + flowed + " --part Skin --out " + (folder / "skin.stl")).status == 0);
  CHECK(fs::file_size(folder / "skin.stl") > 100'000);
  CHECK(run("export " + flowed + " --part Skin --out " + (folder / "skin.step")).status == 2);
  // The same as surfaces goes into STEP.
  const std::string surfaces = flowed + " --set 'Skin/Flow pattern.result=surfaces'";
  CHECK(run("export " + surfaces + " --part Skin --out " + (folder / "skin.step")).status == 0);
  CHECK(read_file(folder / "skin.step").find("CLOSED_SHELL") != std::string::npos);
  // What cannot be gets a sentence.
  const Result none = run("measure " + flowed + " --set 'Skin/Flow pattern.faces=2' --part Skin");
  CHECK(none.status == 4);
  CHECK(none.err.find("faces 1 to 1") != std::string::npos);
}

TEST_CASE("a form is built, shaped, named and converted by words, and files keep it") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string form =
      file +
      " --add Block/form_box --set \"Block/Form box.size_x=84\" --set \"Block/Form box.size_y=60\""
      " --set \"Block/Form box.faces_x=4\" --set \"Block/Form box.faces_y=3\""
      " --add Block/extrude_faces"
      " --set \"Block/Extrude faces.faces=face -10,0,30; face 10,0,30\""
      " --set \"Block/Extrude faces.distance=15\""
      " --add Block/crease --set \"Block/Crease.edges=edge -42,0,-30; edge 42,0,-30\"";
  const Result built = run("measure " + form + " --part Block");
  REQUIRE(built.status == 0);
  const Json m = Json::parse(built.out);
  // A box of 4 × 3 × 2 faces has 2 (12 + 8 + 6) of them; two faces pulled out add six walls.
  CHECK(m["form"]["faces"] == 52 + 6);
  CHECK(m["closed"] == true);
  CHECK(m["crossings"].empty());
  const double volume = m["volume_mm3"].get<double>();
  CHECK(volume > 0.0);
  CHECK(volume < 84.0 * 60 * 60 + 42.0 * 20 * 15);  // inside its cage

  const std::string shaped = form + " --shape \"Block: pick box z 44 46; name lid; move z 3\"";
  const std::string saved = folder / "block.evenclay";
  REQUIRE(run("save " + shaped + " --out " + saved).status == 0);
  const Json info = Json::parse(run("info " + saved).out);
  CHECK(info["parts"].back()["selections"]["lid"] == 6);
  const Result again = run("measure " + saved + " --part Block");
  const Result direct = run("measure " + shaped + " --part Block");
  CHECK(again.out == direct.out);
  CHECK(Json::parse(again.out)["volume_mm3"].get<double>() > volume);
  // The same words by the name; points in rows there are none.
  CHECK(run("measure " + saved + " --part Block --shape \"Block: pick named lid; move z 1\"")
            .status == 0);
  const Result rows =
      run("measure " + saved + " --part Block --shape \"Block: pick all; pick checker\"");
  CHECK(rows.status != 0);
  CHECK(rows.err.find("in no rows") != std::string::npos);

  const Result body = run("measure " + saved + " --part Block --add Block/form_to_surfaces");
  REQUIRE(body.status == 0);
  const Json b = Json::parse(body.out);
  CHECK(b["closed"] == true);
  CHECK(b["volume_mm3"].get<double>() ==
        Approx(Json::parse(again.out)["volume_mm3"].get<double>()).epsilon(1e-3));
  const std::string step = folder / "block.step";
  REQUIRE(
      run("export " + saved + " --part Block --add Block/form_to_surfaces --out " + step).status ==
      0);
  CHECK(read_file(step).find("MANIFOLD_SOLID_BREP") != std::string::npos);
  // A form without its conversion has triangles to hand over, but no surfaces.
  CHECK(run("export " + saved + " --part Block --out " + (folder / "block.obj")).status == 0);
  const Result none = run("export " + saved + " --part Block --out " + step);
  CHECK(none.status != 0);
  CHECK(none.err.find("Convert to surfaces") != std::string::npos);
}

TEST_CASE("a scan is clipped, fitted, watched and checked by words") {
  const Folder folder;
  const std::string file = folder / "scan.evenclay";
  const std::string scan = uncut(folder) +
                           " --add Clay/practice_scanner --set \"Clay/Practice "
                           "scanner.resolution=1\" --set \"Clay/Practice scanner.holes=0\"";
  REQUIRE(run("save " + scan + " --out " + file).status == 0);
  const std::string palm = file +
                           " --add Palm/clip_scan --set \"Palm/Clip scan.scan=Clay\" --set "
                           "\"Palm/Clip scan.regions=z: -30,-20 30,-20 30,20 -30,20\""
                           " --add Palm/fit_surface --set \"Palm/Fit surface.off=z\" --set "
                           "\"Palm/Fit surface.points_u=7\"";
  const Result fitted =
      run("measure " + palm + " --part Palm --watch \"Palm=Palm/Clip scan within 0.4\"");
  REQUIRE(fitted.status == 0);
  const Json j = Json::parse(fitted.out);
  CHECK(j["grid"]["points_u"] == 7);
  // The noise of the scan has a standard deviation of 0.15 mm: its mean size is √(2/π) of it.
  CHECK(j["watched"]["mean_mm"].get<double>() == Approx(0.15 * 0.798).margin(0.03));
  CHECK(j["watched"]["inside_percent"].get<double>() > 95.0);
  CHECK(j["box"]["max"][0].get<double>() == Approx(30.0).margin(1.2));
  const Result faired =
      run("measure " + palm + " --add Palm/fair --set \"Palm/Fair.shorter_than=60\" --part Palm");
  CHECK(faired.status == 0);

  const std::string report = folder / "checks.html";
  REQUIRE(
      run("check " + palm + " --watch \"Palm=Clay\" --limit radius=500 --out " + report).status ==
      0);
  CHECK(read_file(report).find("Watched deviation") != std::string::npos);
  const Result list = run("check " + palm + " --limit radius=500");
  REQUIRE(list.status == 0);
  bool broken = false;
  const Json checks = Json::parse(list.out);
  for (const Json& part : checks["parts"])
    for (const Json& line : part["checks"])
      if (part["name"] == "Palm" && line["check"] == "Least radius")
        broken = line["level"] == "bad";
  CHECK(broken);
  CHECK(run("check " + palm + " --limit colour=3").status == 2);
  CHECK(run("check " + palm + " --watch \"Palm=Nobody\"").status == 2);
  CHECK(run("check " + palm + " --out " + (folder / "checks.doc")).status == 3);
}

TEST_CASE("all visible parts go out together, and the estimate comes before") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string out = folder / "all.glb";
  const Result said = run("export " + file + " --out " + out + " --estimate");
  REQUIRE(said.status == 0);
  CHECK(Json::parse(said.out)["triangles"].get<int>() > 1000);
  // An angle makes triangles smaller where the surface turns; what is no angle is refused.
  const auto triangles = [&](const std::string& more) {
    const Result r =
        run("export " + file + " --part Shell --chord 1 --out " + out + " --estimate" + more);
    REQUIRE(r.status == 0);
    return Json::parse(r.out)["triangles"].get<int>();
  };
  CHECK(triangles(" --angle 5") > 2 * triangles(""));
  CHECK(triangles(" --angle 0") == triangles(""));
  CHECK(run("export " + file + " --out " + out + " --angle 120").status == 2);
  REQUIRE(run("export " + file + " --out " + out).status == 0);
  CHECK(read_file(out).substr(0, 4) == "glTF");
  CHECK(
      run("export " + file + " --part Shell --part Grille --out " + (folder / "two.3mf")).status ==
      0);
  const Result step =
      run("export " + file + " --part Shell --part Grille --out " + (folder / "two.step"));
  CHECK(step.status == 0);
  CHECK(step.err.find("Grille was left out") != std::string::npos);
  CHECK(run("export " + file + " --part Shell --unit furlong --out " + (folder / "a.stl")).status ==
        2);
}
