# SPDX-License-Identifier: MIT
"""The Python package on the demo data: the same bits as the program, errors as Python has them, and no surprises with arrays."""
import csv
import os
import pathlib
import subprocess
import threading

import numpy
import pytest

import mnemon

DEMO = pathlib.Path(os.environ["MNEMON_DEMO"])
PROGRAM = pathlib.Path(os.environ["MNEMON_PROGRAM"])
SOURCE = pathlib.Path(os.environ["MNEMON_SOURCE"])
STEADY = DEMO / "kites" / "steady"


@pytest.fixture(name="frames", scope="module")
def frames_of_steady():
    frames = []
    for frame in mnemon.Sequence(str(STEADY)).frames():
        frames.append(frame)
        if len(frames) == 12:
            break
    return frames


@pytest.fixture(name="box", scope="module")
def box_of_steady():
    return mnemon.Sequence(str(STEADY)).truth["box"][0]


def follow(tracker, frames, region):
    return [tracker.follow(frame) if i else tracker.seed(frame, region) for i, frame in enumerate(frames)]


def trace_of(tmp_path, *call):
    trace = tmp_path / "trace.csv"
    subprocess.run([PROGRAM, "follow", STEADY, "--to", "11", "--trace", trace, *call], check=True, capture_output=True,
                   env={**os.environ, "PATH": "/usr/bin:" + os.environ["PATH"]})
    with open(trace, encoding="utf-8") as rows:
        return list(csv.DictReader(rows))


@pytest.mark.parametrize("name", [entry["name"] for entry in mnemon.trackers()])
def test_answers_are_those_of_the_program_to_the_last_bit(name, frames, box, tmp_path):
    rows = trace_of(tmp_path, "--tracker", name)
    for estimate, row in zip(follow(mnemon.Tracker(name), frames, box), rows, strict=True):
        assert estimate.box == tuple(float(row[key]) for key in "xywh")
        assert estimate.angle == float(row["angle"])
        assert estimate.confidence == float(row["confidence"])
        assert estimate.present == (row["present"] == "1")


def test_settings_are_those_of_the_program(frames, box, tmp_path):
    rows = trace_of(tmp_path, "--tracker", "corr-plain", "--set", "padding=3", "--set", "window_samples=32")
    tracker = mnemon.Tracker("corr-plain", padding=3, window_samples=32)
    assert follow(tracker, frames, box)[-1].box == tuple(float(rows[-1][key]) for key in "xywh")
    assert tracker.params["padding"] == 3 and tracker.params["learning_rate"] > 0


def test_areas_are_kept_out_and_widths_are_as_in_the_program(frames, box, tmp_path):
    corner = numpy.array([[400, 0], [640, 0], [640, 200]])
    area = ",".join(str(int(number)) for number in corner.ravel())
    rows = trace_of(tmp_path, "--tracker", "corr-scaled", "--width", "320", "--keep-out", area)
    tracker = mnemon.Tracker("corr-scaled", keep_out=[corner], width=320)
    assert follow(tracker, frames, box)[-1].box == tuple(float(rows[-1][key]) for key in "xywh")
    for wrong in ([[1, 2, 3]], [corner[:2]], [numpy.zeros((9, 9), numpy.uint8)]):
        with pytest.raises(ValueError):
            mnemon.Tracker("corr-scaled", keep_out=wrong)
    assert mnemon.Sequence(STEADY).keep_out == []


def test_wrong_calls_are_value_errors(frames, box):
    with pytest.raises(ValueError, match="corr-plane.*did you mean 'corr-plain'"):
        mnemon.Tracker("corr-plane")
    with pytest.raises(ValueError, match="padding"):
        mnemon.Tracker("corr-plain", padding=99)
    with pytest.raises(ValueError, match="no number, text or truth value"):
        mnemon.Tracker("corr-plain", padding=[1])
    tracker = mnemon.Tracker("corr-plain")
    with pytest.raises(ValueError, match="no target yet"):
        tracker.follow(frames[0])
    for wrong in (frames[0][:, :, 0], frames[0].astype(float), numpy.zeros((4, 4, 4), numpy.uint8)):
        with pytest.raises(ValueError, match="uint8, rows x cols x 3"):
            tracker.seed(wrong, box)
    for region in ((1, 2, 3), "box", None, numpy.zeros((3, 3)), {"a": 1}):
        with pytest.raises(ValueError, match="a region is"):
            tracker.seed(frames[0], region)
    with pytest.raises(ValueError):
        tracker.seed(frames[0], (9000, 9000, 5, 5))
    with pytest.raises(ValueError, match="no such sequence"):
        mnemon.Sequence("/nowhere/at/all")
    with pytest.raises(RuntimeError):
        mnemon.Study("/nowhere/at/all")


