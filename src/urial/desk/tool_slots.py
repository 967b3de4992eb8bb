"""The bench calculator of bends made of slots: where they are cut, drawn along the tube."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from urial.calc.registry import Answer, CalcError
from urial.desk.scene.canvas import Canvas
from urial.desk.tool import Ask, Tool, Values, pen, room, shown
from urial.geometry.path import Bent
from urial.geometry.shape import Bar
from urial.job.model import Job
from urial.prove.verdict import Verdict
from urial.stock import catalogue


def _bar_of(v: Verdict) -> Bar | None:
    """A square tube of the job that is bent by slots, else any square tube there is."""
    bars = [p.shape for p in v.assembly.parts if isinstance(p.shape, Bar)]
    tubes = [s for s in bars if s.stock.shape == "rect_tube"]
    return next((s for s in tubes if s.slots is not None), tubes[0] if tubes else None)


def _of_bar(what: Callable[[Bar], float | str]) -> Callable[[Verdict], float | str | None]:
    """A figure of that tube, if there is one."""

    def take(v: Verdict) -> float | str | None:
        bar = _bar_of(v)
        return None if bar is None else what(bar)

    return take


def _radius(bar: Bar) -> float:
    """Of its bend; where it has none, two and a half times its height, which most saws can do."""
    return bar.path.radii[0] if isinstance(bar.path, Bent) and bar.path.radii else 2.5 * bar.stock.height


def _left(bar: Bar) -> float:
    """What its slots leave; else its wall and a millimetre."""
    return bar.stock.height - bar.slots.deep if bar.slots else max(bar.stock.wall + 1.0, 4.0)


def _data(q: Values) -> dict[str, Any]:
    tube = catalogue.bar(q["bar"])
    if tube.shape != "rect_tube":
        raise CalcError(f"{tube.title} is no square or rectangular tube; choose one that is.")
    sizes = {} if tube.extra is None else {"outer_radius_mm": tube.extra}
    return {
        "width_mm": tube.width,
        "height_mm": tube.height,
        "wall_mm": tube.wall,
        **sizes,
        **{k: q[k] for k in ("angle_deg", "radius_mm", "slot_mm", "left_mm", "vee_mm")},
    }


def _say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    def size(mm: float) -> str:
        return shown(mm, "length", job)

    share = f"{100 * a['modulus_mm3'] / a['tube_modulus_mm3']:.0f}"
    return (
        f"{a['slots']} slots, every {size(a['pitch_mm'])}",
        f"{size(a['deep_mm'])} deep; the bend takes {size(a['bend_mm'])} along the uncut face, so cut it "
        f"{size(a['longer_mm'])} longer than its middle line. Closed, {size(a['gap_mm'])} stay at the lips.",
        f"{size(a['weld_mm'])} of bead in all, reaching {size(a['throat_mm'])}: {a['throat_by']}. The closed "
        f"bend has {share} % of the tube's modulus.",
    )


def _draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    """The tube from its side, marked out, its slots open."""
    tube = catalogue.bar(q["bar"])
    margin = max(a["pitch_mm"], 30.0)
    long = a["bend_mm"] + 2 * margin
    c.fit((0.0, -tube.height), (long, 0.0), room(c))
    p.setPen(pen(c, "ink", 1.2))
    p.setBrush(QColor(c.theme.palette.steel))
    p.drawRect(QRectF(c.at(0.0, -tube.height), c.at(long, 0.0)))
    p.setBrush(QColor(c.theme.palette.card))
    for n in range(a["slots"]):
        x = margin + (n + 0.5) * a["pitch_mm"]
        low, high = (
            c.at(x - q["slot_mm"] / 2, -tube.height),
            c.at(x + q["slot_mm"] / 2, -tube.height + a["deep_mm"]),
        )
        p.drawRect(QRectF(low, high))
    p.setPen(pen(c, "touch", 1.5))
    for x in (margin, margin + a["bend_mm"]):
        p.drawLine(c.at(x, -tube.height - 0.25 * tube.height), c.at(x, 0.25 * tube.height))
    p.drawText(
        QRectF(c.at(margin, 0.0) + QPointF(0, 4), c.at(margin + a["bend_mm"], 0.0) + QPointF(0, 26)),
        Qt.AlignmentFlag.AlignCenter,
        "the bend",
    )


SLOT_BEND = Tool(
    "slot_bend",
    "Slot bend",
    "How do I bend it without a bender?",
    (
        Ask("bar", "square tube", "stock:bar", "50x50x3", _of_bar(lambda b: b.stock.name)),
        Ask("angle_deg", "bend", "angle", 90.0),
        Ask("radius_mm", "radius, middle line", "length", 120.0, _of_bar(_radius)),
        Ask("slot_mm", "the saw cuts", "length", 3.2),
        Ask("left_mm", "left uncut", "length", 4.0, _of_bar(_left)),
        Ask("vee_mm", "edges to a V", "length", 0.0),
    ),
    _data,
    _say,
    _draw,
)
