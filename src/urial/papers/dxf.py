"""One DXF for each plate: outline, holes, centre and fold lines on named layers, millimetres."""

from __future__ import annotations

import io
from collections.abc import Sequence

from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.filemanagement import new

from urial.geometry.flat import flat, fold_marks
from urial.geometry.outline import bounds
from urial.geometry.shape import Plate

LAYERS = {"OUTLINE": 7, "HOLES": 5, "CENTRE": 8, "FOLD": 3, "TEXT": 8}


def plate_drawing(shape: Plate, label: Sequence[str]) -> Drawing:
    """A plate flat, its lower left corner at the origin; cut layers hold closed curves only."""
    doc = new("R2010", setup=False)
    doc.units = units.MM
    doc.header["$MEASUREMENT"] = 1
    doc.linetypes.add("CENTER", [32.0, 20.0, -4.0, 4.0, -4.0])
    for name, colour in LAYERS.items():
        layer = doc.layers.add(name, color=colour)
        if name in ("CENTRE", "FOLD"):
            layer.dxf.linetype = "CENTER"
    space = doc.modelspace()
    u0, v0, _, _ = bounds(shape.outline)
    for layer_name, rings in (("OUTLINE", (shape.outline,)), ("HOLES", shape.openings)):
        for ring in rings:
            space.add_lwpolyline(
                [(u - u0, v - v0, bulge) for u, v, bulge in ring],
                format="xyb",
                close=True,
                dxfattribs={"layer": layer_name},
            )
    for u, v, d in shape.holes:
        space.add_circle((u - u0, v - v0), d / 2, dxfattribs={"layer": "HOLES"})
        for du, dv in ((0.9 * d, 0.0), (0.0, 0.9 * d)):
            space.add_line(
                (u - u0 - du, v - v0 - dv), (u - u0 + du, v - v0 + dv), dxfattribs={"layer": "CENTRE"}
            )
    for name, lines in (("CENTRE", shape.centre_lines), ("FOLD", flat(shape).bend_lines)):
        for x0, y0, x1, y1 in lines:
            space.add_line((x0 - u0, y0 - v0), (x1 - u0, y1 - v0), dxfattribs={"layer": name})
    folds = [m.words(n, "{:.1f} mm".format) for n, m in enumerate(fold_marks(shape), 1)]
    for n, text in enumerate([*label, *folds]):
        space.add_text(text, height=6, dxfattribs={"layer": "TEXT"}).set_placement((0, -12 - 9 * n))
    return doc


def plate_dxf(shape: Plate, label: Sequence[str]) -> bytes:
    """The drawing as the bytes of a DXF file."""
    out = io.StringIO()
    plate_drawing(shape, label).write(out)
    return out.getvalue().encode()
