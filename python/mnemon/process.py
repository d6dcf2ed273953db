# SPDX-License-Identifier: MIT
"""The process's side of docs/process.md, for trackers written in Python."""
import base64
import contextlib
import json
import mmap
import os
import sys
import time

import numpy


class _Frames:
    """The frames that the host shows: arrays on memory shared with it."""

    def __init__(self, params):
        self.shape = (params["height"], params["width"], 3)
        self.slot_bytes = params["pixels"]["slot_bytes"]
        self.slots = params["pixels"]["slots"]
        descriptor = os.open("/dev/shm" + params["pixels"]["memory"], os.O_RDWR)
        try:
            self.memory = mmap.mmap(descriptor, self.slot_bytes * self.slots)
        finally:
            os.close(descriptor)

    def frame(self, slot):
        pixels = numpy.frombuffer(self.memory, numpy.uint8, self.shape[0] * self.shape[1] * 3, slot * self.slot_bytes)
        pixels.flags.writeable = False
        return pixels.reshape(self.shape)

    def put_mask(self, mask):
        rows, cols = self.shape[:2]
        there = numpy.frombuffer(self.memory, numpy.uint8, rows * cols, (self.slots - 1) * self.slot_bytes)
        there.reshape(rows, cols)[:] = numpy.asarray(mask) != 0


def _runs_to_mask(text, shape):
    """A mask from the lengths of its runs, each in groups of seven bits."""
    numbers, value, shift = [], 0, 0
    for byte in base64.b64decode(text):
        value |= (byte & 127) << shift
        shift += 7
        if byte < 128:
            numbers.append(value)
            value = shift = 0
    lengths = numbers[2:]
    mask = numpy.repeat(numpy.arange(len(lengths)) % 2, lengths).astype(numpy.uint8)
    return numpy.resize(numpy.append(mask, numpy.zeros(max(0, shape[0] * shape[1] - len(mask)), numpy.uint8)), shape)


def _region_of(region, shape):
    """A region as `seed` gets it: a tuple of four or five numbers, an array of corners, or a mask."""
    if "box" in region:
        return tuple(region["box"])
    if "oriented" in region:
        return tuple(region["oriented"])
    if "polygon" in region:
        return numpy.array(region["polygon"], float)
    return _runs_to_mask(region["mask"], shape[:2])


def _answer_of(result, frames):
    """What a tracker returned, as an answer: a box, or a dictionary with a box."""
    answer = dict(result) if isinstance(result, dict) else {"box": result}
    answer["box"] = [float(number) for number in answer["box"]]
    for name in ("angle", "confidence", "minor_px"):
        if name in answer:
            answer[name] = float(answer[name])
    if "present" in answer:
        answer["present"] = bool(answer["present"])
    mask = answer.pop("mask", None)
    if mask is not None:
        if numpy.shape(mask) != frames.shape[:2]:
            raise ValueError(f"the mask is of shape {numpy.shape(mask)}, the frame of {frames.shape[:2]}")
        frames.put_mask(mask)
        answer["mask"] = "slot"
    return answer


class _Server:
    def __init__(self, make):
        self.make = make
        self.tracker = self.frames = None

    def begin(self, params):
        self.frames = _Frames(params)
        self.tracker = self.make(**params["settings"])
        facts = {"name": getattr(self.tracker, "name", type(self.tracker).__name__), "keeps": True}
        for key in ("version", "trained_on"):
            if hasattr(self.tracker, key):
                facts[key] = getattr(self.tracker, key)
        return facts

    def step(self, work):
        started = time.perf_counter()
        answer = _answer_of(work(), self.frames)
        answer["step_ms"] = 1000 * (time.perf_counter() - started)
        return answer

    def seed(self, params):
        frame = self.frames.frame(params["slot"])
        region = _region_of(params["region"], self.frames.shape)

        def work():
            result = self.tracker.seed(frame, region)
            return self.box_of(region) if result is None else result

        return self.step(work)

    @staticmethod
    def box_of(region):
        """The upright box around a region, the answer of a `seed` that returns nothing."""
        if isinstance(region, tuple):
            return region[:4]
        if region.ndim == 2 and region.shape[1] == 2:
            low, high = region.min(axis=0), region.max(axis=0)
        else:
            rows, cols = numpy.nonzero(region)
            low, high = numpy.array([cols.min(), rows.min()]), numpy.array([cols.max() + 1, rows.max() + 1])
        return [*low, *(high - low)]

    def follow(self, params):
        return self.step(lambda: self.tracker.follow(self.frames.frame(params["slot"])))

    def find(self, params):
        places = []
        for place in self.tracker.find(self.frames.frame(params["slot"])):
            one = dict(place) if isinstance(place, dict) else {"box": place}
            one["box"] = [float(number) for number in one["box"]]
            one["score"] = float(one.get("score", 1))
            places.append(one)
        return {"places": places}

    def stages(self, _):
        stages = self.tracker.stages() if hasattr(self.tracker, "stages") else {}
        all_of_them = []
        for name, picture in stages.items():
            floats = numpy.ascontiguousarray(picture, "<f4")
            all_of_them.append({"name": name, "rows": floats.shape[0], "cols": floats.shape[1],
                                "channels": 1 if floats.ndim == 2 else floats.shape[2],
                                "floats": base64.b64encode(floats.tobytes()).decode()})
        return all_of_them


def serve(make):
    """Serves a tracker of yours to the program that started this one. Returns when it is told to end.

    `make` is a class, or a function, that is called with the settings as keywords and returns an object with

    - `seed(frame, region)`: starts afresh. `frame` is uint8, rows x cols x 3 (RGB), read-only, and holds for the call;
      `region` is (x, y, w, h), (x, y, w, h, angle), an array of n x 2 corners, or a mask of the frame's rows x cols. May return
      an answer.
    - `follow(frame)`: returns the box (x, y, w, h), or a dictionary with `box` and, as wanted, `angle`, `confidence`,
      `present`, `mask` (rows x cols), `minor_px`.
    - `stages()`, if it has one: a dictionary of arrays to look at.
    - `find(frame)`, of a detector, in place of the first two: a list of boxes, or of dictionaries with `box` and `score`.

    Its attributes `name`, `version` and `trained_on`, if it has them, are told to the host. What is printed goes to the log.
    """
    answers = os.fdopen(os.dup(1), "w", buffering=1)
    os.dup2(2, 1)  # also what libraries print from below Python
    server = _Server(make)
    with contextlib.redirect_stdout(sys.stderr):
        for line in sys.stdin:
            call = json.loads(line)
            if call["method"] == "end":
                return
            answer = {"jsonrpc": "2.0", "id": call["id"]}
            try:
                methods = {"begin": server.begin, "seed": server.seed, "follow": server.follow, "find": server.find,
                           "stages": server.stages}
                answer["result"] = methods[call["method"]](call.get("params"))
            except Exception as error:  # pylint: disable=broad-except  # the host is to know, whatever it is
                answer["error"] = {"code": -32000, "message": f"{type(error).__name__}: {error}"}
            answers.write(json.dumps(answer) + "\n")
