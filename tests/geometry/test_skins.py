"""Bars as one skin, their first rough picture, and bolts turned for a picture, against the solids."""

from __future__ import annotations

import math

import numpy as np
import pytest

from urial.geometry import path as paths
from urial.geometry import skins, solids
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place
from urial.geometry.shape import Bar, Capped, Cope, Flattened, Mitre, Slant, Slugged, Turned
from urial.stock import catalogue

TUBE = catalogue.bar("33.7 od x 4")
BOX = catalogue.bar("40x40x3")
BENT = Bent(((0.0, 0.0, 0.0), (300.0, 0.0, 0.0), (500.0, 120.0, 90.0), (800.0, 120.0, 90.0)), (90.0, 90.0))


def volume(points: np.ndarray, faces: np.ndarray) -> float:
    a, b, c = (points[faces[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def is_closed(faces: np.ndarray) -> bool:
    """Every edge is passed once each way."""
    ways = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    there = {tuple(e) for e in ways.tolist()}
    return len(there) == len(ways) and all((b, a) in there for a, b in there)


@pytest.mark.parametrize("stock", [TUBE, BOX], ids=["round", "square"])
@pytest.mark.parametrize(
    ("end_i", "end_j"),
    [
        (Slant((-1.0, 0.4, 0.0)), Slant((1.0, 0.0, 0.3))),
        (Mitre(math.radians(30), True), Slugged(40.0)),
        (Slugged(50.0), Slugged(40.0)),
    ],
    ids=["slanted", "mitre and slug", "slugs"],
)
def test_a_skin_is_closed_outward_and_holds_the_metal_of_the_solid(stock, end_i, end_j):
    bar = Bar(stock, BENT, end_i=end_i, end_j=end_j)
    points, faces = skins.skin(bar)
    assert is_closed(faces)
    assert volume(points, faces) == pytest.approx(solids.volume(bar), rel=1e-4)


def test_a_straight_tubes_skin_is_its_section_times_its_length():
    bar = Bar(BOX, Line((0.0, 0.0, 0.0), (0.0, 0.0, 250.0)), up=(1.0, 0.0, 0.0))
    points, faces = skins.skin(bar)
    assert is_closed(faces)
    assert volume(points, faces) == pytest.approx(
        250.0 * solids.volume(Bar(BOX, Line((0.0, 0.0, 0.0), (0.0, 0.0, 1.0)), up=(1.0, 0.0, 0.0))), rel=1e-6
    )


@pytest.mark.parametrize("stock", [TUBE, BOX], ids=["round", "square"])
def test_a_bent_skin_holds_section_times_centre_line(stock):
    """Pappus: a section that is symmetrical about its axis sweeps its area times the way of its middle."""
    points, faces = skins.skin(Bar(stock, BENT))
    one = volume(*skins.skin(Bar(stock, Line((0.0, 0.0, 0.0), (2.0, 0.0, 0.0))))) / 2
    assert volume(points, faces) == pytest.approx(one * paths.length(BENT), rel=2e-3)


def test_an_end_that_no_ring_can_follow_has_no_skin():
    for end in (Flattened(60.0), Cope(20.0, (800.0, 120.0, 90.0), (0.0, 0.0, 1.0))):
        assert skins.skin(Bar(TUBE, BENT, end_j=end)) is None


def test_the_rough_picture_lies_within_a_few_millimetres_of_the_true_one():
    """What is seen first may be coarse, and must not be somewhere else."""
    coped = Cope(20.0, (800.0, 120.0, 90.0), (0.0, 0.0, 1.0))
    bar = Bar(TUBE, BENT, end_j=coped)
    rough, faces = skins.rough(bar)
    true, _ = solids.triangles(bar)
    assert is_closed(faces)
    for k in range(3):
        assert abs(rough[:, k].min() - true[:, k].min()) < 4.0
        assert (
            abs(rough[:, k].max() - true[:, k].max()) < 20.0 + 1.0
        )  # the square end reaches the other's axis
    assert volume(rough, faces) == pytest.approx(solids.volume(bar), rel=0.05)


def test_a_capped_end_is_shut_in_the_rough_picture():
    bar = Bar(BOX, Line((0.0, 0.0, 0.0), (0.0, 0.0, 250.0)), up=(1.0, 0.0, 0.0), end_j=Capped(3.0))
    points, faces = skins.rough(bar)
    assert is_closed(faces) and solids.is_slow(bar)
    true, _ = solids.triangles(bar)
    assert abs(points[:, 2].max() - true[:, 2].max()) <= 3.01
    at_the_end = points[faces][(points[faces][:, :, 2] > 249.9).all(axis=1)]
    a, b, c = (at_the_end[:, k] for k in range(3))
    shut = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)
    assert shut > 0.95 * 40 * 40 - 4 * 40  # the whole square but its rounded corners


def test_rough_takes_fewer_rings_than_the_solid():
    bar = Bar(TUBE, BENT)
    assert len(skins.rough(bar)[0]) < 0.6 * len(skins.skin(bar)[0])


@pytest.mark.parametrize(
    "steps",
    [((9.0, 21.0, 6), (60.0, 14.0, 0)), ((2.5, 28.0, 0),), ((14.0, 21.0, 6),)],
    ids=["bolt", "washer", "nut"],
)
def test_a_bolt_turned_for_a_picture_is_closed_and_nearly_its_own_size(steps):
    points, faces = skins.lathe(steps)
    assert is_closed(faces)
    whole = solids.volume(Turned(Place(), steps))
    assert volume(points, faces) == pytest.approx(whole, rel=0.012)
    assert points[:, 2].min() == 0 and points[:, 2].max() == sum(s[0] for s in steps)


def test_what_was_made_once_is_not_slow_any_more():
    bar = Bar(TUBE, Bent(((0.0, 0.0, 0.0), (311.0, 0.0, 0.0), (500.0, 77.0, 0.0)), (90.0,)))
    assert solids.is_slow(bar)
    solids.triangles(bar)
    assert not solids.is_slow(bar)
    assert not solids.is_slow(Bar(BOX, Line((0.0, 0.0, 0.0), (100.0, 0.0, 0.0))))
