# SPDX-License-Identifier: MIT
"""Studies as tables."""
from mnemon import _mnemon


def _table(columns):
    """A pandas data frame where pandas is installed, else the dictionary of arrays."""
    try:
        import pandas  # pylint: disable=import-outside-toplevel
    except ImportError:
        return columns
    return pandas.DataFrame(columns)


class Study:
    """A study that `mnemon bench` or `run_plan` made. Tables are pandas data frames where pandas is installed, and dictionaries
    of arrays otherwise. Their first columns are tracker, sequence, protocol, start and repeat."""

    def __init__(self, folder):
        self._file = _mnemon.StudyFile(str(folder))

    @property
    def title(self):
        return self._file.title

    @property
    def missing_runs(self):
        """Runs that are planned and not made yet."""
        return self._file.missing_runs

    def runs(self):
        """A row a run, with every figure by its name; NaN where it does not apply."""
        return _table(self._file.runs())

    def frames(self):
        """A row a frame of each run: x, y, w, h, angle, confidence, present, step_ms, event, and the overlap with truth."""
        return _table(self._file.frames())

    def losses(self):
        """A row a loss: the frame it begins on, and the one on which the target was held again; NaN where it was not."""
        return _table(self._file.losses())

    def curves(self):
        """Points of the curves `overlap`, `centre` and `relative_centre` of each run: threshold and share."""
        return _table(self._file.curves())
