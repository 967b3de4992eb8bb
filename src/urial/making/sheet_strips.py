"""Plates laid closer: a search by true outlines for as long as it is given, on whole sheets that are bought.

One sheet's plates are a strip as wide as the sheet that is made as short as can be; of several sheets, the
last one's plates are tried on those before it, as long as their area leaves hope.  A sheet is changed only
for a better one, and what is found is proven by the outlines.
"""

from __future__ import annotations

import contextlib
import json
import os
import select
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from pathlib import Path
from typing import IO, Any

from shapely import affinity
from shapely.geometry import Polygon
from shapely.strtree import STRtree

from urial.making.sheet_model import Offer, Placed, PlateWanted, SheetCut, SheetNest
from urial.making.sheets import TURNS, rank
from urial.shop.snapshot import Shop, Table

HAIR = 0.05
"""Beyond half the gap a piece is grown by so much: what chords leave out, mm."""
HOPE = 0.9
"""Of a sheet's area so much can be covered at best."""
LOOK_S = 0.1
LEAST_S = 1.0

Stopped = Callable[[], bool]
Tell = Callable[[float], None]


@dataclass(frozen=True)
class Search:
    """What a search goes by: the table, the angles in degrees, who stops it and who is told."""

    table: Table
    angles: Sequence[float]
    stopped: Stopped
    tell: Callable[[str | SheetNest], None]
    stock: str = ""


@dataclass(frozen=True)
class Strip:
    """A strip and what lies on it: how long it is, where each piece lies, mm."""

    length: float
    placed: tuple[Placed, ...]


def _grown(metal: Polygon, gap: float) -> list[tuple[float, float]]:
    """A piece as the search wants it: half a gap larger all round, without its openings."""
    grown = Polygon(metal.exterior).buffer(gap / 2 + HAIR, join_style="mitre", mitre_limit=2.0)
    rim = grown.simplify(HAIR / 2)
    assert isinstance(rim, Polygon)
    return [(x, y) for x, y in rim.exterior.coords[:-1]]


def strip(
    pieces: Sequence[PlateWanted],
    wide: float,
    how: Search,
    seconds: float,
    *,
    enough: float = 0.0,
    seed: int = 1,
    tell: Tell = lambda length: None,
) -> Strip | None:
    """Pieces on a strip as short as is found in the time; None where one is too wide for it, or where it was
    stopped before anything was found.

    Args: ``wide``: of the strip, mm; ``enough``: it ends once the strip is no longer than this; ``tell`` is
    told how long the best so far is.  Places are from the strip's corner.
    """
    gap, angles = how.table.gap_mm, how.angles
    kinds: dict[tuple[object, bool], list[PlateWanted]] = {}
    for p in pieces:
        kinds.setdefault((p.shape, p.mirrored), []).append(p)
    rows = list(kinds.values())
    items = [(_grown(row[0].metal, gap), len(row), [float(a) for a in angles]) for row in rows]
    high = wide + gap + 2 * HAIR
    if not items or max(_least_height(points, angles) for points, _, _ in items) > high:
        return None
    asked = {"high": high, "seconds": seconds, "seed": seed, "items": items, "gap": gap}
    half = gap / 2 + HAIR

    def lies(found: Sequence[Sequence[float]]) -> Strip | None:
        """What was found, where it is true: a search broken off early may hand on what still overlaps."""
        spare = [list(row) for row in rows]
        placed = tuple(
            Placed(spare[int(n)].pop(0), (x - half, y - half), float(turned % 360.0))
            for n, x, y, turned in found
        )
        long = max(p.metal.bounds[2] for p in placed)
        return Strip(long, placed) if proven(placed, (0.0, 0.0, long, wide), gap) else None

    return _searched(asked, lies, enough, how.stopped, tell)


