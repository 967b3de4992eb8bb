"""Finish: which coats with how much paint, what stays bare, what must be seen to before it is sent out."""

from __future__ import annotations

from urial.making import coats
from urial.making.finish import finished
from urial.papers.pdf import GREY, Pages
from urial.papers.section import Shown, section


def _hours(table: tuple[tuple[float, float], ...]) -> str:
    return ", ".join(f"{h:.3g} h at {t:.0f} °C" for t, h in table)


@section("finish", 94)
def finish(p: Pages, s: Shown) -> None:
    """The coat plan: litres, hours by the steel's temperature, masks; nothing of a survey."""
    wishes = s.verdict.job.making.finish
    found = finished(s.verdict.assembly, wishes)
    if not found.area.parts or wishes.scheme == "bare":
        return
    scheme, sets = found.scheme, int(s.verdict.job.making.sets)
    p.heading("Finish", 11)
    colour = f" Colour: {wishes.colour}." if wishes.colour else ""
    area = f"{sets * found.area.mm2 * 1e-6:.2f} m²"
    p.paragraph(f"{scheme.title[0].upper()}{scheme.title[1:]}, {area}. {scheme.words}{colour}", 9)
    for n, (name, litre) in enumerate(zip(scheme.coats, found.area.litres, strict=True), 1):
        paint = coats.book().products[name]
        late = f"; at the latest after {_hours(paint.latest_h)}" if paint.latest_h else "; at any time"
        nxt = f"The next after {_hours(paint.next_h)}{late}. " if n < len(scheme.coats) else ""
        p.paragraph(
            f"{n}. {paint.title}, {sets * litre:.2f} l mixed, steel {paint.low_C:.0f} to {paint.high_C:.0f} "
            f"°C. {nxt}Hard after {_hours(paint.hard_h)}. {paint.hazard}",
            8.5,
        )
    if scheme.coats:
        rules = coats.book().rules
        p.paragraph(
            f"The steel at least {rules.dew_K:.0f} K over the dew point, humidity at most "
            f"{rules.humidity_percent:.0f} %. Films and hours of usual products: what stands on the tin "
            "counts.",
            8,
            GREY,
        )
    for words in (*found.sent, *found.words):
        p.paragraph(words, 9)
    if found.masked:
        p.paragraph("Stays bare:", 9)
        for m in found.masked:
            p.paragraph(f"{m.mark}  {m.what}: {m.why}.", 8)


__all__ = ["finish"]
