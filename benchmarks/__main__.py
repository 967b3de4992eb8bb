"""Every ratio the project watches, measured in one run on one machine: medians of several rounds, both
sides in turn.
"""

from __future__ import annotations

import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from inspect import getsource
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from urial.desk.window import Window
    from urial.job.model import Job
    from urial.strength.analysis import Forces
    from urial.strength.frame import Frame, Loads

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("URIAL_STATE_DIR", tempfile.mkdtemp(prefix="urial-bench-"))
ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))


def timed(work: Callable[[], object], repeat: int) -> float:
    start = time.perf_counter()
    for _ in range(repeat):
        work()
    return (time.perf_counter() - start) / repeat


def ratio(
    mine: Callable[[], object],
    other: Callable[[], object],
    rounds: int = 9,
    repeat_mine: int = 5,
    repeat_other: int = 5,
) -> tuple[float, float, float]:
    """Median seconds of both, taken in turn, and the median of the pairwise ratios mine / other."""
    mine(), other()
    pairs = [(timed(mine, repeat_mine), timed(other, repeat_other)) for _ in range(rounds)]
    return (
        statistics.median(a for a, _ in pairs),
        statistics.median(b for _, b in pairs),
        statistics.median(a / b for a, b in pairs),
    )


def say(name: str, a: float, b: float, r: float, wanted: str) -> None:
    print(
        f"{name:58} {a * 1e3:9.2f} ms  against {b * 1e3:9.2f} ms   ratio {r:7.2f}   wanted {wanted}",
        flush=True,
    )


def frame_against_pynite() -> None:
    from tests.strength.test_frame import by_pynite, random_model
    from urial.strength.frame import solve

    frame, loads = random_model(6)
    a, b, _ = ratio(lambda: solve(frame, loads), lambda: by_pynite(frame, loads), repeat_other=1)
    say("PyNiteFEA build and solve, over ours", b, a, b / a, ">= 30")
    forces = rear_receiver()
    model, cases = as_solved(forces)
    t = statistics.median(timed(lambda: solve(model, cases), 10) for _ in range(5))
    print(
        f"    the rear receiver itself: {6 * len(model.nodes)} degrees of freedom, {len(cases)} "
        f"cases, {t * 1e3:.2f} ms"
    )


def rear_receiver() -> Forces:
    """The starting part, solved."""
    from urial import families
    from urial.prove.verdict import prove

    forces = prove(families.new_job("rear-receiver")).forces
    assert forces is not None
    return forces


def as_solved(forces: Forces) -> tuple[Frame, Loads]:
    """The frame of a part and its loads."""
    from urial.strength.analysis import at_nodes, frame_of

    return frame_of(forces.assembly, forces.net), at_nodes(forces.cases, forces.points, forces.net)


def lattice(wide: int, deep: int, high: int, cases: int) -> tuple[Frame, Loads]:
    """A rack of beams, its feet held."""
    from urial.strength.frame import Frame, Member

    spots = [(i, j, k) for i in range(wide) for j in range(deep) for k in range(high)]
    nodes = {f"{i},{j},{k}": (300.0 * i, 300.0 * j, 250.0 * k) for i, j, k in spots}
    members = []
    for i, j, k in spots:
        for n, (a, b, c) in enumerate(((1, 0, 0), (0, 1, 0), (0, 0, 1))):
            if i + a < wide and j + b < deep and k + c < high:
                members.append(
                    Member(
                        f"m{len(members)}",
                        f"{i},{j},{k}",
                        f"{i + a},{j + b},{k + c}",
                        200_000.0,
                        77_200.0,
                        900.0,
                        4e5,
                        6e5,
                        3e5,
                        (0, 0, 1) if n < 2 else (1, 0, 0),
                    )
                )
    held = {f"{i},{j},0": [1] * 6 for i in range(wide) for j in range(deep)}
    loads = {
        f"case {n}": {f"{n % wide},{n % deep},{high - 1}": [100.0 * n, 50.0, -1000.0, 0, 0, 0]}
        for n in range(cases)
    }
    return Frame(nodes, members, held), loads


