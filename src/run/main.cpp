// evenclay-run: everything the window can compute, without a window. Stable interface, documented
// in docs/runner.md. Exit status: 0 done, 2 wrong call, 3 a file cannot be read or written,
// 4 a step failed (its message is on stderr; what could be computed is still written), 130 interrupted.

#include <CLI/CLI.hpp>
#include <atomic>
#include <csignal>
#include <cstdlib>
#include <iostream>
#include <nlohmann/json.hpp>
#include <string>

#include "core/base/memory.h"
#include "run/commands.h"

namespace {

constexpr int kWrongCall = 2;
constexpr int kFileTrouble = 3;
constexpr int kInterrupted = 130;  // as shells say it: 128 + SIGINT

// Ctrl+C ends the work at its next check, so that no file is left half written; a second one ends the
// program at once. A signal's handler reaches only what is global.
std::atomic<evenclay::Progress*> interruptible{nullptr};

extern "C" void interrupt(int signal) {
  if (evenclay::Progress* work = interruptible.exchange(nullptr))
    work->cancel();
  else
    std::_Exit(128 + signal);
}

class CancelOnInterrupt {
 public:
  explicit CancelOnInterrupt(evenclay::Progress& work) {
    interruptible = &work;
    std::signal(SIGINT, interrupt);
    std::signal(SIGTERM, interrupt);
  }
  ~CancelOnInterrupt() { interruptible = nullptr; }
};

int say(const evenclay::RunOptions& o, const std::string& sentence, int status) {
  if (o.json_errors)
    std::cerr << nlohmann::json{{"error", sentence}, {"status", status}}.dump() << '\n';
  else
    std::cerr << sentence << '\n';
  return status;
}

}  // namespace

