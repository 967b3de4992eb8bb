"""Calculators: triangulate, rectify."""

from __future__ import annotations

from itertools import combinations
from typing import Annotated

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.measure.rectify import square_up
from urial.measure.triangulate import locate

Point3 = tuple[float, float, float]
Point2 = tuple[float, float]


class TriangulateQuestion(Question):
    """Known places, the tapes from them, how good a tape is, and which way the place lies."""

    points_mm: Annotated[list[Point3], Field(min_length=3)]
    tapes_mm: Annotated[list[Positive], Field(min_length=3)]
    sigma_mm: Positive = 1.0
    points_sigma_mm: NonNegative = 0.0
    towards: Point3 = (0.0, 0.0, 1.0)


@calculator("triangulate", TriangulateQuestion)
def triangulate(q: TriangulateQuestion) -> Answer:
    """The place, its uncertainty, each tape's residual and the tape that does not fit."""
    if len(q.points_mm) != len(q.tapes_mm):
        raise CalcError(
            f"tapes_mm has {len(q.tapes_mm)} lengths for {len(q.points_mm)} points; give one for each."
        )
    if not any(q.towards):
        raise CalcError("towards points nowhere; give a direction such as [0, 0, 1].")
    found = locate(q.points_mm, q.tapes_mm, q.sigma_mm, q.points_sigma_mm, q.towards)
    half, ways = found.ellipsoid
    return {
        "point_mm": found.point.tolist(),
        "other_mm": None if found.other is None else found.other.tolist(),
        "residuals_mm": found.residuals.tolist(),
        "sigma_mm": found.sigma.tolist(),
        "ellipsoid_95": {"half_axes_mm": half.tolist(), "directions": ways.tolist()},
        "agree": not found.disagree,
        "suspect": found.suspect,
    }


class RectifyQuestion(Question):
    """Known points in the picture and on the plane (or a rectangle's size), picks, and how well they were
    picked.
    """

    corners_px: Annotated[list[Point2], Field(min_length=4)]
    corners_mm: list[Point2] | None = None
    width_mm: Positive | None = None
    height_mm: Positive | None = None
    picks_px: list[Point2] = Field(default_factory=list)
    corner_sigma_px: NonNegative = 1.0
    pick_sigma_px: NonNegative = 1.0
    corner_sigma_mm: NonNegative = 0.0


@calculator("rectify", RectifyQuestion)
def rectify(q: RectifyQuestion) -> Answer:
    """The homography from pixels to mm, the picks on the plane, and every distance between them."""
    known = q.corners_mm
    if known is None:
        if q.width_mm is None or q.height_mm is None or len(q.corners_px) != 4:
            raise CalcError(
                "give corners_mm for each corner, or width_mm and height_mm of a rectangle whose four "
                "corners are marked lower left first, counter-clockwise."
            )
        known = [(0.0, 0.0), (q.width_mm, 0.0), (q.width_mm, q.height_mm), (0.0, q.height_mm)]
    if len(known) != len(q.corners_px):
        raise CalcError(
            f"corners_mm has {len(known)} points for {len(q.corners_px)} corners; give one for each."
        )
    found = square_up(q.corners_px, known, q.picks_px, q.corner_sigma_px, q.pick_sigma_px, q.corner_sigma_mm)
    distances = []
    for i, j in combinations(range(len(q.picks_px)), 2):
        size, sigma = found.distance(i, j)
        distances.append({"from": i, "to": j, "mm": size, "sigma_mm": sigma})
    return {
        "homography": found.h.tolist(),
        "points_mm": found.points.tolist(),
        "sigma_mm": found.sigma.tolist(),
        "distances": distances,
        "misfit_px": found.misfit_px,
    }