def large_frame() -> None:
    """900 nodes: against scipy's own sparse solve of the same matrix, against PyNite, and how it grows."""
    import numpy as np
    from scipy.sparse.linalg import splu

    from tests.strength.test_frame import by_pynite
    from urial.strength.elements import elements_of, global_matrix
    from urial.strength.frame import _free_dofs, solve

    sizes = []
    for wide in (5, 10, 20, 40):
        frame, loads = lattice(wide, 3, 15, 18)
        sizes.append(
            (
                len(frame.nodes),
                statistics.median(timed(lambda f=frame, w=loads: solve(f, w), 1) for _ in range(3)),
            )
        )
    print(
        "    nodes and milliseconds, 18 cases: "
        + ", ".join(f"{n}: {1e3 * t:.0f}" for n, t in sizes)
        + f"; from 225 to 1800 nodes {sizes[-1][1] / sizes[0][1]:.1f} × for 8 ×"
    )
    frame, loads = lattice(20, 3, 15, 18)
    model = elements_of(frame)
    free = _free_dofs(frame, model)
    whole = global_matrix(frame, model, np.ones((0, 6)))
    kff = whole[free][:, free].tocsc()
    rhs = np.random.default_rng(1).normal(size=(kff.shape[0], len(loads)))
    a, b, r = ratio(
        lambda: solve(frame, loads), lambda: splu(kff).solve(rhs), rounds=3, repeat_mine=1, repeat_other=1
    )
    say("900 nodes, 18 cases, everything / scipy's bare sparse solve", a, b, r, "<= 3")
    few = dict(list(loads.items())[:3])
    mine = statistics.median(timed(lambda: solve(frame, few), 1) for _ in range(3))
    theirs = timed(lambda: by_pynite(frame, few), 1)
    say("900 nodes, 3 cases, PyNiteFEA build and solve, over ours", theirs, mine, theirs / mine, ">= 30")


def edit_to_verdict() -> None:
    import numpy as np
    import scipy.linalg

    from urial import families
    from urial.job import edit
    from urial.loads import towing
    from urial.loads.case import load_points
    from urial.prove.verdict import prove
    from urial.strength.analysis import analyse
    from urial.strength.basis import basis_of
    from urial.strength.checks import judge
    from urial.strength.frame import stiffness_matrix

    job = families.new_job("rear-receiver")
    assembly = families.build(job)
    k, _ = stiffness_matrix(as_solved(rear_receiver())[0])
    cases = towing.cases(job, assembly)
    rhs = np.random.default_rng(1).normal(size=(len(k), len(cases)))
    bare = lambda: scipy.linalg.solve(k, rhs, assume_a="pos", check_finite=False)  # noqa: E731
    drops = iter(range(1, 10_000_000))

    def one_edit() -> None:
        prove(edit.put(job, "stack.1.drop_mm", 100 + next(drops) * 0.001))

    def after_build() -> None:
        basis = basis_of(job.proof)
        judge(
            analyse(assembly, cases, load_points(assembly), job.proof.foot, basis.load_factor),
            basis,
            job.proof.weld_method,
        )

    a, b, r = ratio(one_edit, bare, repeat_mine=3, repeat_other=20)
    say("edit, parts built anew, every case, every check / LAPACK", a, b, r, "<= 20 + geometry")
    geometry = statistics.median(
        timed(lambda: families.build(edit.put(job, "stack.1.drop_mm", 100 + next(drops) * 0.001)), 3)
        for _ in range(9)
    )
    a, b, r = ratio(after_build, bare, repeat_mine=3, repeat_other=20)
    say("  of which every case and every check / LAPACK", a, b, r, "<= 20")
    checks = len(prove(job).checks)
    print(
        f"    the edit's geometry: {geometry * 1e3:.2f} ms = {geometry / b:.1f} bare solves of "
        f"{len(k)} unknowns, {len(cases)} cases; {checks} checks"
    )


