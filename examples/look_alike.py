#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""A tracker in NumPy: where the picture correlates best with what was marked, looked for around the last place.

    mnemon follow demo/kites/steady --command "python3 examples/look_alike.py"
"""
import base64
import json
import sys

import numpy

STEP = 2  # pixels from one sample to the next


def grey(params, size):
    """The frame in grey, sampled down. Pixels come in the call: simpler than shared memory, and slower."""
    pixels = numpy.frombuffer(base64.b64decode(params["pixels"]), numpy.uint8).reshape(size[0], size[1], 3)
    return pixels[::STEP, ::STEP].mean(axis=2)


class LookAlike:
    def begin(self, params):
        self.size = (params["height"], params["width"])
        self.reach = int(params["settings"].get("reach", 12))  # samples
        return {"name": "look-alike", "version": "1", "pixels": "inline", "keeps": True}

    def seed(self, params):
        self.box = params["region"]["box"]
        x, y, w, h = (max(0, int(side / STEP)) for side in self.box)
        self.template = grey(params, self.size)[y:y + max(2, h), x:x + max(2, w)]
        self.template = self.template - self.template.mean()
        self.response = numpy.zeros((1, 1))
        return {"box": self.box}

    def follow(self, params):
        x, y = (int(side / STEP) for side in self.box[:2])
        rows, cols = self.template.shape
        image = grey(params, self.size)
        top, left = max(0, y - self.reach), max(0, x - self.reach)
        near = image[top:y + self.reach + rows, left:x + self.reach + cols]
        windows = numpy.lib.stride_tricks.sliding_window_view(near, (rows, cols))
        windows = windows - windows.mean(axis=(2, 3), keepdims=True)
        norms = numpy.sqrt((windows ** 2).sum(axis=(2, 3)) * (self.template ** 2).sum()) + 1e-6
        self.response = (windows * self.template).sum(axis=(2, 3)) / norms
        row, col = numpy.unravel_index(self.response.argmax(), self.response.shape)
        self.box = [float(STEP * (left + col)), float(STEP * (top + row)), *self.box[2:]]
        confidence = float(numpy.clip(self.response[row, col], 0, 1))
        return {"box": self.box, "confidence": confidence, "present": confidence > 0.4}

    def stages(self, params):
        floats = numpy.ascontiguousarray(self.response, numpy.float32)
        return [{"name": "response", "rows": floats.shape[0], "cols": floats.shape[1], "channels": 1,
                 "floats": base64.b64encode(floats.tobytes()).decode()}]


if __name__ == "__main__":
    tracker = LookAlike()
    for line in sys.stdin:
        call = json.loads(line)
        if call["method"] == "end":
            break
        result = getattr(tracker, call["method"])(call.get("params"))
        print(json.dumps({"jsonrpc": "2.0", "id": call["id"], "result": result}), flush=True)