def test_arrays_of_any_layout_give_the_same_answers(frames, box):
    wanted = follow(mnemon.Tracker("corr-kernel"), frames, box)[-1].box
    padded = [numpy.zeros((frame.shape[0] + 8, frame.shape[1] + 10, 3), numpy.uint8) for frame in frames]
    for there, frame in zip(padded, frames):
        there[4:-4, 5:-5] = frame
    views = [there[4:-4, 5:-5] for there in padded]  # rows with gaps: seen as they are
    assert follow(mnemon.Tracker("corr-kernel"), views, box)[-1].box == wanted
    swapped = [numpy.ascontiguousarray(frame[:, :, ::-1])[:, :, ::-1] for frame in frames]  # copied first
    assert follow(mnemon.Tracker("corr-kernel"), swapped, box)[-1].box == wanted
    columns = [numpy.asfortranarray(frame) for frame in frames]
    assert follow(mnemon.Tracker("corr-kernel"), columns, box)[-1].box == wanted


def test_regions_of_every_form(frames, box):
    x, y, w, h = box
    mask = numpy.zeros(frames[0].shape[:2], bool)
    mask[int(y):int(y + h), int(x):int(x + w)] = True
    corners = numpy.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]])
    for region in (tuple(box), list(box), box, (*box, 15.0), corners, mask, mask.astype(numpy.uint8)):
        estimate = mnemon.Tracker("shift-adaptive").seed(frames[0], region)
        assert mnemon.overlap([estimate.box], [box])[0] > 0.5


def test_masks_stages_choices_and_clones(frames, box):
    tracker = mnemon.Tracker("mask-plain")
    estimate = follow(tracker, frames[:4], box)[-1]
    assert estimate.mask.shape == frames[0].shape[:2] and set(numpy.unique(estimate.mask)) == {0, 1}
    assert estimate.minor_px > 0
    stages = tracker.stages()
    assert {"patch", "mask"} <= set(stages) and stages["patch"].dtype == numpy.float32
    clone = tracker.clone()
    assert [tracker.follow(frame).box for frame in frames[4:]] == [clone.follow(frame).box for frame in frames[4:]]
    blob = mnemon.Tracker("blob-colour")
    blob.seed(frames[0], box)
    assert "level" in blob.choices()


