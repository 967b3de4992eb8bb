"""A piece's drawing as strokes, rounds and words on a rectangle, in points with y up: paper and screen paint
the same list.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from urial.making.drawings import Drawing, Feature, View
from urial.making.setout import SetOut

MM = 72 / 25.4
SCALES = (1.0, 1 / 2, 1 / 2.5, 1 / 4, 1 / 5, 1 / 7.5, 1 / 10, 1 / 15, 1 / 20, 1 / 25, 1 / 50, 1 / 100)
"""How large a piece may be drawn: the largest that fits."""
LEFT, RIGHT, UNDER, OVER = 58.0, 14.0, 46.0, 24.0
"""Room for figures left of a view, right of it, under it and over it, points."""
APART, FIGURE = 8.6, 7.5
"""Least room between two figures, and their size, points."""
MANY = 14
"""A plate with more corners than this has them in its table alone."""
Tone = Literal["ink", "grey", "blue"]


@dataclass(frozen=True)
class Stroke:
    """A line through points; ``closed``: a figure filled with the paper's colour."""

    points: tuple[tuple[float, float], ...]
    wide: float = 0.7
    tone: Tone = "ink"
    dashed: bool = False
    closed: bool = False


@dataclass(frozen=True)
class Round:
    """A circle."""

    x: float
    y: float
    r: float


@dataclass(frozen=True)
class Words:
    """Text from, about or up to a place; ``turned``: read from the right."""

    x: float
    y: float
    text: str
    anchor: Literal["start", "middle", "end"] = "start"
    turned: bool = False
    bold: bool = False
    tone: Tone = "ink"
    size: float = FIGURE


@dataclass(frozen=True)
class Picture:
    """What is painted, its size in points, and how large it is drawn (1 is true size)."""

    wide: float
    high: float
    scale: float
    strokes: tuple[Stroke, ...] = ()
    rounds: tuple[Round, ...] = ()
    words: tuple[Words, ...] = ()


def picture(
    d: Drawing, room: tuple[float, float], write: Callable[[float], str], exact: bool = True
) -> Picture | None:
    """Every view of a drawing, one under the other, with its figures from the datum.

    Args: ``room``: the width and the greatest height, points; ``write`` writes millimetres; ``exact``: at a
    usual scale, else as large as fits.  None for a piece that has no picture.
    """
    if not d.views:
        return None
    boxes = [_box(v) for v in d.views]
    long = max(b[2] - min(b[0], 0.0) for b in boxes)
    high = sum(b[3] - b[1] for b in boxes)
    spare = room[1] - len(boxes) * (UNDER + OVER)
    most = min((room[0] - LEFT - RIGHT) / long, max(spare, 30.0) / high) / MM
    scale = next((s for s in SCALES if s <= most), most) if exact else most
    k = scale * MM
    total = high * k + len(boxes) * (UNDER + OVER)
    strokes: list[Stroke] = []
    rounds: list[Round] = []
    words: list[Words] = []
    top = total
    for view, box in zip(d.views, boxes, strict=True):
        top -= OVER
        low = top - (box[3] - box[1]) * k
        _view(d, view, (LEFT, low, k), write, (strokes, rounds, words))
        words.append(Words(LEFT, top + 12, view.title, bold=True, size=8))
        top = low - UNDER
    return Picture(_wide(strokes, words), total, scale, tuple(strokes), tuple(rounds), tuple(words))


def _wide(strokes: Sequence[Stroke], words: Sequence[Words]) -> float:
    """How far a picture reaches to the right, its figures too."""
    lines = max(x for s in strokes for x, _ in s.points)
    return max(lines, *(w.x + (0.0 if w.turned else 6.0) for w in words)) + RIGHT


def _box(v: View) -> tuple[float, float, float, float]:
    xs = [x for ring in v.rings for x, _ in ring]
    ys = [y for ring in v.rings for _, y in ring]
    return min(xs), min(ys), max(xs), max(ys)


