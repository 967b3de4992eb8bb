"""The shadow of a prism against the hulls and unions of polygon geometry."""

from __future__ import annotations

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from urial.desk.scene.camera import Camera
from urial.job.host import kinds, starting_host
from urial.measure import drawing

NOTCHED = np.array([(0, 0), (8, 0), (8, 6), (5, 6), (5, 2), (3, 2), (3, 6), (0, 6)], dtype=float)


def shadow(near: np.ndarray, far: np.ndarray) -> shapely.Geometry:
    """Both ends and every wall between them."""
    walls = [Polygon([near[k - 1], near[k], far[k], far[k - 1]]).buffer(0) for k in range(len(near))]
    return unary_union([Polygon(near).buffer(0), Polygon(far).buffer(0), *walls])


def covered(polygons: list[np.ndarray]) -> shapely.Geometry:
    """The polygons together, as they are filled: whatever winds about a point."""
    return unary_union([Polygon(p).buffer(0) for p in polygons if abs(drawing.turned(p)) > 1e-9])


@given(
    st.floats(-9, 9), st.floats(-9, 9), st.booleans(), st.floats(0, 6.3), st.sampled_from([1.0, 0.3, -0.7])
)
def test_a_notched_prism_shades_what_its_ends_and_walls_shade(dx, dy, turn, angle, flat):
    ring = NOTCHED[::-1] if turn else NOTCHED
    c, s = np.cos(angle), np.sin(angle)
    near = (ring * [1, flat]) @ np.array([[c, s], [-s, c]])
    far = near + np.array([dx, dy])
    assert covered(drawing.swept(near, far)).symmetric_difference(shadow(near, far)).area < 1e-6


def test_an_end_seen_edge_on_still_shades():
    near = np.array([(0, 0), (8, 0), (8, 0), (0, 0)], dtype=float)
    assert abs(covered(drawing.swept(near, near + np.array([0, 5]))).area - 40) < 1e-9
    assert abs(covered(drawing.swept(near, near + np.array([3, 5]))).area - 40) < 1e-9


def test_every_host_in_every_view_shades_what_its_faces_do():
    for kind in kinds():
        for camera in (Camera("side"), Camera("rear"), Camera("top"), Camera("turned", 35.0, 24.0)):
            for patch in drawing.silhouette(starting_host(kind)):
                if patch.swept:
                    near, far = (camera.project(face) for face in patch.faces)
                    want = shadow(near, far)
                    got = covered(drawing.swept(near, far))
                    assert got.symmetric_difference(want).area <= 1e-6 * want.area + 1e-3
