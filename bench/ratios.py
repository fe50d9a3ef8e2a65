#!/usr/bin/env python3
"""Ratios of medians from one benchmark run: how many times faster than the library peer."""
import json
import sys

run = json.load(open(sys.argv[1]))["benchmarks"]
median = {b["run_name"].split("/")[0]: b["real_time"] for b in run if b.get("aggregate_name") == "median"}
pairs = [
    ("scattered position + derivatives, 1e6", "ScatteredOurs", "ScatteredKernel", 17),
    ("grid 1000 x 1000, double", "GridOurs", "GridKernel", 13),
    ("grid 1000 x 1000, float", "GridFloatOurs", "GridKernel", 25),
    ("closest point", "ClosestOurs", "ClosestKernel", 20),
    ("flow of 1e6 vertices, all of it (all cores : 1)", "FlowOurs", "FlowKernel", 6),
]
for name, ours, kernel, aim in pairs:
    if ours in median and kernel in median:
        print(f"{name:54s} x{median[kernel] / median[ours]:6.1f}   (aim x{aim})")