def _view(
    d: Drawing,
    v: View,
    place: tuple[float, float, float],
    write: Callable[[float], str],
    onto: tuple[list[Stroke], list[Round], list[Words]],
) -> None:
    strokes, rounds, words = onto
    left, low, k = place
    box = _box(v)

    start = min(box[0], 0.0)

    def at(x: float, y: float) -> tuple[float, float]:
        x = box[2] - x + start if v.from_right else x
        y = box[3] - y + box[1] if v.from_top else y
        return left + (x - start) * k, low + (y - box[1]) * k

    for ring in v.rings:
        strokes.append(Stroke(tuple(at(x, y) for x, y in ring), closed=True))
    for x0, y0, x1, y1 in v.lines:
        strokes.append(Stroke((at(x0, y0), at(x1, y1)), 0.5, "grey", dashed=True))
    for x, y, size, name in v.circles:
        cx, cy = at(x, y)
        r = size / 2 * k
        rounds.append(Round(cx, cy, r))
        arm = r + 3
        strokes.append(Stroke(((cx - arm, cy), (cx + arm, cy)), 0.3, "grey"))
        strokes.append(Stroke(((cx, cy - arm), (cx, cy + arm)), 0.3, "grey"))
        words.append(Words(cx + r + 1.5, cy + r + 0.5, name, tone="blue", bold=True))
    corners = [n for n in v.names if n[2][0] == "P"]
    shown = v.names if len(corners) <= MANY else [n for n in v.names if n[2][0] != "P"]
    mx, my = at((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    for x, y, name in shown:  # outside the piece, away from its middle
        px, py = at(x, y)
        right = px >= mx
        words.append(
            Words(
                px + (3 if right else -3),
                py + (2.5 if py >= my else -7),
                name,
                "start" if right else "end",
                tone="blue",
                size=6.5,
            )
        )
    for y, name in zip((low + (box[3] - box[1]) * k - 7, low + 2), v.edges, strict=True):
        words.append(Words(left + (box[2] - start) * k - 3, y, name, "end", tone="grey", size=6.5))
    _along(_stops(d, v), at, low, write, (strokes, words))
    _up(_ups(d, v), at, left, write, (strokes, words))


def _own(d: Drawing, v: View) -> list[Feature]:
    return [f for f in d.features if f.view in (v.letter, "")]


def _stops(d: Drawing, v: View) -> list[float]:
    """Where a tape is read along a view: every hole, both ends of every opening, every bend, where a tilted
    end crosses its edges; corners, where there are few.
    """
    out = [0.0, d.long]
    corners = sum(f.which[0] == "P" for f in d.features)
    for f in _own(d, v):
        if f.along is None or (f.which[0] == "P" and corners > MANY):
            continue
        out.append(f.along)
        sizes = dict(f.sizes)
        if f.which[0] == "W" and d.kind != "plate":
            out.append(f.along + sizes["long"])
        if f.which[0] == "S":
            out.append(f.along + sizes["pitch"] * (sizes["slots"] - 1))
        if f.which[0] == "T":
            out.append(f.along + sizes.get("long", 0.0))
    if d.kind in ("bar", "bent"):
        for e in d.ends:
            out += [x for name, x in e.edges if v.letter in name.split(" ")[0].split("/")]
    return _once(out)


def _once(values: Sequence[float]) -> list[float]:
    out: list[float] = []
    for x in sorted(values):
        if not out or x - out[-1] > 0.049:
            out.append(x)
    return out


def _spread(places: Sequence[float], low: float, high: float) -> list[float]:
    """The same places pushed apart as far as their figures need, within the room there is."""
    out = list(places)
    for n in range(1, len(out)):
        out[n] = max(out[n], out[n - 1] + APART)
    if out and out[-1] > high:
        out[-1] = high
        for n in range(len(out) - 2, -1, -1):
            out[n] = min(out[n], out[n + 1] - APART)
    return [max(x, low + n * APART) for n, x in enumerate(out)]


def _along(
    stops: Sequence[float],
    at: Callable[[float, float], tuple[float, float]],
    low: float,
    write: Callable[[float], str],
    onto: tuple[list[Stroke], list[Words]],
) -> None:
    """Figures under a view, each at its place along it."""
    strokes, words = onto
    rows = sorted((at(x, 0.0)[0], x) for x in stops)
    places = [x for x, _ in rows]
    most = max(places[-1] + APART, places[0] + APART * len(places))
    for (x, value), to in zip(rows, _spread(places, places[0] - APART, most), strict=True):
        strokes.append(Stroke(((x, low - 2), (x, low - 6), (to, low - 11)), 0.35, "grey"))
        words.append(Words(to + 2.6, low - 13, write(value), "end", turned=True))


def _ups(d: Drawing, v: View) -> list[float]:
    """Where a rule is read up a view."""
    box = _box(v)
    values = [box[1], box[3]]
    corners = sum(f.which[0] == "P" for f in d.features)
    for f in _own(d, v):
        if f.up is not None and not (f.which[0] == "P" and corners > MANY):
            values.append(f.up)
            if f.which[0] == "W" and d.kind != "plate":
                values.append(f.up + f.size("wide"))
    return _once(values)


def _up(
    stops: Sequence[float],
    at: Callable[[float, float], tuple[float, float]],
    x: float,
    write: Callable[[float], str],
    onto: tuple[list[Stroke], list[Words]],
) -> None:
    """Figures left of a view, each at its height; ``x``: where the view begins."""
    strokes, words = onto
    rows = sorted((at(0.0, y)[1], y) for y in stops)
    places = [y for y, _ in rows]
    most = max(places[-1] + APART / 2, places[0] + APART * (len(places) - 1))
    for (y, value), to in zip(rows, _spread(places, places[0] - APART, most), strict=True):
        strokes.append(Stroke(((x - 2, y), (x - 6, y), (x - 11, to)), 0.35, "grey"))
        words.append(Words(x - 13, to - 2.6, write(value), "end"))


NEAR = 0.5
"""Pieces of a weldment whose edges lie nearer than this share a figure, mm."""


def laid_out(
    s: SetOut, room: tuple[float, float], write: Callable[[float], str], exact: bool = True
) -> Picture:
    """A weldment from two sides with the places of its pieces, one view under the other."""
    long = max(v.size[0] for v in s.seen)
    high = sum(v.size[1] for v in s.seen)
    spare = room[1] - len(s.seen) * (UNDER + OVER)
    most = min((room[0] - LEFT - RIGHT) / long, max(spare, 30.0) / high) / MM
    scale = next((k for k in SCALES if k <= most), most) if exact else most
    k = scale * MM
    total = high * k + len(s.seen) * (UNDER + OVER)
    strokes: list[Stroke] = []
    words: list[Words] = []
    top = total
    for v in s.seen:
        top -= OVER
        low = top - v.size[1] * k

        def at(x: float, y: float, low: float = low) -> tuple[float, float]:
            return LEFT + x * k, low + y * k

        for rings, edges in v.layers:
            strokes += [Stroke(tuple(at(x, y) for x, y in ring), closed=True) for ring in rings]
            strokes += [Stroke((at(x0, y0), at(x1, y1)), 0.25) for x0, y0, x1, y1 in edges]
        along, up = (_once([round(x / NEAR) * NEAR for x in stops]) for stops in (v.along, v.up))
        near = [_nearest(x, v.along) for x in along], [_nearest(x, v.up) for x in up]
        _along(near[0], at, low, write, (strokes, words))
        _up(near[1], at, LEFT, write, (strokes, words))
        words += _bubbles([(*at(x, y), mark) for x, y, mark in v.marks])
        words.append(Words(LEFT, top + 12, v.title, bold=True, size=8))
        top = low - UNDER
    return Picture(_wide(strokes, words), total, scale, tuple(strokes), (), tuple(words))


def _nearest(value: float, among: Sequence[float]) -> float:
    return min(among, key=lambda x: abs(x - value))


def _bubbles(places: Sequence[tuple[float, float, str]]) -> list[Words]:
    """Marks clear of each other."""
    out: list[Words] = []
    for x, y, mark in places:
        bx, by = x, y
        for n in range(1, 80):
            if all(abs(bx - w.x) > 14 or abs(by - w.y) > 9 for w in out):
                break
            bx, by = x + 3 * n**0.8 * math.cos(2.4 * n), y + 3 * n**0.8 * math.sin(2.4 * n)
        out.append(Words(bx, by, mark, "middle", bold=True, tone="blue", size=8))
    return out


__all__ = ["Picture", "Round", "Stroke", "Words", "laid_out", "picture"]
