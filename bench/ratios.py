#!/usr/bin/env python3
"""Ratios of medians from one benchmark run: how many times faster than the library peer."""
import json
import sys

run = json.load(open(sys.argv[1]))["benchmarks"]
median = {}
for b in run:
    if b.get("aggregate_name") == "median":
        for name in (b["run_name"].split("/")[0], b["run_name"].removesuffix("/real_time")):
            median[name] = b["real_time"]
pairs = [
    ("scattered position + derivatives, 1e6", "ScatteredOurs", "ScatteredKernel", 17),
    ("grid 1000 x 1000, double", "GridOurs", "GridKernel", 13),
    ("grid 1000 x 1000, float", "GridFloatOurs", "GridKernel", 25),
    ("closest point", "ClosestOurs", "ClosestKernel", 20),
    ("knot insertion 97 + 97 lines, 100 x 100", "InsertionOurs", "InsertionKernel", 9),
    ("degree raising 3 to 4 both ways, 100 x 100", "RaisingOurs", "RaisingKernel", 35),
    ("trimmed tessellation, opening of 200 points", "TrimmedMeshOurs", "TrimmedMeshKernel", 15),
    ("flow of 1e6 vertices in 83 × 83 tiles, the first time (all cores : 1)", "PatternFirst/1000000", "FlowKernel", 4),
    ("flow of one tile of 1e6 vertices, the first time (all cores : 1)", "FlowOurs", "FlowKernel", 4),
    ("flow of 1e6 vertices, the plan kept (all cores : 1)", "FlowPlanOurs", "FlowKernel", 8),
    ("limit of 864 faces, 1e6 places, the first time (all cores : 1)", "LimitFirstOurs", "LimitFirstPeer", 5),
    ("limit of 864 faces, all again (all cores : 1)", "LimitAgainOurs", "LimitAgainPeer", 15),
    ("limit after one point has moved (all cores : 1)", "LimitOnePointOurs", "LimitOnePointPeer", 30),
]
for name, ours, kernel, aim in pairs:
    if ours in median and kernel in median:
        print(f"{name:54s} x{median[kernel] / median[ours]:6.1f}   (aim x{aim})")

# The fits are of different sizes: compared by samples a second.
rate = {b["run_name"].split("/")[0]: b.get("items_per_second") for b in run
        if b.get("aggregate_name") == "median"}
if rate.get("FitOurs") and rate.get("FitKernel"):
    print(f"{'least squares, 24 x 24, by samples a second':54s} x{rate['FitOurs'] / rate['FitKernel']:6.0f}"
          "   (aim x30)")
previews = [("two-sided deviation, 1e5 samples", "DeviationFull"),
            ("the same for a preview's gauges", "DeviationPreview"),
            ("Rebuild 200 x 200 to 40 x 40", "RebuildHeavy"),
            ("Lighten 60 x 60", "LightenHeavy"),
            ("plot of counts", "PlotOfCounts"),
            ("drag of 60 x 60: points, coarse mesh, coarse gauges", "DragUpdate"),
            ("drag of a form of 15 000 faces: step, coarse mesh", "DragOfLargeForm"),
            ("drag of 60 x 60: points, mesh of 250 000 triangles", "DragPicture")]
for name, key in previews:
    if key in median:
        print(f"{name:54s} {median[key]:7.1f} ms a preview update")
