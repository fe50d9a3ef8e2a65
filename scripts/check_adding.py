#!/usr/bin/env python3
"""Proves what adding an operation touches: its own files and one line of the catalogue, nothing else.

Lays the sample of examples/adding beside the sources, compiles what is new or changed, links it before
the core that is built already, and drives it in the runner and in the real window.
usage: check_adding.py BUILD_FOLDER      (built with tests; an X display is needed for the window)
"""
import json
import os
import shlex
import shutil
import subprocess
import sys
import tempfile

ROOT = os.path.normpath(os.path.join(os.path.dirname(os.path.abspath(__file__)), ".."))
BUILD = os.path.abspath(sys.argv[1])
SAMPLE = os.path.join(ROOT, "examples/adding")
EXPECTED = {
    "core/body/shifted.h", "core/body/shifted.cpp",          # the algorithm
    "core/operations/shift.h", "core/operations/shift.cpp",  # the step
    "tests/app/shift_window_test.cpp",                       # its test
}
INCLUDE = '#include "core/operations/shift.h"\n'
ENTRY = "      std::make_shared<ShiftOperation>(),\n"


def fail(sentence):
    sys.exit(f"adding an operation: {sentence}")


def run(command, **more):
    done = subprocess.run(command, text=True, capture_output=True, **more)
    if done.returncode != 0:
        fail(f"{' '.join(command[:3])} … failed:\n{done.stdout[-3000:]}{done.stderr[-3000:]}")
    return done.stdout


def sample_files():
    found = set()
    for folder, _, names in os.walk(SAMPLE):
        found |= {os.path.relpath(os.path.join(folder, n), SAMPLE) for n in names}
    return found


def with_line(catalogue):
    """The catalogue with the sample's include and its line, the only file that changes."""
    mark = '#include "core/operations/set_degree.h"\n'
    end = "  };\n  return all;"
    if catalogue.count(mark) != 1 or catalogue.count(end) != 1:
        fail("the catalogue has another form than this check knows")
    return catalogue.replace(mark, mark + INCLUDE).replace(end, ENTRY + end)


def flags_of(source):
    """The compiler's words for a source of the build, without precompiled header, input and output."""
    with open(os.path.join(BUILD, "compile_commands.json"), encoding="utf-8") as f:
        for entry in json.load(f):
            if entry["file"].endswith(source):
                words = shlex.split(entry["command"])
                break
        else:
            fail(f"{source} is not in the build")
    kept, skip = [], 0
    for k, word in enumerate(words):
        if skip:
            skip -= 1
        elif word in ("-o", "-c") or (word == "-include" and "cmake_pch" in words[k + 1]):
            skip = 1
        elif word != "-Winvalid-pch":
            kept.append(word)
    return kept


def linked(target, objects, out, drop=None):
    """Links a target of the build again with more objects in front."""
    line = run(["ninja", "-t", "commands", target], cwd=BUILD).strip().split("\n")
    link = next(c for c in reversed(line) if f"-o {target}" in c or f"-o {target} " in c)
    words = shlex.split(link.split("&&")[1] if "&&" in link else link)
    at = words.index("-o")
    words[at + 1] = out
    words[at + 2:at + 2] = objects
    if drop:
        words = [w for w in words if not w.endswith(drop)]
    run(words, cwd=BUILD)


def main():
    if sample_files() != EXPECTED:
        fail(f"the sample holds {sorted(sample_files())}")
    work = tempfile.mkdtemp(prefix="evenclay-adding-")
    try:
        source = os.path.join(work, "src")
        shutil.copytree(os.path.join(SAMPLE, "core"), os.path.join(source, "core"))
        with open(os.path.join(ROOT, "src/core/operations/catalogue.cpp"), encoding="utf-8") as f:
            catalogue = with_line(f.read())
        changed = os.path.join(source, "core/operations/catalogue.cpp")
        with open(changed, "w", encoding="utf-8") as f:
            f.write(catalogue)
        core = flags_of("src/core/operations/catalogue.cpp")
        objects = []
        for name in sorted(EXPECTED | {"core/operations/catalogue.cpp"}):
            if not name.endswith(".cpp") or name.startswith("tests"):
                continue
            objects.append(os.path.join(work, name.replace("/", "_") + ".o"))
            run(core + [f"-I{source}", "-o", objects[-1], "-c", os.path.join(source, name)],
                cwd=BUILD)
        runner = os.path.join(work, "evenclay-run")
        linked("src/evenclay-run", objects, runner)
        check_runner(runner, work)
        print("adding an operation: files and one line of the catalogue; runner", end="", flush=True)
        if os.environ.get("DISPLAY"):
            test = os.path.join(work, "shift_window_test.o")
            run(flags_of("tests/app/window_test.cpp") +
                ["-include", "cmath", "-o", test, "-c",
                 os.path.join(SAMPLE, "tests/app/shift_window_test.cpp")], cwd=BUILD)
            program = os.path.join(work, "app_tests")
            linked("tests/app_tests", objects + [test], program)
            said = run([program, "the sample operation came with everything"])
            if "All tests passed" not in said:
                fail(said)
            print(" and window", end="")
        print(" know it")
    finally:
        shutil.rmtree(work)


def check_runner(runner, work):
    known = json.loads(run([runner, "operations"]))
    mine = [o for o in known if o["kind"] == "shift"]
    if len(mine) != 1 or [p["name"] for p in mine[0]["parameters"]] != ["x", "y", "z"]:
        fail("the runner does not list the step with its parameters")
    project = os.path.join(work, "p.evenclay")
    run([runner, "demo", project, "--add", "Dimple tile/shift", "--number", "lift=7",
         "--set", "Dimple tile/Shift.z=lift * 2"])
    before = json.loads(run([runner, "measure", project, "--part", "Dimple tile",
                             "--set", "Dimple tile/Shift.enabled=false"]))
    after = json.loads(run([runner, "measure", project, "--part", "Dimple tile"]))
    if abs(after["box"]["max"][2] - before["box"]["max"][2] - 14.0) > 1e-9:
        fail("the step does not move what it should")


main()
