#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""A class of one's own as a tracker of Mnemon, by the Python package: the middle of what is red near the last place.

    mnemon follow demo/kites/steady --command "python3 examples/served.py" --set reach=20
"""
import numpy
import mnemon


class Red:
    version = "1"

    def __init__(self, reach=20):
        self.reach = int(reach)

    def seed(self, frame, region):
        self.box = numpy.array(region[:4], float)

    def follow(self, frame):
        x, y, w, h = self.box
        left, top = max(0, int(x) - self.reach), max(0, int(y) - self.reach)
        near = frame[top:int(y + h) + self.reach, left:int(x + w) + self.reach].astype(float)
        red = numpy.clip(2 * near[:, :, 0] - near[:, :, 1] - near[:, :, 2] - 60, 0, None)
        if red.sum() == 0:
            return {"box": self.box, "confidence": 0, "present": False}
        rows, cols = numpy.indices(red.shape)
        self.box[:2] = left + (cols * red).sum() / red.sum() - w / 2, top + (rows * red).sum() / red.sum() - h / 2
        return {"box": self.box, "confidence": min(1, red.sum() / (20 * w * h))}


if __name__ == "__main__":
    mnemon.serve(Red)
