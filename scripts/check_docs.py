#!/usr/bin/env python3
"""Every operation and every picture must be named in the documentation."""
import os
import re
import sys

ROOT = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..")


def read(name):
    with open(os.path.join(ROOT, name), encoding="utf-8") as f:
        return f.read()


problems = []
folder = os.path.join(ROOT, "src/core/operations")
guide, fmt = read("docs/user-guide.md"), read("docs/file-format.md")
kinds = 0
for name in sorted(os.listdir(folder)):
    if not name.endswith(".h"):
        continue
    text = read(os.path.join("src/core/operations", name))
    for kind in re.findall(r'\.kind = "(\w+)"', text):
        kinds += 1
        if f"`{kind}`" not in fmt:
            problems.append(f"docs/file-format.md does not name the step `{kind}`")
    for label in re.findall(r'\.label = "([^"]+)"', text):
        if label not in guide:
            problems.append(f"docs/user-guide.md does not name {label}")
readme = read("README.md")
for name in sorted(os.listdir(os.path.join(ROOT, "docs/screenshots"))):
    if name.endswith(".png") and name not in readme:
        problems.append(f"README.md does not show {name}")
for link in re.findall(r"\]\(([^)#]+)", readme):
    if not link.startswith("http") and not os.path.exists(os.path.join(ROOT, link)):
        problems.append(f"README.md links to {link}, which is not there")
if kinds < 20:
    problems.append("fewer operations were seen than there are; the check itself is broken")
print("\n".join(problems + [f"docs: {kinds} operations, {len(problems)} problems"]))
sys.exit(1 if problems else 0)
