#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""Benchmarks one tracker with three settings from Python, and draws what they come to.

    python3 examples/three_settings.py demo/kites/steady demo/kites/cloudbank
"""
import pathlib
import sys

import matplotlib
matplotlib.use("Agg")
from matplotlib import pyplot

import mnemon

FOLDER = pathlib.Path("three-settings")
SEQUENCES = [str(pathlib.Path(path).resolve()) for path in sys.argv[1:]]
PADDINGS = (1.5, 2.5, 4.0)

# A plan, as mnemon bench takes it: what was run before is not run again.
FOLDER.mkdir(exist_ok=True)
plan = FOLDER / "plan.toml"
plan.write_text('format = "mnemon-plan/1"\n' f"sequences = {SEQUENCES}\n" "[protocol.single]\ntimed = false\n" + "".join(
    f'[[tracker]]\nname = "corr-kernel"\nlabel = "padding {padding}"\nset = {{ padding = {padding} }}\n'
    for padding in PADDINGS))
mnemon.run_plan(str(plan), str(FOLDER), progress=lambda done, total, *_: print(f"{done} of {total} runs"))

# The runs as a table, and the mean overlap curve of each setting.
study = mnemon.Study(FOLDER)
runs, curves = study.runs(), study.curves()
for padding in PADDINGS:
    label = f"padding {padding}"
    mean = runs["success_area"][runs["tracker"] == label].mean()
    print(f"{label}: success area {mean:.3f}")
    of_label = (curves["tracker"] == label) & (curves["curve"] == "overlap")
    thresholds = sorted(set(curves["threshold"][of_label]))
    shares = [curves["share"][of_label & (curves["threshold"] == threshold)].mean() for threshold in thresholds]
    pyplot.plot(thresholds, shares, label=f"{label} ({mean:.3f})")
pyplot.xlabel("overlap threshold")
pyplot.ylabel("share of frames above it")
pyplot.legend()
pyplot.savefig(FOLDER / "overlap.png", dpi=120)
