# SPDX-License-Identifier: MIT
"""Follow one target through a sequence of frames, and say how well it was held.

    import mnemon
    sequence = mnemon.Sequence("demo/kites/steady")
    tracker = mnemon.Tracker("corr-kernel", padding=2.5)
    for i, frame in enumerate(sequence.frames()):
        estimate = tracker.follow(frame) if i else tracker.seed(frame, sequence.truth["box"][0])

`Tracker`, `trackers` and `Sequence` are the library's own; `score` and `overlap` take arrays of boxes; `run_plan` and `Study`
make and read benchmarks; `serve` makes a class of yours a tracker that Mnemon runs in a process (docs/process.md). Wrong calls raise
ValueError, work that fails RuntimeError, both with the library's message.
"""
from mnemon._mnemon import (Estimate, Sequence, Tracker, __version__, overlap, run_plan, score, trackers)
from mnemon.process import serve
from mnemon.study import Study

__all__ = ["Estimate", "Sequence", "Study", "Tracker", "__version__", "overlap", "run_plan", "score", "serve", "trackers"]
