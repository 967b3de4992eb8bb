"""Winch: the chain of rope, hook, strap, ring and mount, each against its working limit; pull by layer;
the danger zone.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QPushButton, QSizePolicy, QWidget

from urial import units
from urial.desk.scene.winch_view import WinchView
from urial.desk.stations.page import Page, tone
from urial.desk.theme import Theme, font
from urial.desk.widgets.fields import label
from urial.desk.widgets.marks import paint_mark
from urial.job.duty import Anchor, Winch
from urial.loads.duties import links_of
from urial.road import winch


class LinkBars(QWidget):
    """Each link with its mark and percent."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.rows: list[tuple[str, float, str]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_rows(self, rows: list[tuple[str, float, str]]) -> None:
        """Name, utilisation and figures of each link."""
        self.rows = rows
        self.setFixedHeight(self.theme.px(34) * max(len(rows), 1))
        self.setAccessibleName("; ".join(f"{n} {100 * u:.0f} percent" for n, u, _ in rows))
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        t, px, pal = self.theme, self.theme.px, self.theme.palette
        for n, (name, used, words) in enumerate(self.rows):
            y = px(34) * n
            paint_mark(p, t, used, QPointF(px(10), y + px(12)), px(14))
            p.setPen(t.tone(used) if used >= 0.7 else QColor(pal.ink))
            p.setFont(font(t, 13, bold=used >= 1, mono=True))
            p.drawText(QPointF(px(24), y + px(17)), f"{100 * used:3.0f} %")
            p.setPen(QColor(pal.ink))
            p.setFont(font(t, 13))
            p.drawText(QPointF(px(80), y + px(17)), name)
            p.setPen(QColor(pal.quiet))
            p.setFont(font(t, 11))
            p.drawText(QPointF(px(80), y + px(30)), words)


class WinchPage(Page):
    """Does the chain hold?"""

    name = "Winch"
    question = "Does every link hold?"

    def fill(self) -> None:
        self.canvas = self.picture = WinchView(self.theme)
        self.picture.angled.connect(self._live)
        self.picture.let_go.connect(self._let_go)
        self.words = label("", "", wrap=True)
        self.column.addWidget(self.words)
        self.bars = LinkBars(self.theme)
        self.column.addWidget(self.bars)
        self.layers = label("", "mono", wrap=True)
        self.column.addWidget(self.layers)
        self.column.addWidget(
            label(
                "Straps and chains are sold by breaking strength; they may carry a third of it unless "
                "marked with a working limit. Never above the working limit; a damper on the line, "
                "nobody within its length.",
                "problem",
                wrap=True,
            )
        )
        self.add = QPushButton("Add an anchor")
        self.add.setObjectName("add anchor")
        self.add.clicked.connect(self._add)
        self.column.addWidget(self.add)
        self.column.addWidget(
            label("Sizes of winch, line and links are on the Duties page.", "quiet", wrap=True)
        )

    def _anchor(self) -> tuple[int, Anchor] | None:
        return next(((n, d) for n, d in enumerate(self.store.job.duties) if isinstance(d, Anchor)), None)

    def refresh(self) -> None:
        found = self._anchor()
        drum = next((d for d in self.store.job.duties if isinstance(d, Winch)), None)
        self.add.setVisible(found is None)
        self.bars.setVisible(found is not None)
        if found is not None:
            self._show(found[1])
        elif drum is not None:
            self.picture.show_pull(drum.rope_out_m, 0.0, 1, self.force(drum.rated_N), "", False)
            self.words.setText(f"The line at {self.force(drum.rated_N)} on the first layer.")
        else:
            self.words.setText("No winch and no anchor yet: add one here or on the Duties page.")
        if drum is not None:
            rows = winch.layers(drum.rated_N, drum.drum_mm, drum.drum_width_mm, drum.rope_mm, drum.rope_m)
            here = winch.layer_at(rows, drum.rope_out_m)
            self.layers.setText(
                "layer  rope      pull\n"
                + "\n".join(
                    f"{'▸' if r is here else ' '} {r.number}    "
                    f"{units.show(r.rope_m, 'distance', self.store.job.units):>7}  "
                    f"{self.force(r.pull_N)}"
                    for r in rows
                )
            )
        self.layers.setVisible(drum is not None)

    def _show(self, anchor: Anchor) -> None:
        rows = [
            (name, load / limit, f"carries {self.force(load)} of {self.force(limit)}")
            for name, load, limit in links_of(anchor)
        ]
        leg = winch.leg_pull(anchor.pull_N, anchor.angle_deg, int(anchor.legs))
        worst = max(rows, key=lambda r: r[1], default=("", 0.0, ""))
        self.bars.show_rows(rows)
        over = worst[1] >= 1
        self.words.setText(
            f"Weakest: {worst[0]}, {100 * worst[1]:.0f} % of its working limit."
            + (" It does not hold: a stronger one, or the legs closer together." if over else "")
            if rows
            else "No links yet."
        )
        tone(self.words, "problem" if over else "")
        self.picture.show_pull(
            anchor.length_m,
            anchor.angle_deg,
            int(anchor.legs),
            self.force(anchor.pull_N),
            f"{self.force(leg)} each" if anchor.legs == "2" else self.force(leg),
            over,
        )

    def _live(self, angle: float) -> None:
        found = self._anchor()
        if found is not None:
            self._show(found[1].model_copy(update={"angle_deg": angle}))

    def _let_go(self, angle: float) -> None:
        found = self._anchor()
        if found is not None:
            self.put(f"duties.{found[0]}.angle_deg", angle, f"legs at {angle:.0f}°")

    def _add(self) -> None:
        self.put("duties", (*self.store.job.duties, Anchor(title="anchor")), "add anchor")
