"""The survey on paper: a blank sheet to fill in under the vehicle, and the survey's pages of the packet."""

from __future__ import annotations

from itertools import groupby

import numpy as np

from urial.assembly.bodies import view_axes
from urial.assembly.model import Assembly, View
from urial.job import datum, edit, origin, speech
from urial.job.host import SIDES
from urial.job.model import Job
from urial.measure import agree, drawing, forgotten, keepout, sides, squaring
from urial.measure.places import fixes
from urial.measure.sheet import OF_A_POINT, Box, boxes
from urial.papers.pdf import BOLD, BRICK, FONT, GREY, INK, MM, PAPERS, WHITE, Elevation, Pages, plain, wrapped

SAFE = (
    "Chock the wheels, stand it on axle stands rated for it, never on a jack alone; battery off before "
    "anything is unplugged."
)


class HostView:
    """A host's drawing in a box of the page, points per mm the same both ways."""

    def __init__(self, job: Job, view: View, x: float, y: float, wide: float, high: float) -> None:
        self.groups = {
            name: lines
            for name, lines in drawing.outline(job.vehicle).items()
            if name not in drawing.hidden_in(view)
        }
        self.axes = [np.array(a, dtype=float) for a in view_axes(view)[:2]]
        every = np.concatenate([self._flat(line) for lines in self.groups.values() for line in lines])
        low, high_ = every.min(axis=0), every.max(axis=0)
        self.scale = float(min(wide / max(high_[0] - low[0], 1), high / max(high_[1] - low[1], 1)))
        self.offset = np.array([x + wide / 2, y + high / 2]) - (low + high_) / 2 * self.scale
        self.view = view

    def _flat(self, points: object) -> np.ndarray:
        p = np.atleast_2d(np.asarray(points, dtype=float))
        return np.stack([p @ self.axes[0], p @ self.axes[1]], axis=1)

    def at(self, point: object) -> tuple[float, float]:
        """A world point on the page."""
        ((x, y),) = self._flat(point) * self.scale + self.offset
        return float(x), float(y)

    def draw(self, pages: Pages) -> None:
        """Lines of the host, the ground under it."""
        c = pages.canvas
        for name, lines in self.groups.items():
            c.setStrokeColor(INK if name in ("holes", "rails") else GREY)
            c.setLineWidth(0.9 if name == "holes" else 0.6 if name == "rails" else 0.45)
            for line in lines:
                p = self._flat(line) * self.scale + self.offset
                path = c.beginPath()
                path.moveTo(float(p[0, 0]), float(p[0, 1]))
                for q in p[1:]:
                    path.lineTo(float(q[0]), float(q[1]))
                c.drawPath(path)
        if self.view != "top":
            _, ground = self.at((0, 0, 0))
            ends = [
                self._flat(line) * self.scale + self.offset
                for lines in self.groups.values()
                for line in lines
            ]
            left, right = min(float(e[:, 0].min()) for e in ends), max(float(e[:, 0].max()) for e in ends)
            c.setStrokeColor(INK)
            c.setLineWidth(0.8)
            c.line(left - 8, ground, right + 8, ground)


def _balloons(pages: Pages, view: HostView, every: list[Box]) -> None:
    """Numbers beside the places, stepping aside from each other; boxes of one hole share a balloon."""
    c = pages.canvas
    taken: list[tuple[float, float, float]] = []
    spots = [
        (at, [b.number for b in group])
        for (at, _), group in groupby(
            (b for b in every if b.at is not None),
            key=lambda b: (b.at, b.group if "hole" in b.group else b.path),
        )
    ]
    for at, numbers in spots:
        text = str(numbers[0]) if len(numbers) == 1 else f"{numbers[0]}–{numbers[-1]}"
        x, y = view.at(at)
        wide = c.stringWidth(plain(text), BOLD, 6.5) + 5
        bx, by = x, y
        for k in range(40):
            angle, reach = 0.9 + k * 0.8, 11 + 1.6 * k
            bx, by = x + reach * float(np.cos(angle)), y + reach * float(np.sin(angle))
            if all(abs(bx - tx) > (wide + tw) / 2 + 1 or abs(by - ty) > 10 for tx, ty, tw in taken):
                break
        taken.append((bx, by, wide))
        c.setStrokeColor(GREY)
        c.setLineWidth(0.4)
        c.line(x, y, bx, by)
        c.setFillColor(WHITE)
        c.setStrokeColor(INK)
        c.roundRect(bx - wide / 2, by - 4.5, wide, 9, 4, stroke=1, fill=1)
        c.setFillColor(INK)
        c.setFont(BOLD, 6.5)
        c.drawCentredString(bx, by - 2.3, plain(text))