def one_piece_of_many() -> None:
    """A stack of some forty parts: turning one size of one piece against building everything."""
    from urial import families
    from urial.assembly import bodies
    from urial.job import edit

    job = families.new_job("rear-receiver")
    sizes = iter(range(1, 10_000_000))

    def seen(j: Job) -> None:
        assembly = families.build(j)
        bodies.total_mass(assembly)
        bodies.mesh(assembly)

    def whole() -> None:
        ours = [m for name, m in list(sys.modules.items()) if name.startswith("urial.")]
        kept = {id(v): v for m in ours for v in vars(m).values() if hasattr(v, "cache_info")}
        for cached in kept.values():
            if cached.cache_info().maxsize is not None:  # tables that are read once stay
                cached.cache_clear()
        seen(job)

    def one() -> None:
        seen(edit.put(job, "stack.2.pin_to_ball_mm", 230 + next(sizes) * 0.001))

    seen(job)
    a, b, r = ratio(one, whole, rounds=9, repeat_mine=2, repeat_other=1)
    say(
        f"one size of a {len(families.build(job).parts)}-part stack / all of it anew, shapes and picture",
        a,
        b,
        r,
        "<= 0.2",
    )


def command(*args: str) -> Callable[[], object]:
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    return lambda: subprocess.run(
        [sys.executable, *args], check=False, stdout=subprocess.DEVNULL, env=environment
    )


def cold_start() -> None:
    path = Path(tempfile.mkdtemp()) / "a.urial"
    subprocess.run(
        [sys.executable, "-m", "urial.cli", "new", "rear-receiver", "-o", str(path)],
        check=True,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
    )
    a, b, r = ratio(
        command("-m", "urial.cli", "check", str(path)),
        command("-c", "import numpy, scipy.linalg, pydantic"),
        rounds=7,
        repeat_mine=1,
        repeat_other=1,
    )
    say("urial check, cold / import numpy, scipy.linalg, pydantic", a, b, r, "<= 3")


def light_commands() -> None:
    """Against a Python that only makes the same parser: what a command imports beyond it."""
    from urial import arguments

    bare = "\n".join([getsource(arguments), "parser().parse_args(['families'])"])
    for words in (("--version",), ("calc", "--list")):
        a, b, r = ratio(
            command("-m", "urial.cli", *words), command("-c", bare), rounds=9, repeat_mine=1, repeat_other=1
        )
        say(f"urial {' '.join(words)} / bare Python with the same parser", a, b, r, "<= 1.3")


FIRST_PAINT = """
import sys, time
from PySide6.QtWidgets import QApplication
from PySide6.QtCore import QTimer
app = QApplication([])
{make}
def painted():
    import os
    os._exit(0)
w.show()
QTimer.singleShot(0, painted)
app.exec()
"""


def first_paint() -> None:
    ours = FIRST_PAINT.format(
        make="from urial.desk.theme import load_fonts; from urial.desk.window import Window; "
        "load_fonts(); w = Window(furnished=False)"
    )
    bare = FIRST_PAINT.format(
        make="from PySide6.QtWidgets import QMainWindow; w = QMainWindow(); w.resize(1280, 800)"
    )
    a, b, r = ratio(command("-c", ours), command("-c", bare), rounds=7, repeat_mine=1, repeat_other=1)
    say("window's first paint / a bare PySide6 window's", a, b, r, "<= 3")


