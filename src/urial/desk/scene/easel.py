"""What the drawing of the whole job is painted with, and on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.geometry.place import Vec
from urial.job.model import Job


@dataclass(frozen=True)
class Easel:
    """A painter, where one looks from, and the job that is seen; ``moving``: something is under the hand, so
    quick before smooth; ``named``: with words; ``taken``: where words stand already; ``words``: those that
    :meth:`letter` will put beside them.
    """

    p: QPainter
    camera: Camera
    theme: Theme
    job: Job
    moving: bool = False
    named: bool = True
    taken: list[QRectF] = field(default_factory=list)
    words: list[tuple[QPointF, str, QColor, bool]] = field(default_factory=list)

    @cached_property
    def flat(self) -> Callable[[Vec], tuple[float, float]]:
        """World to pixels, one place after another."""
        return self.camera.flat()

    def spot(self, place: Vec) -> QPointF:
        """Where a place is on the picture."""
        return QPointF(*self.flat(place))

    def tag(self, at: QPointF, text: str, colour: QColor, *, bold: bool = False) -> None:
        """A word about a point, lettered when everything else is painted."""
        self.words.append((at, text, colour, bold))

    def letter(self) -> None:
        """The words, each kept inside the drawing and clear of what stands there already."""
        p, (width, height) = self.p, self.camera.size
        high = self.theme.px(18)
        for at, text, colour, bold in self.words:
            p.setFont(font(self.theme, 12, bold=bold))
            wide = p.fontMetrics().horizontalAdvance(text) + self.theme.px(8)
            box = QRectF(min(max(at.x() - wide / 2, 4), width - wide - 4), at.y() - high / 2, wide, high)
            home = QRectF(box)
            while hit := next((other for other in self.taken if other.intersects(box)), None):
                box.moveTop(hit.bottom() + 1)
            if box.bottom() > height:  # no room below: above instead
                box = home
                while hit := next((other for other in self.taken if other.intersects(box)), None):
                    box.moveBottom(hit.top() - 1)
            self.taken.append(box)
            lettered(p, self.theme, box, text, colour)
        self.words.clear()
