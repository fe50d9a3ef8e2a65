#!/usr/bin/env python3
"""Checks who includes whom against the table of docs/architecture.md. Fails on a forbidden include,
on Qt in the core, and when it saw suspiciously few includes."""
import os
import re
import sys

ROOT = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "src")
ALGORITHMS = ["source", "grid", "points", "cage", "subdivision", "pattern", "cut", "check", "scan", "stand_ins"]
LOW = ["core/base", "core/nurbs", "core/mesh", "core/body"]
ALLOWED = {
    "core/base": ["core/base"],
    "core/nurbs": ["core/base", "core/nurbs"],
    "core/mesh": ["core/base", "core/nurbs", "core/mesh"],
    "core/body": LOW,
    "core/kernel": LOW + ["core/kernel"],
    **{f"core/{a}": LOW + [f"core/{a}"] for a in ALGORITHMS},
    "core/points": LOW + ["core/subdivision", "core/points"],  # the hand shapes forms, too
    "core/source": LOW + ["core/check", "core/source"],  # sections of parts are sources
    "core/pattern": LOW + ["core/check", "core/pattern"],  # a target's bend decides what folds
    "core/cut": LOW + ["core/kernel", "core/check", "core/cut"],  # cuts and joints are measured
    "core/grid": LOW + ["core/check", "core/grid"],  # choosing a grid means measuring it
    "core/document": LOW + ["core/subdivision", "core/document"],
    "core/operations": LOW + [f"core/{a}" for a in ALGORITHMS] + ["core/document", "core/exchange", "core/operations"],
    "core/exchange": LOW + ["core/kernel", "core/subdivision", "core/document", "core/exchange"],
    "core/demo": LOW + ["core/points", "core/subdivision", "core/document", "core/operations", "core/demo"],
    "core/display": LOW + ["core/points", "core/grid", "core/check", "core/subdivision", "core/pattern", "core/source", "core/scan", "core/document", "core/operations", "core/display"],
    "run": ["core", "run"],
    "app": ["core", "app"],
}
# Folders that may include the B-rep kernel.
KERNEL = {"core/kernel", "core/cut", "core/exchange"}

problems, seen = [], 0
for folder, _, names in os.walk(ROOT):
    for name in names:
        if not name.endswith((".h", ".cpp", ".inl")):
            continue
        path = os.path.relpath(os.path.join(folder, name), ROOT)
        layer = next((k for k in ALLOWED if path.startswith(k + "/")), None)
        if layer is None:
            problems.append(f"{path}: its folder is not in the table of layers")
            continue
        for number, line in enumerate(open(os.path.join(folder, name), encoding="utf-8"), 1):
            found = re.match(r'\s*#include ([<"])([^>"]+)[>"]', line)
            if not found:
                continue
            seen += 1
            quote, target = found.groups()
            if quote == '"':
                if not any(target.startswith(a + "/") for a in ALLOWED[layer]):
                    problems.append(f"{path}:{number}: {layer} may not include {target}")
            elif layer != "app" and re.match(r"Q[A-Z]", target):
                problems.append(f"{path}:{number}: Qt outside the window program: {target}")
            elif target.endswith(".hxx") and layer not in KERNEL:
                problems.append(f"{path}:{number}: the B-rep kernel outside its folders: {target}")
# A ';' in a test's name makes CTest register names that match nothing and pass.
for folder, _, names in os.walk(os.path.join(ROOT, "..", "tests")):
    for name in names:
        if name.endswith(".cpp"):
            text = open(os.path.join(folder, name), encoding="utf-8").read()
            for case in re.findall(r'^TEST_CASE\(\s*((?:"[^"\n]*"\s*)+)', text, re.M):
                if ";" in case:
                    problems.append(f"{name}: a test's name holds a semicolon: {case.strip()}")
if seen < 200:
    problems.append(f"only {seen} includes were seen; the check itself is broken")
for problem in problems:
    print(problem)
long_files = []
for folder, _, names in os.walk(ROOT):
    for name in names:
        limit = 500 if name.endswith(".cpp") else 250 if name.endswith(".h") else 0
        if limit:
            lines = sum(1 for _ in open(os.path.join(folder, name), encoding="utf-8"))
            if lines > limit:
                long_files.append(f"{name} {lines}")
if long_files:
    print("longer than the size budget:", ", ".join(sorted(long_files)))
print(f"layers: {seen} includes, {len(problems)} problems")
sys.exit(1 if problems else 0)
