# SPDX-License-Identifier: MIT
"""The code of docs/python.md runs, or stands in an example that does; the examples run as a reader would run them."""
import os
import pathlib
import re
import subprocess
import sys

SOURCE = pathlib.Path(os.environ["MNEMON_SOURCE"])
DEMO = pathlib.Path(os.environ["MNEMON_DEMO"])
PLAN = ('format = "mnemon-plan/1"\nsequences = ["kites/steady"]\n[protocol.single]\ntimed = false\n'
        '[[tracker]]\nname = "stay"\n')


def test_the_documents_code(tmp_path, monkeypatch):
    blocks = re.findall(r"```python\n(.*?)```", (SOURCE / "docs" / "python.md").read_text(encoding="utf-8"), re.DOTALL)
    served = (SOURCE / "examples" / "served.py").read_text(encoding="utf-8")
    (tmp_path / "demo").mkdir()
    (tmp_path / "demo" / "kites").symlink_to(DEMO / "kites")
    (tmp_path / "demo" / "plan.toml").write_text(PLAN, encoding="utf-8")
    monkeypatch.chdir(tmp_path)
    run = 0
    for block in blocks:
        if block in served:
            continue
        exec(compile(block, "docs/python.md", "exec"), {"mnemon": __import__("mnemon")})  # pylint: disable=exec-used
        run += 1
    assert run == 2 and len(blocks) == 4


def test_three_settings(tmp_path):
    call = [sys.executable, SOURCE / "examples" / "three_settings.py", DEMO / "kites" / "steady"]
    done = subprocess.run(call, cwd=tmp_path, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert "3 of 3 runs" in done.stdout and "padding 2.5: success area 0.9" in done.stdout
    assert (tmp_path / "three-settings" / "overlap.png").read_bytes().startswith(b"\x89PNG")


def test_the_table_of_constants_is_of_these_sources():
    """Each constant of docs/constants.md stands where the table says, with that value."""
    rows = re.findall(r"^\| `(\S+):(k\w+)` \| ([^|]+) \|", (SOURCE / "docs" / "constants.md").read_text(encoding="utf-8"), re.MULTILINE)
    assert len(rows) > 100
    for path, name, value in rows:
        source = (SOURCE / "mnemon" / "track" / path).read_text(encoding="utf-8")
        assert re.search(rf"constexpr \w+ {name} = {re.escape(value.strip())}f?;", source), f"{path}: {name} is not {value}"