def turned_view() -> None:
    from PySide6.QtCore import QEvent, QPointF, Qt
    from PySide6.QtGui import QMouseEvent
    from PySide6.QtWidgets import QApplication

    app = QApplication.instance() or QApplication([])
    from vtkmodules.vtkRenderingCore import vtkActor, vtkPolyDataMapper, vtkRenderer, vtkRenderWindow

    from urial.desk.scene.render import Renderer
    from urial.desk.start import demo_jobs
    from urial.desk.theme import load_fonts
    from urial.desk.window import Window

    load_fonts()
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.open_demo(demo_jobs()[0][0])
    window.scene.attach(Renderer())
    window.scene.set_view("turned")
    window.scene.settle()
    from urial.desk.shots import _wait

    _wait(300)
    scene = window.scene
    bare = vtkRenderWindow()
    bare.SetOffScreenRendering(1)
    bare.SetShowWindow(False)
    bare.SetMultiSamples(0)
    bare.SetSize(scene.width(), scene.height())
    renderer, mapper, actor = vtkRenderer(), vtkPolyDataMapper(), vtkActor()
    mapper.SetInputData(scene.renderer.data)
    actor.SetMapper(mapper)
    renderer.AddActor(actor)
    bare.AddRenderer(renderer)
    renderer.GetActiveCamera().ParallelProjectionOn()

    at, nothing = QPointF(300, 300), Qt.KeyboardModifier.NoModifier

    def hand(what: QEvent.Type, held: Qt.MouseButton) -> None:
        button = Qt.MouseButton.NoButton if what == QEvent.Type.MouseMove else Qt.MouseButton.LeftButton
        event = QMouseEvent(what, at, scene.mapToGlobal(at), button, held, nothing)
        QApplication.sendEvent(scene, event)

    def dragged() -> None:
        at.setX(at.x() + 5)
        hand(QEvent.Type.MouseMove, Qt.MouseButton.LeftButton)
        app.processEvents()

    hand(QEvent.Type.MouseButtonPress, Qt.MouseButton.LeftButton)

    def loop() -> None:
        renderer.GetActiveCamera().Azimuth(1)
        renderer.ResetCamera()
        bare.Render()

    a, b, r = ratio(dragged, loop, rounds=7, repeat_mine=5, repeat_other=5)
    say("turned view dragged by the hand / bare VTK frame", a, b, r, "<= 1.67")
    print(
        f"    {1 / a:.1f} frames/s dragged with vehicle, arrows and edges, against {1 / b:.1f} "
        f"frames/s bare, {scene.renderer.data.GetNumberOfPolys()} triangles, software rendering"
    )
    hand(QEvent.Type.MouseButtonRelease, Qt.MouseButton.NoButton)
    drops = iter(range(1, 10_000_000))

    def edit_seen() -> None:
        window.store.put("stack.1.drop_mm", 100 + next(drops) * 0.01)
        scene.repaint()

    def empty() -> None:
        window.chain.repaint()

    a, b, r = ratio(edit_seen, empty, rounds=5, repeat_mine=2, repeat_other=10)
    say("edit until it is seen, parts and picture anew / chain repaint", a, b, r, "instant")
    app.processEvents()
    window.store.document.saved_job = window.store.job


def shown_window() -> Window:
    """The whole window at its least size, with a renderer; there is an application already."""
    from urial.desk.scene.render import Renderer
    from urial.desk.theme import load_fonts
    from urial.desk.window import Window

    load_fonts()
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.scene.attach(Renderer())
    return window


def edit_of_every_kind() -> None:
    """One size of every demo job's own part, in the window: until the new shape is painted, and until it
    is judged.
    """
    import time

    from PySide6.QtWidgets import QApplication

    app = QApplication.instance() or QApplication([])
    from urial.desk.start import demo_jobs

    window = shown_window()
    sizes = {
        "rescue-receiver": "drop_mm",
        "tool-plate": "reach_mm",
        "ramp-front-receiver": "drop_mm",
        "medic-bike-hitch": "nose_behind_mm",
        "weir-anchor": "height_mm",
        "hay-net-carriage": "high_mm",
        "boat-cradles": "high_mm",
    }
    store, unit = window.store, None
    for path, _, _ in demo_jobs():
        if path.stem not in sizes:
            continue
        store.document.saved_job = store.job  # so that nobody is asked
        window.open_demo(path)
        window.go("Build")
        app.processEvents()
        where = next(
            f"stack.{q.id}.{sizes[path.stem]}" for q in store.job.stack if hasattr(q.values, sizes[path.stem])
        )
        here = float(edit_get(store.job, where))
        seen, judged = [], []
        for n in range(9):
            start = time.perf_counter()
            store.put(where, here + 0.01 * (n + 1))
            while store.reckoning and store.shape is None:
                app.processEvents()
            window.scene.repaint()
            seen.append(time.perf_counter() - start)
            while store.reckoning:
                app.processEvents()
            judged.append(time.perf_counter() - start)
            rested = time.perf_counter() + 0.5
            while time.perf_counter() < rested:  # the sharp picture of this edit is not the next one's
                app.processEvents()
        a, b = statistics.median(seen), statistics.median(judged)
        unit = unit or a
        say(f"{path.stem}: edit until it is seen / the rear receiver's", a, unit, a / unit, "<= 60 ms each")
        print(
            f"    seen after {1e3 * a:.0f} ms, judged after {1e3 * b:.0f} ms, "
            f"{len(store.verdict.checks)} checks"
        )
    store.document.saved_job = store.job


