"""One SVG for each plate: outline, openings and holes as closed paths of lines and true arcs, millimetres."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from xml.sax.saxutils import escape

from urial.geometry.outline import Outline, bounds
from urial.geometry.shape import Plate

BORDER = 1.0
"""Left free round the plate, mm, so that no line lies on the rim."""
HAIR = 0.1


def plate_svg(shape: Plate, label: Sequence[str]) -> bytes:
    """A plate flat; its drawing's up is up.  Only what is cut: centre and fold lines are the DXF's."""
    u0, v0, u1, v1 = bounds(shape.outline)
    wide, high = u1 - u0 + 2 * BORDER, v1 - v0 + 2 * BORDER

    def at(u: float, v: float) -> tuple[float, float]:
        return u - u0 + BORDER, v1 - v + BORDER

    rings = [_path(o, at) for o in (shape.outline, *shape.openings)]
    rings += [_path(((u + d / 2, v, 1.0), (u - d / 2, v, 1.0)), at) for u, v, d in shape.holes]
    title = escape("  ".join(label))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm" '
        f'viewBox="0 0 {wide:.4f} {high:.4f}">\n<title>{title}</title>\n'
        f'<g fill="none" stroke="#000000" stroke-width="{HAIR}">\n'
        + "".join(f'<path d="{d}"/>\n' for d in rings)
        + "</g>\n</svg>\n"
    ).encode()


At = Callable[[float, float], tuple[float, float]]


def _path(outline: Outline, at: At) -> str:
    """A ring; an arc that turns left on the drawing turns against the clock on the page."""
    x, y = at(*outline[0][:2])
    out = [f"M{x:.4f} {y:.4f}"]
    for k, (u, v, bulge) in enumerate(outline):
        u2, v2, _ = outline[(k + 1) % len(outline)]
        x, y = at(u2, v2)
        if not bulge:
            out.append(f"L{x:.4f} {y:.4f}")
            continue
        sweep = 4 * math.atan(bulge)
        radius = math.hypot(u2 - u, v2 - v) / (2 * abs(math.sin(sweep / 2)))
        large = int(abs(sweep) > math.pi + 1e-9)
        out.append(f"A{radius:.4f} {radius:.4f} 0 {large} {int(bulge < 0)} {x:.4f} {y:.4f}")
    return " ".join(out) + " Z"


__all__ = ["plate_svg"]