int main(int argc, char** argv) {
  using namespace evenclay;
  Progress work;
  const CancelOnInterrupt cancel(work);
  keep_freed_memory();
  CLI::App app("Even Clay without a window");
  app.require_subcommand(1);
  RunOptions o;
  o.work = &work;

  const auto common = [&](CLI::App* command) {
    command->add_option("--add", o.additions,
                        "add a step at the end of a part, before anything is set: Part/kind");
    command->add_option("--number", o.numbers,
                        "a named number, new or changed, before anything is set: name=12.5, or "
                        "name=2 * other + 1");
    command->add_option("--set", o.settings,
                        "change a parameter: Part/Step.parameter=value; numbers take formulas");
    command->add_option("--shape", o.shapings,
                        "edit control points, after everything is set: \"Part: pick row u [0,4]; "
                        "pick every 2; scale 0.9\"");
    command->add_option(
        "--watch", o.watches,
        "watch a part: \"Part=Other\", \"Part=Other/Step\" or \"Part=\", with \" within 0.5\" "
        "for the band in mm");
    command->add_option(
        "--limit", o.limits,
        "a limit of the checks: gap, radius, thickness, draft, stretch, evenness, symmetry, sliver "
        "or pull, as in draft=2 or pull=0,0,1");
    command->add_option(
        "--material", o.materials,
        "what a part is made of: \"Part=gloss, #A8512F\" or \"Part=roughness 0.3, metal 1\"; "
        "\"Layer:Name=…\" for all of a layer, \"Part face x,y,z=…\" for the face nearest to a "
        "place");
    command->add_flag("--progress", o.progress, "print the share done to stderr");
  };
  const auto project = [&](CLI::App* command) {
    command->add_option("project", o.project, ".evenclay file or its project.json")->required();
    common(command);
  };
  CLI::App* demo = app.add_subcommand("demo", "write the demo project");
  demo->add_option("out", o.out, "file to write")->required();
  common(demo);
  CLI::App* operations = app.add_subcommand("operations", "JSON: all operations");
  common(operations);
  CLI::App* info = app.add_subcommand("info", "JSON: parts, steps, parameters, messages");
  project(info);
  CLI::App* save = app.add_subcommand("save", "write the changed project to a file");
  project(save);
  save->add_option("--out", o.out, "file to write")->required();
  save->add_option(
      "--freeze", o.frozen,
      "keep a part as it is at its end or after a step: \"Part\" or \"Part/Step\"; the "
      "steps beneath are folded");
  save->add_flag("--lean", o.lean, "plain geometry only, without the steps");
  CLI::App* exporting = app.add_subcommand("export", "write parts to an exchange file");
  project(exporting);
  exporting->add_option("--part", o.parts,
                        "part to export; may be given several times; none: all that are visible");
  exporting->add_option("--out", o.out, "file; the ending chooses the format")->required();
  exporting->add_option("--chord", o.chord, "mesh formats: greatest distance from the surface, mm")
      ->check(CLI::Range(1e-5, 10.0));
  exporting
      ->add_option(
          "--angle", o.angle,
          "mesh formats: by how many degrees the surface may turn within a triangle; 0: any")
      ->check(CLI::Range(0.0, 90.0));
  exporting->add_option("--unit", o.unit, "of formats that say none")
      ->check(CLI::IsMember({"mm", "cm", "m", "inch"}));
  exporting->add_flag("--text", o.text, "STL as text");
  exporting->add_flag("--views", o.views, "SVG as a drawing of three views with sizes");
  exporting->add_flag("--estimate", o.estimate, "JSON: triangles and bytes instead of a file");
  CLI::App* measure = app.add_subcommand("measure", "JSON: measures of a part");
  project(measure);
  measure->add_option("--part", o.part, "part to measure")->required();
  measure->add_option("--against", o.against, "other part, for the deviation");

  CLI::App* comparing = app.add_subcommand(
      "compare", "JSON: what differs between an older version of a project and a newer one");
  project(comparing);
  comparing->add_option("newer", o.table, "the newer version")->required();

  CLI::App* check =
      app.add_subcommand("check", "JSON: what is wrong or right with each visible part");
  project(check);
  check->add_option("--out", o.out, "file to write instead: .html with pictures, or .json");
  check->alias("report");
  const auto picture = [&](CLI::App* command) {
    command->add_option("--part", o.parts,
                        "part to take; may be given several times; none: all that are visible");
    command->add_option("--size", o.size, "of pictures, pixels: 1280x800, up to 8192x8192");
    command->add_option("--view", o.view, "a saved view of the project");
    command->add_option("--from", o.from,
                        "degrees about z and above the horizon, all parts framed: --from=-50,22");
    command->add_flag("--transparent", o.transparent, "no ground but the shadow");
    command->add_option("--rays", o.rays, "a pixel; more are smoother")->check(CLI::Range(1, 256));
  };
  CLI::App* render =
      app.add_subcommand("render", "write a picture of the parts in their materials");
  project(render);
  render->add_option("--out", o.out, "PNG file to write")->required();
  picture(render);
  CLI::App* thumbnail =
      app.add_subcommand("thumbnail", "write a small square picture of a project");
  project(thumbnail);
  thumbnail->add_option("--out", o.out, "PNG file to write")->required();
  thumbnail->add_option("--edge", o.edge, "pixels")->check(CLI::Range(16, 1024));
  CLI::App* batch = app.add_subcommand(
      "batch", "make a variant for each row of a table of numbers, with its measures and files");
  project(batch);
  batch
      ->add_option("--table", o.table,
                   "comma-separated; the head names numbers or Part/Step.parameter, and \"name\"")
      ->required();
  batch->add_option("--out", o.out, "folder to write to")->required();
  batch->add_option("--file", o.endings,
                    "ending of a file for each row: step, stl, 3mf, glb, png, evenclay …; may be "
                    "given several times");
  batch->add_option("--chord", o.chord, "mesh formats: greatest distance from the surface, mm")
      ->check(CLI::Range(1e-5, 10.0));
  picture(batch);
  app.add_flag("--json", o.json_errors, "say errors as JSON on stderr");

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    const int status = app.exit(e);
    return status == 0 ? 0 : kWrongCall;
  }
  try {
    if (demo->parsed()) return run_demo(o);
    if (operations->parsed()) return run_operations();
    if (info->parsed()) return run_info(o);
    if (save->parsed()) return run_save(o);
    if (exporting->parsed()) return run_export(o);
    if (comparing->parsed()) return run_compare(o);
    if (check->parsed()) return run_check(o);
    if (render->parsed()) return run_render(o);
    if (thumbnail->parsed()) return run_thumbnail(o);
    if (batch->parsed()) return run_batch(o);
    return run_measure(o);
  } catch (const evenclay::Cancelled&) {
    return say(o, "Cancelled; no file was written.", kInterrupted);
  } catch (const evenclay::FileError& e) {
    return say(o, e.what(), kFileTrouble);
  } catch (const evenclay::Error& e) {
    return say(o, e.what(), kWrongCall);
  } catch (const std::bad_alloc&) {
    return say(o, "There is not enough memory for this. Use smaller counts.", kFileTrouble);
  }
}