def clicks() -> None:
    """Every station, page, view and segment of the demo jobs clicked once and once more at 1280 × 800: from
    the press until the window has painted, over the same window's bare repaint.
    """
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication, QPushButton

    app = QApplication.instance() or QApplication([])
    from urial.desk.start import demo_jobs

    window = shown_window()
    took: list[tuple[float, str]] = []

    def settled(seconds: float) -> None:
        rested = time.perf_counter() + seconds
        while time.perf_counter() < rested or window.store.reckoning:
            app.processEvents()

    def press(button: QPushButton, called: str) -> None:
        start = time.perf_counter()
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        window.repaint()
        app.processEvents()
        took.append((time.perf_counter() - start, called))
        settled(0.15)

    for path, _, _ in demo_jobs()[:4]:
        window.store.document.saved_job = window.store.job  # so that nobody is asked
        window.open_demo(path)
        settled(1.0)
        for again in ("", ", again"):
            for name, tab in window.tabs.items():
                if not tab.isVisible():
                    continue
                press(tab, f"{path.stem}: {name}{again}")
                pages = [
                    b
                    for b in window.stations[name].findChildren(QPushButton)
                    if b.objectName().startswith("page:") and b.isVisible()
                ]
                for page in pages:
                    press(page, f"{path.stem}: {name}, {page.text()}{again}")
            for view in window.findChildren(QPushButton):
                if view.isVisible() and view.objectName().startswith("view:"):
                    press(view, f"{path.stem}: {view.objectName()}{again}")
    bare = timed(lambda: (window.repaint(), app.processEvents()), 20)
    first = [t for t, called in took if not called.endswith("again")]
    rest = [t for t, called in took if called.endswith("again")]
    for words, times in (("first time", first), ("again", rest)):
        a = statistics.median(times)
        say(f"a click until it is seen, {words} / a bare repaint", a, bare, a / bare, "<= 100 ms each")
        print(f"    of {len(times)}: {sum(t > 0.1 for t in times)} over 100 ms")
    for t, called in sorted(took, reverse=True)[:10]:
        print(f"    {1e3 * t:6.0f} ms  {called}")
    window.store.document.saved_job = window.store.job


def edit_get(job: Job, path: str) -> object:
    from urial.job import edit

    return edit.get(job, path)


def deck_drag() -> None:
    """A block under the hand: every figure of the page and the whole picture, over a repaint of the same
    widget with no deck.
    """
    from PySide6.QtWidgets import QApplication

    app = QApplication.instance() or QApplication([])
    from urial.desk.scene.canvas import Canvas
    from urial.desk.start import demo_jobs
    from urial.desk.theme import load_fonts
    from urial.desk.window import Window

    class Empty(Canvas):
        def paintEvent(self, _: object) -> None:
            self.begin()

    load_fonts()
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.open_demo(demo_jobs()[0][0])
    window.go("Load")
    window.stations["Load"].show_page("Deck")
    app.processEvents()
    page = window.stations["Load"].pages["Deck"]
    view = page.canvas
    bare = Empty(window.theme, "bare")
    bare.resize(view.size())
    bare.show()
    app.processEvents()
    at = iter(range(1, 10_000_000))

    def dragged() -> None:
        block = view.deck.cargo[0]
        view._swap(0, block.model_copy(update={"front_mm": 900.0 + next(at) % 300}))
        view.dragged.emit(view.deck)
        view.repaint()

    a, b, r = ratio(dragged, bare.repaint, rounds=7, repeat_mine=20, repeat_other=20)
    say("a block dragged, every figure and the picture / empty repaint", a, b, r, "within a frame")
    print(f"    {1e3 * a:.1f} ms a move: {'within' if a < 1 / 60 else 'over'} one frame of 1/60 s")
    window.store.document.saved_job = window.store.job


def going_together() -> None:
    """Each question of how it goes together against one boolean of two of its own bodies."""
    from urial import families
    from urial.assembly import bodies
    from urial.fit import fit
    from urial.fit.access import _reach_of
    from urial.fit.whole import _LOOKED

    for name in ("rear-receiver", "rack-carrier", "flat-trailer"):
        job = families.new_job(name)
        assembly = families.build(job)
        steel = sorted((p for p in assembly.parts if not p.hardware), key=bodies.mass)[-2:]
        one, other = (bodies.body(p) for p in steel)

        def boolean(one: object = one, other: object = other) -> None:
            (one.translate([0.01, 0, 0]) ^ other).volume()  # type: ignore[attr-defined,operator]

        def whole(job: Job = job, assembly: object = assembly) -> None:
            _reach_of.cache_clear()
            _LOOKED.cache_clear()  # nothing is remembered from the round before
            fit(job, assembly, moves=False)  # type: ignore[arg-type]

        a, b, r = ratio(whole, boolean, rounds=3, repeat_mine=1, repeat_other=20)
        say(f"all of how a {name} goes together / one boolean", a, b, r, "within 3 s off the window's thread")