def _searched(
    asked: dict[str, Any],
    lies: Callable[[Sequence[Sequence[float]]], Strip | None],
    enough: float,
    stopped: Stopped,
    tell: Tell,
) -> Strip | None:
    """The best the search finds that is proven, until it ends, is stopped or has found enough."""
    ours = str(Path(__file__).parents[2])
    child = subprocess.Popen(
        [sys.executable, "-m", "urial.making.strip_search"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        env={**os.environ, "PYTHONPATH": os.pathsep.join((ours, os.environ.get("PYTHONPATH", "")))},
    )
    assert child.stdin is not None and child.stdout is not None
    best: Strip | None = None
    try:
        with contextlib.suppress(BrokenPipeError):
            child.stdin.write((json.dumps(asked) + "\n").encode())
            child.stdin.close()
        lines = _Lines(child.stdout)
        while not stopped():
            text = lines.next(LOOK_S)
            if text is None:
                continue
            if not text:
                break
            told = json.loads(text)
            if best is not None and told["width"] >= best.length + asked["gap"]:
                continue
            found = lies(told["placed"])
            if found is None or (best is not None and found.length >= best.length):
                continue
            best = found
            tell(best.length)
            if best.length <= enough:
                break
    finally:
        child.kill()
        child.wait()
        child.stdout.close()
    return best


class _Lines:
    """Lines of a pipe, waited for only so long."""

    def __init__(self, pipe: IO[bytes]) -> None:
        self.pipe, self.have = pipe, b""

    def next(self, seconds: float) -> bytes | None:
        """The next line; nothing at the end; None where none came in the time."""
        while b"\n" not in self.have:
            if not select.select([self.pipe], [], [], seconds)[0]:
                return None
            more = os.read(self.pipe.fileno(), 65536)
            if not more:
                return b""
            self.have += more
        line, self.have = self.have.split(b"\n", 1)
        return line


def _least_height(points: Sequence[tuple[float, float]], angles: Sequence[float]) -> float:
    """How high an outline is at least when turned one of these ways, mm."""
    shape = Polygon(points)
    boxes = (affinity.rotate(shape, a, origin=(0, 0)).bounds for a in angles)
    return min(b[3] - b[1] for b in boxes)


def proven(placed: Sequence[Placed], room: tuple[float, float, float, float], gap: float) -> bool:
    """Does everything lie inside a room, the gap apart?  To a hundredth of a millimetre."""
    metal = [p.metal for p in placed]
    x0, y0, x1, y1 = room
    for m in metal:
        a0, b0, a1, b1 = m.bounds
        if a0 < x0 - 0.01 or b0 < y0 - 0.01 or a1 > x1 + 0.01 or b1 > y1 + 0.01:
            return False
    if len(metal) < 9:
        return all(a.distance(b) >= gap - 0.01 for a, b in combinations(metal, 2))
    tree = STRtree(metal)
    for n, m in enumerate(metal):
        near = tree.query(m, predicate="dwithin", distance=gap - 0.01)
        if any(k != n for k in near):
            return False
    return True


def _on_sheet(
    pieces: Sequence[PlateWanted],
    sheet: SheetCut,
    how: Search,
    seconds: float,
    enough: float,
    tell: Tell = lambda length: None,
) -> tuple[Placed, ...] | None:
    """Pieces on one whole sheet; None where they do not go on it, or nothing that holds is found."""
    long, wide = Offer(sheet.size, 0.0, None).room(how.table)
    found = strip(pieces, wide, how, seconds, enough=min(enough, long), tell=tell)
    if found is None or found.length > long + 1e-6:
        return None
    m = how.table.margin_mm
    return tuple(Placed(p.piece, (p.at[0] + m, p.at[1] + m), p.turned) for p in found.placed)


def _used(placed: Sequence[Placed]) -> float:
    return max((p.metal.bounds[2] for p in placed), default=0.0)


def closer(
    nest: SheetNest,
    shop: Shop,
    turning: str = "quarter turns",
    seconds: float = 10.0,
    *,
    stopped: Stopped = lambda: False,
    tell: Callable[[str | SheetNest], None] = lambda told: None,
) -> SheetNest:
    """The same plates on the same kinds of sheet, closer: on fewer sheets, or leaving a longer rest.

    Args: ``seconds`` for all of it; ``tell`` is told how far it has come, in words, and after each steel what
    is found so far: whoever stops it has that.
    """
    own = [s for s in nest.sheets if not (s.outline or s.begun)]
    groups: dict[tuple[str, str], list[SheetCut]] = {}
    for s in own:
        groups.setdefault((s.stock, s.material), []).append(s)
    out = [s for s in nest.sheets if s not in own]
    end = time.monotonic() + seconds
    left = len(own)
    waiting = list(own)
    for (stock, _), sheets in groups.items():
        share = max((end - time.monotonic()) * len(sheets) / max(left, 1), 0.0)
        left -= len(sheets)
        if stopped() or share < LEAST_S / 2 or all(len(s.placed) < 2 for s in sheets):
            out += sheets
            waiting = [s for s in waiting if s not in sheets]
            continue
        how = Search(shop.table, TURNS[turning], stopped, tell, stock)
        found = _closer(sheets, how, max(share, LEAST_S))
        out += found if rank(found) <= rank(sheets) else sheets
        waiting = [s for s in waiting if s not in sheets]
        tell(_nest(nest, [*out, *waiting]))
    return _nest(nest, out)


def _nest(nest: SheetNest, sheets: Sequence[SheetCut]) -> SheetNest:
    rows = tuple(sorted(sheets, key=lambda s: (s.stock, s.material)))
    return replace(nest, sheets=rows, price=sum(s.price for s in rows))


def _closer(sheets: Sequence[SheetCut], how: Search, seconds: float) -> list[SheetCut]:
    """Sheets of one steel."""
    end = time.monotonic() + seconds
    rows = sorted(sheets, key=lambda s: -sum(p.metal.area for p in s.placed))
    if len(rows) > 1:
        rows = _fewer(rows, how, end - 0.3 * seconds)
    for n, s in enumerate(rows):
        left = (end - time.monotonic()) / (len(rows) - n)
        if how.stopped() or left < LEAST_S / 2 or len(s.placed) < 2:
            continue

        def say(length: float, n: int = n) -> None:
            how.tell(f"{how.stock}: sheet {n + 1} of {len(rows)}, {length:.0f} mm of it used")

        found = _on_sheet([p.piece for p in s.placed], s, how, left, 0.0, say)
        if found is not None and _used(found) < _used(s.placed) - 0.5:
            rows[n] = replace(s, placed=found)
    return rows


def _fewer(rows: list[SheetCut], how: Search, end: float) -> list[SheetCut]:
    """The last sheet's plates on those before it, the largest first, while there is time and hope."""
    while len(rows) > 1 and not how.stopped() and end - time.monotonic() > LEAST_S / 2:
        last = rows[-1]
        spare = sorted((p.piece for p in last.placed), key=lambda p: -p.metal.area)
        area = sum(p.metal.area for s in rows for p in s.placed)
        room = [Offer(s.size, 0.0, None).room(how.table) for s in rows]
        if area > HOPE * sum(a * b for a, b in room[:-1]):
            return rows
        kept = list(rows)
        for n, s in enumerate(rows[:-1]):
            pieces = [p.piece for p in s.placed]
            have = sum(p.metal.area for p in pieces)
            more: list[PlateWanted] = []
            for p in spare:
                if have + p.metal.area <= HOPE * room[n][0] * room[n][1]:
                    more.append(p)
                    have += p.metal.area
            while more and not how.stopped() and (time_left := end - time.monotonic()) > LEAST_S / 2:
                how.tell(f"{how.stock}: {len(more)} more on sheet {n + 1} of {len(rows)}?")
                at_most = min(max(time_left / (2 * len(rows)), LEAST_S), 4.0)
                found = _on_sheet([*pieces, *more], s, how, at_most, 1e9)
                if found is not None:
                    kept[n] = replace(s, placed=found)
                    spare = [p for p in spare if p not in more]
                    break
                more = more[: len(more) * 2 // 3] if len(more) > 1 else []
        if not spare:
            rows = kept[:-1]
            continue
        if all(k is s for k, s in zip(kept[:-1], rows[:-1], strict=True)):
            return rows
        # what is still there stays on the last sheet, where it lay
        stay = tuple(p for p in last.placed if p.piece in spare)
        rows = [*kept[:-1], replace(last, placed=stay)]
    return rows


__all__ = ["Search", "Strip", "closer", "proven", "strip"]