def _entry(
    pages: Pages, x: float, wide: float, number: int, title: str, unit: str, box: float = 70.0
) -> None:
    """A numbered line with an empty box to write in."""
    c = pages.canvas
    c.setFillColor(INK)
    c.setFont(BOLD, 8)
    c.drawRightString(x + 15, pages.y - 11, str(number))
    c.setFont(FONT, 8)
    lines = wrapped(title, FONT, 8, wide - box - 26)
    for n, line in enumerate(lines[:2]):
        c.drawString(x + 20, pages.y - (11 if len(lines) == 1 else 7 + 9 * n), line)
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    c.rect(x + wide - box, pages.y - 16, box, 14)
    c.setFillColor(GREY)
    c.setFont(FONT, 6)
    c.drawRightString(x + wide - 3, pages.y - 12, unit)


def survey_pdf(job: Job, paper: str = "A4") -> bytes:
    """The blank sheet for the job's kind of host: its drawing with numbered boxes in the order the tape
    goes.
    """
    host = job.vehicle
    p = Pages(
        f"Survey sheet: {host.name}", SAFE, job.units, job.nearest, PAPERS[paper], names=speech.names(job)
    )
    p.heading(f"Survey sheet: {host.name}", 16)
    unit = "inches" if job.units == "inch" else "mm"
    p.paragraph(
        f"Datum: {datum.called(job)}. All lengths in {unit}; behind = rearward from the datum, across "
        "= from the centre plane, height = above level ground, empty. "
        f"Square to the {squaring.worth(host, job.survey.square_to).name}. Fill the boxes in their "
        "order; type them in later in the same order with the Tab key.",
        9,
    )
    every = list(boxes(job))
    wide = p.width - 2 * p.margin
    side = HostView(job, "side", p.margin + 20, p.y - 190, wide - 40, 170)
    side.draw(p)
    _balloons(p, side, [b for b in every if not b.path.startswith("vehicle.right")])
    rear = HostView(job, "rear", p.margin + 10, p.y - 385, wide * 0.36, 160)
    rear.draw(p)
    _balloons(p, rear, [b for b in every if b.path.startswith(("vehicle.left.0", "vehicle.right.0"))])
    top = HostView(job, "top", p.margin + wide * 0.44, p.y - 385, wide * 0.53, 160)
    top.draw(p)
    _balloons(p, top, [b for b in every if b.path.startswith("vehicle.right")])
    c = p.canvas
    c.setFont(FONT, 7)
    c.setFillColor(GREY)
    for words, x, y in (
        ("side, from the left", p.margin, p.y - 202),
        ("rear", p.margin, p.y - 397),
        ("top", p.margin + wide * 0.44, p.y - 397),
    ):
        c.drawString(x, y, words)
    p.y -= 405
    units_of = {"length": unit, "mass": "lb" if job.units == "inch" else "kg", "angle": "degrees"}
    for group, rows in groupby(every, key=lambda b: b.group):
        listed = list(rows)
        columns, gap, box_wide = (len(OF_A_POINT), 6.0, 44.0) if "hole" in group else (2, 16.0, 70.0)
        column = (wide - gap * (columns - 1)) / columns
        p.need(40)
        p.heading(group, 10)
        for n in range(0, len(listed), columns):
            p.need(22)
            for k, box in enumerate(listed[n : n + columns]):
                _entry(
                    p,
                    p.margin + k * (column + gap),
                    column,
                    box.number,
                    box.title,
                    units_of.get(edit.spec_of(job, box.path).kind, ""),
                    box_wide,
                )
            p.y -= 19
        if "hole" in group:
            p.paragraph(
                "through / thread, size ______   marked ______   reached from:  both   outside   "
                "inside   neither   must still work as ______________",
                7.5,
                GREY,
            )
    p.heading("Check tapes and keep-outs", 10)
    for words in (
        "tape from ______ to ______ reads ____________",
        "tape from ______ to ______ reads ____________",
        "in the way: ____________________________ where, how big, why",
        "in the way: ____________________________ where, how big, why",
    ):
        p.gap(5)
        p.paragraph(words, 9)
    p.paragraph(
        "measured by ________________   date ____________   empty / loaded with ____________", 9, GREY
    )
    return p.finish()


