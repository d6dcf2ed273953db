# SPDX-License-Identifier: MIT
"""A plan over a real Slurm: two nodes on this machine, nothing of the system's own files. As root, by `make test-cluster`."""
import csv
import os
import pathlib
import shutil
import signal
import socket
import subprocess
import time

import pytest

PROGRAM = os.environ["MNEMON_PROGRAM"]

PLAN = """format = "mnemon-plan/1"
title = "On a cluster"
sequences = ["kites/*"]
protocols = ["single", "restart"]

[[tracker]]
name = "corr-plain"

[[tracker]]
name = "mask-plain"

[[tracker]]
name = "stay"
"""

CONF = """ClusterName=test
SlurmctldHost=localhost(127.0.0.1)
SlurmctldPort={ctl}
AuthType=auth/munge
AuthInfo=socket={munge}
CryptoType=crypto/munge
SlurmUser=root
SlurmdUser=root
StateSaveLocation={folder}/state
SlurmdSpoolDir={folder}/spool-%n
SlurmctldPidFile={folder}/slurmctld.pid
SlurmdPidFile={folder}/slurmd-%n.pid
SlurmctldLogFile={folder}/slurmctld.log
SlurmdLogFile={folder}/slurmd-%n.log
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
ReturnToService=2
MailProg=/bin/true
MpiDefault=none
SchedulerParameters=sched_interval=1
NodeName=n1 NodeHostname=localhost NodeAddr=127.0.0.1 Port={n1} CPUs=1 RealMemory=4000
NodeName=n2 NodeHostname=localhost NodeAddr=127.0.0.1 Port={n2} CPUs=1 RealMemory=4000
PartitionName=short Nodes=n1,n2 Default=YES MaxTime=INFINITE State=UP
"""


def free_ports(count):
    sockets = [socket.socket() for _ in range(count)]
    for one in sockets:
        one.bind(("127.0.0.1", 0))
    ports = [one.getsockname()[1] for one in sockets]
    for one in sockets:
        one.close()
    return ports


@pytest.fixture(scope="module")
def cluster(tmp_path_factory):
    folder = tmp_path_factory.mktemp("slurm")
    (folder / "state").mkdir()
    key = folder / "munge.key"
    key.write_bytes(os.urandom(128))
    key.chmod(0o400)
    run = pathlib.Path("/run/munge")
    run.mkdir(exist_ok=True)
    owner = run.stat()
    os.chown(run, 0, 0)
    run.chmod(0o755)
    munge = run / f"test-{os.getpid()}.socket"
    programs = [subprocess.Popen(["munged", "--foreground", "--force", "--key-file", key, "--socket", munge, "--pid-file",
                                  folder / "munged.pid", "--log-file", folder / "munged.log", "--seed-file", folder / "munge.seed"],
                                 stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)]
    ctl, n1, n2 = free_ports(3)
    conf = folder / "slurm.conf"
    conf.write_text(CONF.format(folder=folder, ctl=ctl, n1=n1, n2=n2, munge=munge), encoding="utf-8")
    environment = dict(os.environ, SLURM_CONF=str(conf))
    time.sleep(1)
    programs.append(subprocess.Popen(["slurmctld", "-D", "-f", conf], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL))
    for node in ("n1", "n2"):
        programs.append(subprocess.Popen(["slurmd", "-D", "-f", conf, "-N", node], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL))
    for _ in range(120):
        idle = subprocess.run(["sinfo", "-h", "-o", "%D %t"], env=environment, capture_output=True, text=True).stdout
        if "2 idle" in idle:
            break
        time.sleep(0.5)
    else:
        pytest.fail(f"the cluster does not come up: {idle} {(folder / 'slurmctld.log').read_text()[-2000:]}")
    yield environment
    for program in reversed(programs):
        program.send_signal(signal.SIGTERM)
    for program in programs:
        program.wait(20)
    os.chown(run, owner.st_uid, owner.st_gid)


@pytest.fixture(scope="module")
def plan(tmp_path_factory):
    folder = tmp_path_factory.mktemp("plan")
    subprocess.run([PROGRAM, "scene", "steady", "crossing", "loops", "away", "--to", folder / "kites", "--set", "frames=40"], check=True,
                   capture_output=True)
    (folder / "plan.toml").write_text(PLAN, encoding="utf-8")
    return folder


def bench(cluster, plan, out, *options, **more):
    return subprocess.run([PROGRAM, "bench", plan / "plan.toml", "--out", out, *options], env=cluster, capture_output=True, text=True, **more)


def exported(study, folder):
    """All that is exported of a study, but for times and what goes by them."""
    subprocess.run([PROGRAM, "export", study, "--to", folder], check=True, capture_output=True)
    texts = {}
    for file in sorted(pathlib.Path(folder).rglob("*.csv")):
        with open(file, encoding="utf-8") as lines:
            rows = list(csv.DictReader(lines))
        texts[str(file.relative_to(folder))] = [{key: value for key, value in row.items()
                                                 if not any(word in key for word in ("step_ms", "per_s", "seed_ms", "processor", "build", "memory"))} for row in rows]
    return texts


