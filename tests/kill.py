"""``./run kill [SECONDS] [KIND …]``: kills a program at work (editing, saving, taking up, writing a packet)
at any moment until the time is over, each kind a few times however slow the machine is, and looks at what is
left; counts at the end.
``./run kill 60 window`` kills the whole application while somebody types into it, saves, and takes back what
was typed.
"""

from __future__ import annotations

import os
import random
import signal
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path

from urial import families
from urial.job import edit, recovery
from urial.job.file import Document, load, save
from urial.job.model import Job
from urial.papers.packet import Packet
from urial.papers.packet_folder import write_packet

LONGEST_S = 0.03
WINDOW_S = 3.0
"""A window is killed at the latest so long after somebody began to type."""
ROUNDS = 100_000
LEAST = 5
"""Kills of each quick kind, also where the time is over before."""

SIZE = "stack.3.high_mm"
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


# ---- the whole window


def _window(folder: Path) -> None:
    """Somebody at work: types a size, and writes down that it stands in the window only then; now and then
    saves, or takes back what was typed and does it again."""
    os.environ.update(
        QT_QPA_PLATFORM="offscreen",
        HOME=str(folder),
        URIAL_STATE_DIR=str(folder / "state"),
        XDG_CONFIG_HOME=str(folder / "settings"),
    )
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from urial.desk.start import demo_jobs
    from urial.desk.store import Store
    from urial.desk.theme import Theme, load_fonts
    from urial.desk.widgets.fields import Field
    from urial.desk.window import Window

    app = QApplication([])
    load_fonts()
    window = Window(Theme(), Store(recovery.Recovery(folder / "recovery")))
    demo = {path.stem: path for path, _, _ in demo_jobs()}["tool-plate"]
    save(folder / "mine.urial", load(demo))
    window.store.open(folder / "mine.urial")
    window.show()
    window.go("Build")
    window.stations["Build"].show_path(SIZE)
    app.processEvents()
    field = next(f for f in window.findChildren(Field) if f.path == SIZE)
    rng = random.Random(os.getpid())
    for n in range(1, ROUNDS):
        field.line.setFocus()
        QTest.keyClick(field.line, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(field.line, f"{400 + n / 10:.1f} mm")
        QTest.keyClick(field.line, Qt.Key.Key_Return)
        if edit.get(window.store.job, SIZE) != 400 + n / 10:
            os._exit(2)
        (folder / "typed.part").write_text(str(n))
        (folder / "typed.part").replace(folder / "typed")  # whole or not at all
        if rng.random() < 0.2:
            window.store.save(folder / "mine.urial")
        if n > 1 and rng.random() < 0.2:  # what was there before the first is no edit of anybody's
            window.store.undo()
            window.store.redo()
        for _ in range(3):
            app.processEvents()


def _window_left(folder: Path) -> str:
    noted = folder / "typed"
    if not noted.exists():
        return ""
    typed = int(noted.read_text())
    there = [left.document.job for left in recovery.leftovers(folder / "recovery")]
    there.append(load(folder / "mine.urial").job)
    newest = max(round((float(edit.get(job, SIZE)) - 400) * 10) for job in there)
    return "" if newest in (typed - 1, typed, typed + 1) else f"typed {typed} times, found {newest}"


WORK: dict[str, tuple[Callable[[Path], None], Callable[[Path], str]]] = {
    "edit": (_edits, _edits_left),
    "save": (_saves, _saves_left),
    "take up": (_take_up, _take_up_left),
    "packet": (_packets, _packets_left),
    "window": (_window, _window_left),
}
QUICK = ("edit", "save", "take up", "packet")


def _left_behind(folder: Path) -> None:
    """A copy whose owner is gone."""
    child = os.fork()
    if child == 0:
        recovery.Recovery(folder).keep(_titled(7), None)
        os._exit(0)
    os.waitpid(child, 0)


def _wait(kind: str, folder: Path, child: int, rng: random.Random) -> None:
    """Until it is to be killed: any moment, for a window from when somebody has begun to type."""
    if kind == "window":
        ended = os.WEXITED | os.WNOHANG | os.WNOWAIT
        while not (folder / "typed").exists() and os.waitid(os.P_PID, child, ended) is None:
            time.sleep(0.01)
    time.sleep(rng.uniform(0.0, WINDOW_S if kind == "window" else LONGEST_S))


def kill(
    seconds: float, seed: int, kinds: Sequence[str] = QUICK, least: int = 1
) -> tuple[Counter[str], list[str]]:
    """Kills by kind of work, and every loss: kind, number and what was lost; for so long, and each kind at
    least so often.
    """
    done: Counter[str] = Counter()
    losses: list[str] = []
    rng, end = random.Random(seed), time.monotonic() + seconds
    while time.monotonic() < end or done[kinds[-1]] < least:
        for kind in kinds:
            work, left = WORK[kind]
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
                _wait(kind, folder, child, rng)
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
    count, lost = kill(asked, first, sys.argv[2:]) if sys.argv[2:] else kill(asked, first, least=LEAST)
    print(
        f"seed {first}: kills: "
        + ", ".join(f"{n} {kind}" for kind, n in count.items())
        + f"; {len(lost)} losses"
    )
    print("\n".join(lost[:40]))
    sys.exit(bool(lost))