def add_survey(p: Pages, job: Job, assembly: Assembly | None) -> None:
    """The survey's pages: hard points, sides, cross-check, keep-outs drawn, and what is still open."""
    host = job.vehicle
    p.new_page()
    p.heading("Survey")
    ref = squaring.worth(host, job.survey.square_to)
    p.paragraph(
        f"{host.name}. Datum: {datum.called(job)}. Square to the {ref.name}, good to "
        f"{ref.degrees:.2f}°: {p.length(ref.at_rear_mm)} at the rear face ({ref.reason}).",
        9,
    )
    p.gap(4)
    rows = []
    for s in SIDES:
        for n, h in enumerate(host.points(s)):
            path = f"vehicle.{s}.{n}"
            spots = [
                ("≈ " if origin.is_assumed(job, f"{path}.{f}") else "") + edit.shown(job, f"{path}.{f}")
                for f in OF_A_POINT
            ]
            thread = h.thread or "" if h.fixing != "through" else ""
            fixing, reach = (edit.shown(job, f"{path}.{f}") for f in ("fixing", "reach"))
            rows.append(
                [
                    f"{s[0].upper()}{n + 1}",
                    *spots,
                    f"{fixing} {thread}".strip(),
                    reach,
                    h.keeps or ("" if h.bolted else "not used"),
                ]
            )
    p.table(
        ["hole", "behind", "height", "across", "hole", "metal", "fixing", "reached", "must still work"],
        rows,
        [0.5, 1, 1, 0.9, 0.8, 0.7, 0.9, 0.9, 1.4],
        8,
    )
    if any("≈" in cell for row in rows for cell in row):
        p.paragraph("≈ assumed: a starting value that nobody measured.", 8, GREY)
    found = sides.compare(host)
    p.gap(4)
    if found.alike:
        p.paragraph("Left and right mirror each other.", 9)
    else:
        words = "; ".join(
            f"hole {r.number}: {r.behind:+.1f} mm behind, {r.across:+.1f} mm across, "
            f"{r.height:+.1f} mm in height"
            for r in found.rows
        )
        p.paragraph(
            f"Right against left: {words or 'a different number of holes'}. Short slots take "
            f"{found.slot_mm:.0f} mm.",
            9,
        )
    check = agree.cross_check(job)
    p.paragraph(check.words, 9, BRICK if check.wrong else INK)
    for fix in fixes(host, job.survey):
        if fix.located is None:
            p.paragraph(f"Fix {fix.fix.name}: {fix.problem}", 9, GREY if fix.waits else BRICK)
        else:
            x, y, z = (float(v) for v in fix.located.point)
            half, _ = fix.located.ellipsoid
            p.paragraph(
                f"Fix {fix.fix.name}: {p.length(-x)} behind, {p.length(y)} to the left, {p.length(z)} "
                f"high from the origin; within {float(half[0]):.1f} mm at 95 %.",
                9,
            )
    if job.survey.keep_outs:
        p.gap(4)
        p.table(
            ["keep-out", "because", "margin"],
            [[k.name, k.reason, p.length(k.margin_mm)] for k in job.survey.keep_outs],
            [1.4, 4, 0.8],
            8.5,
        )
    p.heading("What people forget", 11)
    for item in forgotten.forgotten(job, assembly):
        mark = {"open": "OPEN  ", "mind": "MIND  ", "good": ""}[item.state]
        p.paragraph(
            f"{mark}{item.question} {item.words}",
            9,
            BRICK if item.state == "mind" else INK,
            BOLD if item.state == "open" else FONT,
        )


def hatch(drawing_: Elevation, pages: Pages, job: Job) -> None:
    """Keep-outs hatched over an elevation, clipped to the drawing's frame."""
    right, up, _ = view_axes(drawing_.view)
    c = pages.canvas
    for keep in job.survey.keep_outs:
        for ring in keepout.outline(keep, job.vehicle, right, up, False):
            pts = drawing_.page(ring)
            c.saveState()
            path = c.beginPath()
            path.moveTo(*(float(v) for v in pts[0]))
            for q in pts[1:]:
                path.lineTo(float(q[0]), float(q[1]))
            path.close()
            c.setStrokeColor(GREY)
            c.setLineWidth(0.5)
            c.setDash(3, 2)
            frame = c.beginPath()
            frame.rect(pages.margin, 26 * MM, pages.width - 2 * pages.margin, pages.height - 60 * MM)
            c.clipPath(frame, stroke=0)
            c.drawPath(path)
            c.clipPath(path, stroke=0)
            c.setDash()
            c.setLineWidth(0.25)
            low, high = pts.min(axis=0), pts.max(axis=0)
            for t in np.arange(float(low[0] - (high[1] - low[1])), float(high[0]), 6.0):
                c.line(float(t), float(low[1]), float(t + high[1] - low[1]), float(high[1]))
            c.restoreState()