def test_makes_what_one_machine_makes(cluster, plan, tmp_path):
    """Also where a task is killed in the middle."""
    out = tmp_path / "study"
    watching = subprocess.Popen([PROGRAM, "bench", plan / "plan.toml", "--out", out, "--cluster", "slurm", "--shards", "3", "--partition",
                                 "short", "--memory-mb", "800", "--time", "10"], env=cluster, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    killed = False
    while watching.poll() is None and not killed:
        tasks = subprocess.run(["squeue", "-h", "-r", "-t", "R", "-o", "%i"], env=cluster, capture_output=True, text=True).stdout.split()
        if tasks:
            time.sleep(0.3)
            killed = subprocess.run(["scancel", "--signal=KILL", "--full", tasks[0]], env=cluster).returncode == 0
        time.sleep(0.1)
    said, wrong = watching.communicate(timeout=300)
    assert watching.returncode == 0, wrong
    assert killed
    assert "24 runs made" in said
    tries = (out / "cluster/slurm.json").read_text(encoding="utf-8")
    assert '"tries": 2' in tries
    alone = tmp_path / "alone"
    assert bench(cluster, plan, alone).returncode == 0
    assert exported(out, tmp_path / "a") == exported(alone, tmp_path / "b")


def test_is_taken_up_again(cluster, plan, tmp_path):
    out = tmp_path / "study"
    words = [PROGRAM, "bench", plan / "plan.toml", "--out", out, "--cluster", "slurm", "--shards", "2"]
    watching = subprocess.Popen(words, env=cluster, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    while not (out / "cluster/slurm.json").exists():
        time.sleep(0.05)
    watching.terminate()
    assert "the tasks go on" in watching.communicate(timeout=30)[1]
    assert watching.returncode == -signal.SIGTERM
    wrong = bench(cluster, plan, out, "--cluster", "slurm", "--shards", "5")
    assert wrong.returncode == 2 and "is in 2 shards" in wrong.stderr
    again = bench(cluster, plan, out, "--cluster", "slurm", "--shards", "2", timeout=300)
    assert again.returncode == 0, again.stderr
    assert "24 runs made" in again.stdout
    assert '"tries": 1' in (out / "cluster/slurm.json").read_text(encoding="utf-8")


def test_makes_what_a_plan_asks_for_later(cluster, plan, tmp_path):
    """Once all is done the same call makes what is missing: another tracker, say."""
    changed = tmp_path / "changed"
    shutil.copytree(plan, changed)
    out = tmp_path / "study"
    assert "24 runs made" in bench(cluster, changed, out, "--cluster", "slurm", "--shards", "2").stdout
    with open(changed / "plan.toml", "a", encoding="utf-8") as file:
        file.write('\n[[tracker]]\nname = "shift-fixed"\n')
    more = bench(cluster, changed, out, "--cluster", "slurm", "--shards", "2")
    assert more.returncode == 0, more.stderr
    assert "32 runs made" in more.stdout
    (out / "cluster/slurm.json").write_text("{", encoding="utf-8")
    wrong = bench(cluster, changed, out, "--cluster", "slurm", "--shards", "2")
    assert wrong.returncode == 1 and "slurm.json" in wrong.stderr


def test_gives_a_shard_up_that_does_not_come_to_its_end(cluster, plan, tmp_path):
    out = tmp_path / "study"
    out.mkdir()
    (out / "shards").write_text("no folder", encoding="utf-8")
    failed = bench(cluster, plan, out, "--cluster", "slurm", "--shards", "1", "--tries", "2", timeout=200)
    assert failed.returncode == 1
    assert "1 of 1 shards were begun 2 times" in failed.stderr
    assert "/shards" in failed.stderr.split(" ends: ")[1]  # what the task said last


def test_says_what_is_wrong(cluster, plan, tmp_path):
    for options, part in ((("--cluster", "moon"), "slurm"), (("--cluster", "slurm", "--line", "x"), "no option of sbatch"),
                          (("--cluster", "slurm", "--shard", "1/2"), "leave one out")):
        wrong = bench(cluster, plan, tmp_path / "study", *options)
        assert wrong.returncode == 2 and part in wrong.stderr, wrong.stderr
    refused = bench(cluster, plan, tmp_path / "other", "--cluster", "slurm", "--partition", "none")
    assert refused.returncode == 1 and "sbatch failed" in refused.stderr
    nowhere = subprocess.run([PROGRAM, "bench", plan / "plan.toml", "--out", tmp_path / "third", "--cluster", "slurm"],
                             env={"PATH": "/nowhere"}, capture_output=True, text=True)
    assert nowhere.returncode == 1 and "Slurm's programs" in nowhere.stderr