def sizes() -> None:
    """Size it over its whole choice against as many single checks."""
    from urial import families
    from urial.prove import verdict
    from urial.prove.sizing import Wish, size, variables

    def check(job: Job) -> None:
        verdict._PROVED.cache_clear()  # nothing is remembered from the round before
        verdict._IN_OTHER_WORDS.cache_clear()
        verdict.prove(job)

    for name in ("rear-receiver", "flat-carrier", "two-wheeler"):
        job = families.new_job(name)
        count = math.prod(len(v.values) for v in variables(job))
        one = statistics.median(timed(lambda job=job: check(job), 5) for _ in range(5))  # type: ignore[misc]
        tried: list[int] = []
        a = timed(lambda job=job, tried=tried: tried.append(size(job, Wish()).tried), 1)  # type: ignore[misc]
        alone = one * min(count, 10_000)
        say(f"sizes of a {name} / 10 000 single checks", a, alone, a / alone, "<= 0.1")
        print(f"    {count:.2g} combinations, {tried[-1]} judged")


def endurance_beside_the_rest() -> None:
    """Every check with endurance of a job of 40 members in 20 cases, against its frame's solution alone."""
    from dataclasses import replace

    from urial import families
    from urial.loads.case import load_points
    from urial.loads.endurance import repeated
    from urial.prove.verdict import prove
    from urial.strength.analysis import analyse
    from urial.strength.basis import basis_of
    from urial.strength.checks import judge
    from urial.strength.checks.common import Context
    from urial.strength.checks.endurance import endurance_checks, ranges_of

    for name in ("flat-trailer", "three-point-carriage", "two-wheeler"):
        job = families.new_job(name)
        built, own = families.build(job), prove(job).cases
        points, basis, method = load_points(built), basis_of(job.proof), job.proof.weld_method
        cases = tuple(replace(c, id=f"{c.id} {k}") for k in range(20) for c in own)[:20]
        swung = repeated(job, built)
        ends = [s.one for r in swung for s in r.swings] + [s.other for r in swung for s in r.swings]
        every = tuple(replace(c, id=f"{c.id} #{n}") for n, c in enumerate(ends))

        def frame() -> None:
            analyse(replace(built), cases, points)  # a copy remembers nothing

        frames, checks, members = [], [], 0
        for _ in range(9):
            solved = analyse(replace(built), (*cases, *every), points)
            members = len(solved.net.beams)
            start = time.perf_counter()
            forces = solved.only(range(len(cases)))
            judge(forces, basis, method)
            both = solved.only(range(len(cases), len(cases) + len(every)))
            endurance_checks(ranges_of(Context(forces, basis, method), both, swung, job))
            checks.append(time.perf_counter() - start)
            frames.append(timed(frame, 1))
        a, b = statistics.median(checks), statistics.median(frames)
        say(f"all checks of a {name}, {members} members, 20 cases / its frame", a, b, a / b, "<= 3")


