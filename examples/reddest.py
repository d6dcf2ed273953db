#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""A tracker in a process of its own, in Python without any package: the middle of what is reddest near the last place.

    mnemon follow demo/kites/steady --command "python3 examples/reddest.py" --set reach=0.5

docs/process.md has the messages. Standard output is for answers alone; what is to be told to people goes to standard error.
"""
import json
import mmap
import os
import sys

memory = None  # the frames, shared with the host
width = height = slot_bytes = 0
reach = 0.5
box = None


def begin(params):
    """Joins the memory that frames come in, and takes the settings."""
    global memory, width, height, slot_bytes, reach
    width, height = params["width"], params["height"]
    pixels = params["pixels"]
    slot_bytes = pixels["slot_bytes"]
    descriptor = os.open("/dev/shm" + pixels["memory"], os.O_RDONLY)
    memory = mmap.mmap(descriptor, slot_bytes * pixels["slots"], prot=mmap.PROT_READ)
    os.close(descriptor)
    reach = params["settings"].get("reach", reach)
    return {"name": "reddest", "version": "1", "keeps": True}


def seed(params):
    global box
    box = params["region"].get("box") or [0, 0, width, height]
    return {"box": box}


def follow(params):
    """Moves the box to the mean place of the pixels around it, each as heavy as it is red."""
    x, y, w, h = box
    left, right = max(0, int(x - reach * w)), min(width, int(x + w + reach * w))
    top, bottom = max(0, int(y - reach * h)), min(height, int(y + h + reach * h))
    start = params["slot"] * slot_bytes
    mass = sum_x = sum_y = 0
    for row in range(top, bottom, 2):
        line = memory[start + 3 * (row * width + left):start + 3 * (row * width + right)]
        for i in range(0, len(line) - 2, 6):
            redness = max(0, 2 * line[i] - line[i + 1] - line[i + 2] - 60)
            mass += redness
            sum_x += redness * (left + i // 3)
            sum_y += redness * row
    if mass == 0:
        return {"box": box, "confidence": 0, "present": False}
    box[0], box[1] = sum_x / mass - w / 2, sum_y / mass - h / 2
    return {"box": box, "confidence": min(1, mass / (10 * w * h))}


def main():
    methods = {"begin": begin, "seed": seed, "follow": follow, "stages": lambda params: []}
    for line in sys.stdin:
        call = json.loads(line)
        if call["method"] == "end":
            return
        answer = {"jsonrpc": "2.0", "id": call["id"]}
        try:
            answer["result"] = methods[call["method"]](call.get("params", {}))
        except Exception as error:  # the host tells it, and goes on with the next run
            answer["error"] = {"code": -32000, "message": f"{type(error).__name__}: {error}"}
        print(json.dumps(answer), flush=True)


if __name__ == "__main__":
    main()
