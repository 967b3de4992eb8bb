"""The load chain along the bottom: from the load back to the vehicle, each link necking like a test bar as
it nears its limit.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import QPushButton, QToolTip, QWidget

from urial.desk.store import Store
from urial.desk.theme import Theme, font
from urial.desk.widgets.marks import paint_mark
from urial.prove.verdict import LinkState

WORDED = 70
SLIM = 22
"""Width a link needs for its percentage and name, and what it shrinks to without them, in pixels at scale
1.
"""


class LoadChain(QWidget):
    """Paints the chain; a click opens a link's worst check."""

    opened = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName("load chain")
        self.setAccessibleName("Load chain from the load to the host")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setFixedHeight(theme.px(134))
        self.followed = ""  # the loaded socket whose chain is shown; none: all of them
        self.switch = QPushButton(self)
        self.switch.setObjectName("chain switch")
        self.switch.setProperty("segment", True)
        self.switch.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.switch.setToolTip("Follow one loaded place after the other, the worst first")
        self.switch.clicked.connect(self.next_socket)
        self._kept: tuple[object, tuple[LinkState, ...]] = (None, ())
        store.changed.connect(self._changed)
        store.selected.connect(self.update)
        self.switch.hide()
        if store.is_open:
            self._changed()

    def _changed(self) -> None:
        loaded = self.store.verdict.loaded
        if self.followed not in loaded:
            self.followed = ""
        self.switch.setVisible(len(loaded) > 1)
        self.switch.setText(
            f"from {self._called(self.followed)}"
            if self.followed
            else f"from all {len(loaded)} loaded places"
        )
        self._place_switch()
        self.update()

    @staticmethod
    def _called(key: str) -> str:
        """A socket's key as a person says it: 2/chain hole.left → chain hole, left."""
        return key.split("/", 1)[1].replace(".", ", ")

    def next_socket(self) -> None:
        """Follow the next loaded place, the worst first; after the last, all of them."""
        every = ["", *self.store.verdict.loaded]
        self.followed = every[(every.index(self.followed) + 1) % len(every)]
        self._changed()

    def _place_switch(self) -> None:
        self.switch.ensurePolished()  # its size is that of its style, which comes when it is first shown
        self.switch.adjustSize()
        self.switch.move(self.width() - self.switch.width() - self.theme.px(10), self.theme.px(5))

    def showEvent(self, event: QShowEvent) -> None:
        self._place_switch()
        super().showEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place_switch()
        super().resizeEvent(event)

    def _states(self) -> tuple[LinkState, ...]:
        """The links shown, each with its worst check in the cases that load the place followed."""
        v = self.store.verdict
        key = (v, self.followed)
        if self._kept[0] is None or self._kept[0][0] is not v or self._kept[0][1] != self.followed:  # type: ignore[index]
            self._kept = (key, v.chain_from((self.followed,)) if self.followed else v.chain)
        return self._kept[1]

    def _boxes(self) -> list[QRectF]:
        """A box for each link.  Where they do not all fit with their words, those furthest from their
        limit are slim and bare.
        """
        chain = self._states()
        px, left = self.theme.px, self.theme.px(14)
        room, least, slim = self.width() - 2 * left, px(WORDED), px(SLIM)
        shown = self.store.shown_check().link if self.store.verdict.checks else ""
        order = sorted(
            range(len(chain)),
            key=lambda n: (chain[n].link.id == shown, chain[n].worst is not None, chain[n].utilisation),
        )
        bare: set[int] = set()
        for n in order[:-1]:
            if len(bare) * slim + (len(chain) - len(bare)) * least <= room:
                break
            bare.add(n)
        wide = (room - len(bare) * slim) / max(len(chain) - len(bare), 1)
        out, x = [], float(left)
        for n in range(len(chain)):
            step = slim if n in bare else wide
            out.append(QRectF(x, px(34), step - px(3), px(40)))
            x += step
        return out

    def event(self, event: object) -> bool:
        if isinstance(event, QHelpEvent):
            for box, state in zip(self._boxes(), self._states(), strict=True):
                if box.adjusted(0, 0, 0, self.theme.px(60)).contains(QPointF(event.pos())):
                    c = state.worst
                    said = (
                        f"{self.store.said(c.name)}: {100 * c.utilisation:.0f} % in “{c.case}” ({c.clause})"
                        if c
                        else f"{state.link.name}: no rule here gives it a figure, or nothing bears on it"
                    )
                    QToolTip.showText(event.globalPos(), said, self)
                    return True
        return super().event(event)  # type: ignore[arg-type]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for box, state in zip(self._boxes(), self._states(), strict=True):
            if (
                box.left() <= event.position().x() <= box.right()
                and event.position().y() > box.top() - 8
                and state.worst
            ):
                self.opened.emit(state.worst.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step:
            self.walk(step)
        else:
            super().keyPressEvent(event)

    def walk(self, step: int) -> None:
        """Open the next or the previous link."""
        states = [s for s in self._states() if s.worst]
        if not states:
            return
        here = next(
            (n for n, s in enumerate(states) if s.worst and s.link.id == self.store.shown_check().link), 0
        )
        worst = states[(here + step) % len(states)].worst
        assert worst is not None
        self.opened.emit(worst.id)

    def paintEvent(self, _: QPaintEvent) -> None:
        t, v = self.theme, self.store.verdict
        if not v.checks:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        px, pal = t.px, t.palette
        p.setPen(QPen(QColor(pal.touch if self.hasFocus() else pal.line), 1))
        p.setBrush(QColor(pal.card))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), px(3), px(3))
        p.setPen(QColor(pal.ink))
        p.setFont(font(t, 14, bold=True))
        p.drawText(QPointF(px(14), px(24)), "Load chain")
        used = p.fontMetrics().horizontalAdvance("Load chain")
        weak = v.weak_link
        p.setFont(font(t, 12))
        p.setPen(QColor(pal.quiet))
        whose = "the last part that could be built · " if self.store.refusal else ""
        said = (
            f"{whose}from the {self._from()} to the {self._to()} · weak link: "
            f"{self.store.said(weak.name)}, {100 * weak.utilisation:.0f} % in “{weak.case}”"
        )
        ends = self.switch.x() if self.switch.isVisible() else self.width()
        room = ends - px(28) - used - px(8)
        shown = p.fontMetrics().elidedText(said, Qt.TextElideMode.ElideRight, int(room))
        p.drawText(QPointF(px(28) + used, px(24)), shown)
        open_link = self.store.shown_check().link
        if self.store.refusal:  # of the last part that could be built
            p.setOpacity(0.35)
        for box, state in zip(self._boxes(), self._states(), strict=True):
            self._link(
                p,
                box,
                state.link.name,
                state.utilisation,
                state.link.yours,
                state.worst is not None,
                state.link.id == open_link,
            )

    def _from(self) -> str:
        """What the chain begins with: ball, clevis or pintle, or the load."""
        return self.store.job.duty.hitch if self.store.job.duty.towed else "load"

    def _to(self) -> str:
        return self.store.job.vehicle.words

    def _link(
        self, p: QPainter, box: QRectF, name: str, used: float, yours: bool, judged: bool, selected: bool
    ) -> None:
        t = self.theme
        px, pal = t.px, t.palette
        neck = box.height() / 2 * max(0.14, 1 - 0.82 * min(used, 1.05))
        mid, r = box.center().y(), px(4)
        path = QPainterPath(QPointF(box.left() + r, box.top()))
        path.lineTo(box.left() + box.width() * 0.14, box.top())
        path.cubicTo(
            box.left() + box.width() * 0.36,
            box.top(),
            box.left() + box.width() * 0.36,
            mid - neck,
            box.center().x(),
            mid - neck,
        )
        path.cubicTo(
            box.left() + box.width() * 0.64,
            mid - neck,
            box.left() + box.width() * 0.64,
            box.top(),
            box.right() - box.width() * 0.14,
            box.top(),
        )
        path.lineTo(box.right(), box.top())
        path.lineTo(box.right(), box.bottom())
        path.lineTo(box.right() - box.width() * 0.14, box.bottom())
        path.cubicTo(
            box.left() + box.width() * 0.64,
            box.bottom(),
            box.left() + box.width() * 0.64,
            mid + neck,
            box.center().x(),
            mid + neck,
        )
        path.cubicTo(
            box.left() + box.width() * 0.36,
            mid + neck,
            box.left() + box.width() * 0.36,
            box.bottom(),
            box.left() + box.width() * 0.14,
            box.bottom(),
        )
        path.lineTo(box.left(), box.bottom())
        path.lineTo(box.left(), box.top())
        path.closeSubpath()
        fill = QColor.fromRgbF(*t.ramp(used)) if yours else QColor(pal.well)
        p.setBrush(fill)
        p.setPen(
            QPen(
                QColor(pal.touch) if selected else t.tone(used) if used >= 0.7 else QColor(pal.quiet),
                px(2.5) if selected else 1.2,
            )
        )
        p.drawPath(path)
        if box.width() < px(SLIM):
            return
        row = box.bottom() + px(15)
        p.setFont(font(t, 14, bold=used >= 1, mono=True))
        if judged:
            paint_mark(p, t, used, QPointF(box.left() + px(8), row), px(12))
            p.setPen(t.tone(used) if used >= 0.7 else QColor(pal.ink))
            p.drawText(QPointF(box.left() + px(18), row + px(5)), f"{100 * used:.0f} %")
        else:
            p.setPen(QColor(pal.quiet))
            p.drawText(QPointF(box.left() + px(4), row + px(5)), "–")
        p.setPen(QColor(pal.ink if yours and judged else pal.quiet))
        p.setFont(font(t, 12, bold=selected))
        p.drawText(
            QRectF(box.left(), row + px(10), box.width(), px(34)),
            Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap,
            name,
        )
