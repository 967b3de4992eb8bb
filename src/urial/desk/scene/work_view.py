"""The part as it is now: steel that is there, steel that is not yet (faint), and what a step is done to."""

from __future__ import annotations

from collections.abc import Collection

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPaintEvent, QPen

from urial.assembly import bodies
from urial.assembly.model import Assembly, View
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme


class WorkView(Canvas):
    """``show``: an assembly seen from a side, the marks that are made, those that a step is about."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "work view")
        self.setAccessibleName("The part as it is now; the pieces of this step are blue")
        self.assembly: Assembly | None = None
        self.view: View = "side"
        self.there: frozenset[str] = frozenset()
        self.about: frozenset[str] = frozenset()

    def show_work(self, assembly: Assembly, there: Collection[str], about: Collection[str]) -> None:
        """Another state of it."""
        self.assembly, self.there, self.about = assembly, frozenset(there), frozenset(about)
        self.view = self._best()
        self.update()

    def _best(self) -> View:
        """The side from which most of what the step is about is seen."""
        assert self.assembly is not None
        wanted = [p for p in self.assembly.parts if p.mark in self.about] or list(self.assembly.parts)
        low = [min(bodies.corners(p)[0][k] for p in wanted) for k in range(3)]
        high = [max(bodies.corners(p)[1][k] for p in wanted) for k in range(3)]
        size = {k: high[k] - low[k] for k in range(3)}
        faces: dict[View, float] = {
            "side": size[0] * size[2],
            "rear": size[1] * size[2],
            "top": size[0] * size[1],
        }
        return max(faces, key=lambda v: faces[v])

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if self.assembly is None or not self.assembly.parts:
            return
        px, pal = self.theme.px, self.theme.palette
        rows = bodies.elevation(self.assembly, self.view)
        points = [xy for d in rows for ring in d.polygons for xy in ring]
        low = (min(q[0] for q in points), -max(q[1] for q in points))
        high = (max(q[0] for q in points), -min(q[1] for q in points))
        self.fit(low, high, QRectF(px(24), px(24), self.width() - px(48), self.height() - px(48)))
        for d in sorted(rows, key=lambda d: (d.mark in self.about, d.mark in self.there, d.depth)):
            chosen, made = d.mark in self.about, d.mark in self.there
            fill = QColor(pal.touch if chosen else pal.steel if made else pal.card)
            line = QColor(pal.ink if chosen or made else pal.quiet)
            style = (
                Qt.PenStyle.SolidLine if chosen or made else Qt.PenStyle.DotLine
            )  # steel that is not there
            p.setPen(QPen(line, 1.4 if chosen else 1.0, style))
            p.setBrush(fill)
            for ring in d.polygons:
                p.drawPolygon(self.polygon([(x, -y) for x, y in ring]))
        p.setBrush(QColor(0, 0, 0, 0))
        names = [d for d in rows if d.mark in self.about][:8]
        for mark in dict.fromkeys(d.mark for d in names):
            ring = max((r for d in names if d.mark == mark for r in d.polygons), key=len)
            x, y = float(ring[:, 0].mean()), float(ring[:, 1].mean())
            self.tag(p, QPointF(self.at(x, -y)), mark, bold=True, mono=True, size=14)


__all__ = ["WorkView"]