def making() -> None:
    """A tick against an edit; sixty pieces out of bars against first fit and against the bare programme."""
    import random

    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp

    from urial import families
    from urial.making import bars
    from urial.making.nested import nested
    from urial.making.plan import plan
    from urial.making.status import status
    from urial.prove.verdict import prove
    from urial.shop.snapshot import usual

    job = families.new_job("flat-trailer")
    v = prove(job)
    steps = plan(v.assembly)
    rows = status(steps, ())

    def ticked() -> None:
        nested(v.assembly, status(steps, ()), (), usual())

    def proved() -> None:
        prove(job.model_copy(update={"notes": str(time.perf_counter_ns())}).model_copy(update={"waived": ()}))
        plan(v.assembly)

    say(
        "what a tick asks for (status, nests) / the plan of a trailer",
        *ratio(ticked, proved, 7, 3, 3),
        "<= 20",
    )
    assert rows

    draw = random.Random(5)
    lengths = [round(draw.uniform(200, 2600)) for _ in range(12)]
    pieces = [bars.Piece(str(n), float(mm), 5) for n, mm in enumerate(lengths)]

    def mine() -> None:
        bars.cut_stock(pieces, [bars.Stock(6000.0, 1.0)], 3.0, 10.0, seconds=10.0)

    def first_fit() -> None:
        room: list[float] = []
        for mm in sorted((p.length for p in pieces for _ in range(p.count)), reverse=True):
            k = next((k for k, r in enumerate(room) if r >= mm + 3.0), None)
            if k is None:
                room.append(5990.0 - mm - 3.0)
            else:
                room[k] -= mm + 3.0

    asked, _ = bars._asked(pieces, [bars.Stock(6000.0, 1.0)], 3.0, 10.0)
    pool, _ = bars._all_patterns(asked)
    counts = np.array([row for _, row in pool], dtype=float).T

    def bare() -> None:
        milp(
            np.ones(counts.shape[1]),
            constraints=LinearConstraint(counts, asked.demand, np.inf),
            integrality=np.ones(counts.shape[1]),
            bounds=Bounds(0, np.inf),
        )

    say(
        f"60 pieces out of bars / the bare programme, {len(pool)} patterns",
        *ratio(mine, bare, 3, 1, 1),
        "<= 10",
    )
    say("60 pieces out of bars / first fit", *ratio(mine, first_fit, 3, 1, 20), "it proves its answer")


def sheets() -> None:
    """Plates of all demo jobs by thickness on one strip: rectangles, own outlines, the search; lengths, and
    what a nest by outlines takes beside rectangles alone.
    """
    from urial.families import build
    from urial.job.file import load
    from urial.making.parts import parts_list
    from urial.making.sheet_boxes import packed
    from urial.making.sheet_model import Offer
    from urial.making.sheet_strips import Search, strip
    from urial.making.sheets import TURNS, _by_outline, plates_wanted, rank
    from urial.shop.snapshot import usual

    shop = usual()
    pools: dict[str, list[object]] = {}
    for path in sorted((ROOT / "src" / "urial" / "families" / "demo").glob("*.urial")):
        job = load(path).job
        if job.has_part:
            assembly = build(job)
            for p in plates_wanted(assembly, parts_list(assembly)):
                pools.setdefault(p.stock, []).append(p)
    table = shop.table.model_copy(update={"bed_long_mm": 1e4, "bed_wide_mm": 1230.0})
    long = Offer((1e4, 1250.0), 1.0, None)
    wide = shop.model_copy(update={"table": table})
    for stock in ("plate 8 mm", "plate 3/8", "plate 1/2"):
        pieces = pools[stock]

        def boxed(pieces: list = pieces) -> float:
            return min(rank(w)[2] for w in packed(pieces, [long], table)) - table.margin_mm

        def outlined(pieces: list = pieces) -> float:
            ways = _by_outline(pieces, [long], wide, "quarter turns", slice(0, None), lambda: False)
            return min(rank(w)[2] for w in ways) - table.margin_mm

        how = Search(table, TURNS["quarter turns"], lambda: False, lambda _: None)
        found = strip(pieces, 1230.0, how, 10.0)
        a, b = boxed(), outlined()
        c = found.length if found is not None else math.nan
        print(
            f"{len(pieces)} of {stock}: {a:.0f} mm as rectangles, {b:.0f} by outlines, {c:.0f} searched for "
            f"10 s; ratios {b / a:.2f}, {c / a:.2f} (wanted <= 0.87)"
        )
        say(
            f"{len(pieces)} of {stock} by outlines / as rectangles", *ratio(outlined, boxed, 3, 1, 1), "<= 60"
        )


if __name__ == "__main__":
    wanted = sys.argv[1:]
    for part in (
        frame_against_pynite,
        large_frame,
        edit_to_verdict,
        one_piece_of_many,
        cold_start,
        light_commands,
        first_paint,
        turned_view,
        edit_of_every_kind,
        clicks,
        deck_drag,
        going_together,
        sizes,
        endurance_beside_the_rest,
        making,
        sheets,
    ):
        if not wanted or part.__name__ in wanted:
            part()
    os._exit(0)
