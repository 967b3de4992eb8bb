"""A bumper beam as its maker might have drawn it: in its own axes, y up, zero in the middle of the beam's
face.  Made up, and put behind the demo job of the front receiver by its bolt holes.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from manifold3d import Manifold

from urial.geometry.place import Vec
from urial.job.host import Host
from urial.job.survey import BodyBehind, Meet
from urial.measure import backdrop, foreign
from urial.measure.places import hard_points

FACE = 3765.0  # the beam's foremost point, ahead of the host's origin
HEIGHT = 400.0


def _box(low: Vec, high: Vec) -> Manifold:
    size = np.subtract(high, low)
    return Manifold.cube(size.tolist()).translate(list(low))


def _beam(inner: float) -> Manifold:
    """A bowed box, or the room in it."""
    across = np.linspace(-730.0, 730.0, 23)
    slices = [
        _box(
            (FACE - 75 - 130 * (y / 730) ** 2 + inner, y, HEIGHT - 65 + inner),
            (FACE - 130 * (y / 730) ** 2 - inner, y + 1.0, HEIGHT + 65 - inner),
        )
        for y in across.tolist()
    ]
    out = Manifold()
    for one, other in pairwise(slices):
        out += Manifold.batch_hull([one, other])
    return out


def model(host: Host) -> Manifold:
    """The beam with its two brackets, host axes, mm: plates outside the rails with a hole at each of the
    last two places.
    """
    out = _beam(0.0) - _beam(4.0)
    for k in range(-3, 4):  # openings for air in its face
        out -= _box((FACE - 60, 120 * k - 35, HEIGHT - 20), (FACE + 10, 120 * k + 35, HEIGHT + 20))
    for side in (1.0, -1.0):
        face = side * host.face("left")
        near, far = sorted((face, face + side * 6.0))
        out += _box((3390, near, 325), (3660, far, 425))
        tube = sorted((face, face + side * 70.0))
        out += _box((3652, tube[0], 330), (3712, tube[1], 420))
        for n in (-2, -1):
            x, _, z = host.place("left", n % len(host.left))
            hole = Manifold.cylinder(40, 6.75, 6.75, 32, True).rotate([90, 0, 0]).translate([x, face, z])
            out -= hole
    return out


def stands_behind(host: Host) -> tuple[BodyBehind, bytes]:
    """The body in its own axes, and where its holes put it."""
    mesh = model(host).translate([-FACE, 0, -HEIGHT]).to_mesh()
    points = np.asarray(mesh.vert_properties, dtype=float)[:, :3]
    own = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1)
    points, faces, _ = foreign.drawn_together(own, np.asarray(mesh.tri_verts, dtype=np.int64), 10**6)
    data = foreign.stl(points, faces)
    shape, known = backdrop.load(data, "x.stl"), hard_points(host)
    first = BodyBehind(title="bumper beam", file=foreign.name_of(data, ".stl"), lies="y", behind_mm=-FACE)
    first = first.model_copy(update={"height_mm": HEIGHT})
    meets = []
    for name in sorted(known)[-2:] + sorted(k for k in known if k.startswith("L"))[-2:]:
        rim = min(
            shape.rims,
            key=lambda r: float(
                np.linalg.norm(backdrop.spot_on_host(first, tuple(r.middle)) - np.array(known[name]))
            ),
        )
        x, y, z = (round(float(v), 3) for v in rim.middle)
        meets.append(Meet(x=x, y=y, z=z, to=name))
    return backdrop.set_by_places(first.model_copy(update={"meets": tuple(meets)}), known), data
