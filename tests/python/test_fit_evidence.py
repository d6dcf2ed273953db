"""The tool that fits the weights of evidence: it finds weights that are known, and weighs sequences alike."""
import importlib.machinery
import importlib.util
import pathlib
import subprocess
import sys

import numpy as np
import pytest

TOOL = pathlib.Path(__file__).resolve().parent.parent.parent / "tools" / "fit_evidence"


@pytest.fixture(scope="module")
def tool():
    loader = importlib.machinery.SourceFileLoader("fit_evidence", str(TOOL))
    module = importlib.util.module_from_spec(importlib.util.spec_from_loader("fit_evidence", loader))
    writes = sys.dont_write_bytecode
    sys.dont_write_bytecode = True
    loader.exec_module(module)
    sys.dont_write_bytecode = writes
    return module


def drawn(weights, count, seed):
    """Evidence at random, and outcomes of just the odds that the weights make of it."""
    random = np.random.default_rng(seed)
    columns = np.column_stack([np.ones(count), random.normal(size=(count, len(weights) - 1))])
    return columns, (random.random(count) < 1 / (1 + np.exp(-columns @ weights))).astype(float)


def test_known_weights_are_found(tool, monkeypatch):
    weights = np.array([-0.5, 1.5, -2.0, 0.0])
    columns, on_target = drawn(weights, 40_000, 1)
    alike = np.ones(len(on_target))
    monkeypatch.setattr(tool, "PULL", 0)
    freely = tool.fitted(columns, on_target, alike)
    # The standard error of each is about 2.5 / sqrt(40000) here: five of them.
    assert np.allclose(freely, weights, atol=5 * 2.5 / 200)
    monkeypatch.setattr(tool, "PULL", 0.1)
    pulled = tool.fitted(columns, on_target, alike)
    assert (np.abs(pulled[1:3]) < np.abs(freely[1:3])).all()


def test_a_sequence_counts_the_same_however_long(tool):
    weights = np.array([0.0, 1.0])
    columns, on_target = drawn(weights, 2_000, 2)
    other, other_on = drawn(-weights, 500, 3)
    once = tool.fitted(np.vstack([columns, other]), np.append(on_target, other_on),
                       np.append(np.full(2000, 1 / 2000), np.full(500, 1 / 500)))
    thrice = tool.fitted(np.vstack([columns] * 3 + [other]), np.append(np.tile(on_target, 3), other_on),
                         np.append(np.full(6000, 1 / 6000), np.full(500, 1 / 500)))
    assert np.allclose(once, thrice, atol=1e-6)


def test_the_difference_is_that_of_beliefs_to_the_share(tool):
    belief = np.repeat([0.25, 0.95], [100, 300])
    on_target = np.concatenate([np.repeat([1, 0], [45, 55]), np.repeat([1, 0], [285, 15])]).astype(float)
    assert tool.difference(belief, on_target) == pytest.approx(100 / 400 * 0.2)


def test_a_line_of_evidence_is_read(tool):
    columns, on_target = tool.evidence([["steady", "mask", "1", "1.0", "0.25", "1", "0", "0.5"],
                                        ["steady", "mask", "0", "0.5", "-0.1", "0", "1", "0"]])
    assert on_target.tolist() == [1, 0]
    assert columns.shape == (2, len(tool.NAMES))
    assert columns[0].tolist() == pytest.approx([1, np.log(0.999 / 0.001), 0.25, 1, 0, 0.5])
    assert columns[1].tolist() == pytest.approx([1, 0, -0.1, 0, 1, 0])


def test_a_wrong_call_says_how(tmp_path):
    done = subprocess.run([sys.executable, TOOL, tmp_path], capture_output=True, text=True)
    assert done.returncode == 2
    assert "tools/fit_evidence WORK SEQUENCE..." in done.stderr
