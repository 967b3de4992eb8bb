"""What a bench calculator of the drawer is: its questions, its answer in words, its picture."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, cast

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from urial import units
from urial.calc.registry import Answer
from urial.desk.scene.canvas import Canvas
from urial.job.model import Job
from urial.prove.verdict import Verdict
from urial.units import Kind

Values = Mapping[str, Any]


@dataclass(frozen=True)
class Ask:
    """One thing to fill in: a quantity of a kind (core units), or the name of stock on a shelf; what the
    job has for it.
    """

    key: str
    title: str
    kind: Kind | str
    start: float | str
    take: Callable[[Verdict], float | str | None] = lambda _: None

    @property
    def shelf(self) -> str:
        """The shelf, where it is stock."""
        return self.kind.removeprefix("stock:") if self.kind.startswith("stock:") else ""

    @property
    def quantity(self) -> Kind:
        """The kind of quantity; nothing that comes off a shelf has one."""
        return cast("Kind", self.kind)


@dataclass(frozen=True)
class Put:
    """What the answer changes in the job: in words, and the path and value (None: there is nothing to put
    it into).
    """

    words: str
    at: Callable[[Verdict, Values, Answer], tuple[str, object] | None]


@dataclass(frozen=True)
class Tool:
    """A calculator of the registry with a face. ``data`` makes its question, ``say`` puts the answer into
    words, the first line the large one; ``draw`` paints it to scale."""

    name: str
    title: str
    question: str
    asks: tuple[Ask, ...]
    data: Callable[[Values], dict[str, Any]]
    say: Callable[[Answer, Values, Job], tuple[str, ...]]
    draw: Callable[[Canvas, QPainter, Values, Answer], None]
    put: Put | None = None


def shown(value: float, kind: Kind, job: Job) -> str:
    return units.show(value, kind, job.units, job.nearest)


def blue(c: Canvas) -> QColor:
    return QColor(c.theme.palette.touch)


def pen(c: Canvas, role: str, wide: float = 2.0) -> QPen:
    return QPen(QColor(getattr(c.theme.palette, role)), wide)


def room(c: Canvas) -> QRectF:
    px = c.theme.px
    return QRectF(px(34), px(26), c.width() - px(68), c.height() - px(52))