def test_trackers_work_side_by_side(frames, box):
    wanted = follow(mnemon.Tracker("corr-reliable"), frames, box)[-1].box
    got = [None] * 4

    def work(i):
        got[i] = follow(mnemon.Tracker("corr-reliable"), frames, box)[-1].box

    threads = [threading.Thread(target=work, args=(i,)) for i in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert got == [wanted] * 4


def test_scores_of_arrays():
    truth = numpy.array([[0, 0, 10, 10]] * 4, float)
    boxes = truth + [[0, 0, 0, 0], [0, 0, 0, 0], [5, 0, 0, 0], [20, 0, 0, 0]]
    assert mnemon.overlap(truth, boxes) == pytest.approx([1, 1, 1 / 3, 0])
    scores = mnemon.score(truth, boxes)
    assert scores["success_area"] == pytest.approx((1 + 1 / 3) / 3)
    assert mnemon.score(truth, boxes, present=[1, 1, 1, 0])["found_share"] == pytest.approx(2 / 3)
    assert mnemon.score(truth, boxes, truth_present=[1, 1, 1, 0])["absence_rate"] == 0
    turned = mnemon.overlap([[0, 0, 10, 10, 0]], [[0, 0, 10, 10, 45]])[0]
    assert turned == pytest.approx(0.7071, abs=1e-3)
    for wrong in ([[1, 2, 3]], [1, 2, 3, 4], [[1, 2, 3, 4]] * 3):
        with pytest.raises(ValueError):
            mnemon.overlap([[0, 0, 1, 1]], wrong)
    with pytest.raises(ValueError, match="confidence"):
        mnemon.score(truth, boxes, confidence=[1])


def test_sequences_have_frames_and_truth():
    sequence = mnemon.Sequence(str(STEADY))
    assert sequence.name == "steady" and sequence.rate_hz == 30
    assert len(sequence) == len(sequence.truth["frame"]) == sum(1 for _ in sequence.frames())
    assert sequence.truth["box"].shape == (len(sequence), 4)


def test_plans_run_with_progress_and_studies_are_tables(tmp_path):
    plan = tmp_path / "plan.toml"
    plan.write_text(f'format = "mnemon-plan/1"\nsequences = ["{STEADY}", "{DEMO}/kites/cloudbank"]\n'
                    'protocols = ["single", "restart"]\n[protocol.single]\ntimed = false\n'
                    '[[tracker]]\nname = "stay"\n[[tracker]]\nname = "shift-fixed"\n', encoding="utf-8")
    calls = []
    summary = mnemon.run_plan(str(plan), str(tmp_path / "study"), progress=lambda *call: calls.append(call))
    assert summary == {"made": 8, "kept": 0, "failed": 0}
    assert sorted(call[0] for call in calls) == list(range(1, 9)) and calls[0][1] == 8
    study = mnemon.Study(tmp_path / "study")
    runs, frames = study.runs(), study.frames()
    assert list(runs["tracker"]) == ["stay"] * 4 + ["shift-fixed"] * 4
    assert len(frames["frame"]) > 8 * 100
    one = (frames["tracker"] == "shift-fixed") & (frames["sequence"] == "steady") & (frames["protocol"] == "single")
    area = runs["success_area"][(runs["tracker"] == "shift-fixed") & (runs["sequence"] == "steady") & (runs["protocol"] == "single")]
    assert numpy.mean(numpy.asarray(frames["overlap"][one])[1:]) == pytest.approx(numpy.asarray(area)[0])
    losses = study.losses()
    assert "cloudbank" in set(losses["sequence"]) and study.missing_runs == 0
    assert set(study.curves()["curve"]) >= {"overlap", "centre"}


def test_a_callback_that_raises_ends_the_work(tmp_path):
    plan = tmp_path / "plan.toml"
    plan.write_text(f'format = "mnemon-plan/1"\nsequences = ["{STEADY}"]\n[protocol.single]\ntimed = false\n'
                    '[[tracker]]\nname = "stay"\n', encoding="utf-8")

    def refuse(*_):
        raise KeyError("enough")

    with pytest.raises(KeyError, match="enough"):
        mnemon.run_plan(str(plan), str(tmp_path / "study"), progress=refuse)
    assert mnemon.run_plan(str(plan), str(tmp_path / "study"))["kept"] == 1


def test_a_class_is_served_as_a_tracker(tmp_path):
    rows = trace_of(tmp_path, "--command", f"/usr/bin/python3 {SOURCE}/examples/served.py", "--set", "reach=20")
    assert len(rows) == 12 and all(float(row["confidence"]) > 0 for row in rows)
    truth = mnemon.Sequence(str(STEADY)).truth["box"][:12]
    boxes = [[float(row[key]) for key in "xywh"] for row in rows]
    assert mnemon.overlap(truth, boxes).mean() > 0.6


def test_what_is_served_may_do_everything(tmp_path):
    script = tmp_path / "whole.py"
    script.write_text('''
import numpy, mnemon
class Whole:
    name, version, trained_on = "whole", "3", ["steady"]
    def __init__(self, **settings):
        print("this goes to the log")
    def seed(self, frame, region):
        self.region, self.shape = region, frame.shape
        return {"box": (1, 2, 30, 40), "confidence": 0.9, "minor_px": 3}
    def follow(self, frame):
        mask = numpy.zeros(self.shape[:2])
        mask[5:9, 3:7] = 1
        return {"box": numpy.array([3, 5, 4, 4]), "mask": mask, "present": numpy.True_, "minor_px": 4}
    def stages(self):
        return {"seen": numpy.ones((3, 5)), "colours": numpy.zeros((2, 2, 3))}
mnemon.serve(Whole)
''', encoding="utf-8")
    rows = trace_of(tmp_path, "--command", f"/usr/bin/python3 {script}", "--masks", str(tmp_path / "masks"), "--stages",
                    str(tmp_path / "stages"), "--polygon", "10,10,60,10,30,50")
    assert rows[1]["minor_px"] == "4" and rows[0]["confidence"] == "0.9"
    assert len(list((tmp_path / "stages" / "seen").iterdir())) == 12


def test_a_detector_starts_any_tracker(tmp_path):
    script = tmp_path / "detect.py"
    script.write_text("import mnemon\nclass Detect:\n    def find(self, frame):\n        self.calls = getattr(self, 'calls', 0) + 1\n"
                      "        sure = 0.8 if self.calls == 4 else 0.3\n"
                      "        return [(1, 2, 30, 40), {'box': (50, 60, 30, 40), 'score': sure}][self.calls < 9:]\n"
                      "mnemon.serve(Detect)\n", encoding="utf-8")
    rows = trace_of(tmp_path, "--tracker", "stay", "--detector", f"/usr/bin/python3 {script}")
    assert rows[0]["frame"] == "3" and [float(rows[0][key]) for key in "xywh"] == [50, 60, 30, 40]


def test_a_detector_sees_nothing_of_areas_kept_out(tmp_path):
    script = tmp_path / "detect.py"
    script.write_text("import mnemon\nclass Detect:\n    def find(self, frame):\n"
                      "        plain = int(frame[:40, :40].max(axis=(0, 1)).astype(int).sum() - frame[:40, :40].min(axis=(0, 1)).astype(int).sum()) == 0\n"
                      "        return [{'box': (50, 60, 30, 40), 'score': 0.9 if plain else 0.2}]\n"
                      "mnemon.serve(Detect)\n", encoding="utf-8")
    rows = trace_of(tmp_path, "--tracker", "stay", "--detector", f"/usr/bin/python3 {script}", "--keep-out", "0,0,40,0,40,40,0,40")
    assert rows[0]["frame"] == "0"


def test_a_class_that_fails_says_why(tmp_path):
    script = tmp_path / "fails.py"
    script.write_text("import mnemon\nclass Fails:\n    def seed(self, frame, region):\n        frame[0] = 1\n"
                      "    def follow(self, frame):\n        pass\nmnemon.serve(Fails)\n", encoding="utf-8")
    failed = subprocess.run([PROGRAM, "follow", STEADY, "--command", f"/usr/bin/python3 {script}"], capture_output=True,
                            text=True, check=False)
    assert failed.returncode == 1 and "read-only" in failed.stderr
