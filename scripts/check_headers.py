#!/usr/bin/env python3
"""Whether each header of the core says all it needs.

A header with a source of its own is the first thing that source includes, so the compiler proves that it names all
of ours that it uses. The standard library's headers, which sources get precompiled, are looked for here: by what a
header uses, in itself or in what it includes of ours. Headers without a source are compiled alone by scripts/test
(all_verify_interface_header_sets).
"""
import pathlib
import re
import sys

SRC = pathlib.Path(__file__).resolve().parent.parent / "src"
# What the precompiled header of the core holds, by the names that it gives.
NEEDS = {
    "algorithm": r"std::(?:sort|min_element|max_element|clamp|min|max|find|find_if|any_of|all_of|none_of|copy|count|fill|remove_if|stable_sort|lower_bound|upper_bound|nth_element|transform|reverse|rotate|unique)\b",
    "array": r"std::array\b",
    "cmath": r"std::(?:sqrt|abs|pow|sin|cos|tan|atan2|acos|hypot|floor|ceil|round|lround|llround|isfinite|isnan|exp|log|fmod|remainder|copysign|cbrt)\b",
    "functional": r"std::(?:function|hash)\b",
    "limits": r"std::numeric_limits\b",
    "map": r"std::(?:map|multimap)\b",
    "memory": r"std::(?:shared_ptr|unique_ptr|weak_ptr|make_shared|make_unique)\b",
    "optional": r"std::(?:optional|nullopt)\b",
    "span": r"std::span\b",
    "string": r"std::(?:string|to_string)\b(?!_)",
    "variant": r"std::(?:variant|visit|get_if|holds_alternative|monostate)\b",
    "vector": r"std::vector\b",
    "fmt/format.h": r"fmt::(?:format|join)\b",
}
# std::min, std::max and std::abs of whole numbers come with others, too.
ALSO = {"algorithm": {"vector", "map", "set", "string", "functional", "array", "memory"}, "cmath": {"cstdlib"}}


def includes(text):
    return re.findall(r'#include [<"]([^>"]+)[>"]', text)


texts = {p.relative_to(SRC).as_posix(): re.sub(r"//[^\n]*", "", p.read_text(encoding="utf-8"))
         for folder in ("core",) for p in (SRC / folder).rglob("*.h")}


def reached(header, seen=None):
    seen = seen if seen is not None else set()
    for name in includes(texts[header]):
        if name in seen:
            continue
        seen.add(name)
        if name in texts:
            reached(name, seen)
    return seen


def twice():
    """Two types of one name are one to the linker, whatever they hold."""
    where = {}
    for header, text in sorted(texts.items()):
        space = (re.findall(r"^namespace ([\w:]+) \{", text, re.M) or [""])[0]
        for name in re.findall(r"^(?:struct|class|enum class) (\w+)(?![\w;])(?=[^;]*?\{)", text, re.M):
            where.setdefault(f"{space}::{name}", set()).add(header)
    return [f"{name} is defined in {' and '.join(sorted(at))}" for name, at in where.items() if len(at) > 1]


def main():
    problems, alone = [], 0
    for header, text in sorted(texts.items()):
        source = SRC / (header[:-2] + ".cpp")
        if not source.exists():
            alone += 1
            continue
        first = includes(source.read_text(encoding="utf-8"))[0]
        if first != header:
            problems.append(f"{header}: its source includes {first} first")
        has = reached(header)
        for need, pattern in NEEDS.items():
            found = re.search(pattern, text)
            if found and need not in has and not ALSO.get(need, set()) & has:
                problems.append(f"{header}: {found.group(0)} without <{need}>")
        if "#pragma once" not in text:
            problems.append(f"{header}: no #pragma once")
    problems += twice()
    for problem in problems:
        print(problem)
    print(f"headers: {len(texts)} looked at, {alone} of them to be compiled alone, {len(problems)} problems")
    return 1 if problems or len(texts) < 200 or alone > 80 else 0


sys.exit(main())
