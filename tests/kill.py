"""``./run kill [SECONDS]``: kills a program at work (editing, saving, taking up, writing a packet) at any
moment until the time is over, and looks at what is left; counts at the end.
"""

from __future__ import annotations

import os
import random
import signal
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

from urial import families
from urial.job import edit, recovery
from urial.job.file import Document, load, save
from urial.job.model import Job
from urial.papers.packet import Packet, write_packet

LONGEST_S = 0.03
ROUNDS = 100_000

FIRST: Job = families.new_job("rear-receiver")


def _titled(n: int) -> Document:
    return Document(edit.put(FIRST, "title", f"edit {n}"))


def _edits(folder: Path) -> None:
    kept = recovery.Recovery(folder)
    for n in range(ROUNDS):
        kept.keep(_titled(n), None)


def _edits_left(folder: Path) -> str:
    found = recovery.leftovers(folder)
    if not list(folder.glob("*.urial")):
        return ""  # killed before the first edit was kept
    return "" if len(found) == 1 and found[0].document.job.title.startswith("edit ") else "the edit is lost"


def _saves(folder: Path) -> None:
    for n in range(ROUNDS):
        save(folder / "job.urial", _titled(n))


def _saves_left(folder: Path) -> str:
    path = folder / "job.urial"
    return (
        ""
        if not path.exists() or load(path).job.title.startswith("edit ")
        else "the file is not a job of ours"
    )


def _take_up(folder: Path) -> None:
    """Take up what somebody left: keep it as one's own, then forget theirs, as the window does."""
    for left in recovery.leftovers(folder):
        recovery.Recovery(folder).keep(left.document, left.origin)
        recovery.forget(left)
    time.sleep(60)  # it is its own now, until it is killed


def _take_up_left(folder: Path) -> str:
    return (
        ""
        if any(x.document.job.title == "edit 7" for x in recovery.leftovers(folder))
        else "taken up, and lost"
    )


def _packet(n: int) -> Packet:
    names = [
        "packet.pdf",
        "templates.pdf",
        "parts.csv",
        "results.json",
        *(f"plate-{k}.dxf" for k in "ABCDEFGH"[: n % 8]),
    ]
    return Packet({name: f"revision {n}\n".encode() * 50 for name in names})


def _packets(folder: Path) -> None:
    for n in range(1, ROUNDS):
        write_packet(_packet(n), folder / "packet")


def _packets_left(folder: Path) -> str:
    there = {p.name: p.read_bytes().split(b"\n", 1)[0].decode() for p in (folder / "packet").glob("[!.]*")}
    if not there:
        return ""
    revisions = set(there.values())
    if len(revisions) != 1:
        return f"{len(revisions)} revisions mixed"
    return (
        ""
        if set(there) == set(_packet(int(revisions.pop().split()[1])).files)
        else "a packet with files missing"
    )


WORK: dict[str, tuple[Callable[[Path], None], Callable[[Path], str]]] = {
    "edit": (_edits, _edits_left),
    "save": (_saves, _saves_left),
    "take up": (_take_up, _take_up_left),
    "packet": (_packets, _packets_left),
}


def _left_behind(folder: Path) -> None:
    """A copy whose owner is gone."""
    child = os.fork()
    if child == 0:
        recovery.Recovery(folder).keep(_titled(7), None)
        os._exit(0)
    os.waitpid(child, 0)


def kill(seconds: float, seed: int) -> tuple[Counter[str], list[str]]:
    """Kills by kind of work, and every loss: kind, number and what was lost."""
    done: Counter[str] = Counter()
    losses: list[str] = []
    rng, end = random.Random(seed), time.monotonic() + seconds
    while time.monotonic() < end:
        for kind, (work, left) in WORK.items():
            with tempfile.TemporaryDirectory() as name:
                folder = Path(name)
                if kind == "take up":
                    _left_behind(folder)
                child = os.fork()
                if child == 0:
                    try:
                        work(folder)
                    finally:
                        os._exit(1)
                time.sleep(rng.uniform(0.0, LONGEST_S))
                os.kill(child, signal.SIGKILL)
                _, how = os.waitpid(child, 0)
                done[kind] += 1
                if not os.WIFSIGNALED(how):
                    losses.append(f"{kind} {done[kind]}: it ended before it was killed")
                elif words := left(folder):
                    losses.append(f"{kind} {done[kind]}: {words}")
    return done, losses


if __name__ == "__main__":
    asked = float(sys.argv[1]) if len(sys.argv) > 1 else 30.0
    first = random.SystemRandom().randrange(2**31)
    count, lost = kill(asked, first)
    print(
        f"seed {first}: kills: "
        + ", ".join(f"{n} {kind}" for kind, n in count.items())
        + f"; {len(lost)} losses"
    )
    print("\n".join(lost[:40]))
    sys.exit(bool(lost))
