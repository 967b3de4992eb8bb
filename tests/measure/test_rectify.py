"""Squaring a picture up, against pictures rendered at known poses."""

import numpy as np
import pytest

from tests.measure.pictures import camera, render, through
from urial.measure import edges
from urial.measure.rectify import PictureError, homography, project, square_up

PLATE = [(0, 0), (200, 0), (200, 100), (0, 100)]
HOLES = [(-120, 60, 16), (-40, 62, 16), (310, 40, 14), (330, 160, 22)]
POSES = [
    ((80, 60, 900), (90, 60, 0)),
    ((-400, 250, 800), (90, 60, 0)),
    ((600, -200, 700), (110, 70, 0)),
    ((100, 700, 700), (100, 60, 0)),
]


@pytest.mark.parametrize("pose", POSES)
def test_a_homography_of_true_points_maps_every_point_truly(pose):
    h = camera(*pose)
    rng = np.random.default_rng(0)
    uv = rng.uniform(-200, 400, (20, 2))
    found = homography(through(h, PLATE), PLATE)
    assert np.allclose(project(found, through(h, uv)), uv, atol=1e-6)
    many = homography(through(h, uv), uv)
    assert np.allclose(many / many[2, 2], found / found[2, 2], rtol=1e-6, atol=1e-9)


@pytest.mark.parametrize("pose", POSES)
@pytest.mark.parametrize("noise", [0.0, 0.03])
def test_holes_are_found_to_a_third_of_a_percent_of_the_span(pose, noise):
    h = camera(*pose)
    grey = render(h, HOLES, (200, 100), noise=noise)
    rough = through(h, PLATE) + np.array([(2, -2), (-2, 1), (1, 2), (-1, -2)])
    corners = [edges.snap_corner(grey, *c) for c in rough]
    back = homography([c[:2] for c in corners], PLATE)
    assert np.abs(np.array([c[:2] for c in corners]) - through(h, PLATE)).max() < 0.6
    rims = []
    for u, v, d in HOLES:
        ((x, y),) = through(h, [(u + 0.15 * d, v - 0.1 * d)])  # clicked a little off
        rims.append(edges.find_hole(grey, back, x, y, 30))
        assert rims[-1].radius == pytest.approx(d / 2, rel=0.04)
    found = square_up([c[:2] for c in corners], PLATE, [(r.px, r.py) for r in rims], 0.2, 0.1)
    span = 0.0
    for i in range(len(HOLES)):
        for j in range(i):
            true = float(np.hypot(HOLES[i][0] - HOLES[j][0], HOLES[i][1] - HOLES[j][1]))
            span = max(span, true)
            assert abs(found.distance(i, j)[0] - true) < 0.003 * 480, (i, j)
    assert span > 450


def test_the_middle_of_a_slanted_hole_is_not_the_middle_of_its_picture():
    h = camera((900, 60, 500), (100, 60, 0))
    grey = render(h, [(100, 300, 120)], (200, 100))
    ((x, y),) = through(h, [(100, 300)])
    rim = edges.find_hole(grey, np.linalg.inv(h), x + 3, y + 2, 90)
    dark = np.argwhere(grey < 0.15)
    blob = dark[(np.abs(dark[:, 1] - x) < 90) & (np.abs(dark[:, 0] - y) < 90)].mean(axis=0)[::-1]
    assert np.hypot(rim.px - x, rim.py - y) < 0.3 < np.hypot(*(blob - [x, y]))
    assert (rim.u, rim.v) == pytest.approx((100, 300), abs=0.4)


def test_the_stated_uncertainty_covers_the_truth_as_often_as_it_says():
    h, rng, inside, runs = camera(*POSES[1]), np.random.default_rng(4), 0, 800
    corners, picks = through(h, PLATE), through(h, [(-120, 60), (310, 40)])
    true = float(np.hypot(430, 20))
    for _ in range(runs):
        found = square_up(
            corners + rng.normal(0, 0.5, corners.shape),
            PLATE,
            picks + rng.normal(0, 0.5, picks.shape),
            0.5,
            0.5,
        )
        size, sigma = found.distance(0, 1)
        inside += abs(size - true) < 1.96 * sigma
    assert 0.93 <= inside / runs <= 0.97


def test_a_pick_far_from_the_known_corners_is_less_sure():
    h = camera(*POSES[0])
    near, far = square_up(through(h, PLATE), PLATE, through(h, [(100, 50), (500, 250)])).sigma.max(axis=1)
    assert far > 3 * near


def test_what_is_known_for_sure_gives_places_for_sure():
    h = camera(*POSES[0])
    picks = through(h, [(100, 50), (500, 250)])
    found = square_up(through(h, PLATE), PLATE, picks, 0.0, 0.0)
    assert not found.covariance.any() and found.distance(0, 1)[0] == pytest.approx(np.hypot(400, 200))


def test_spare_known_points_show_when_one_is_wrong():
    h = camera(*POSES[1])
    mm = [*PLATE, (100, 300), (-100, 200)]
    px = through(h, mm)
    assert square_up(px, mm, px[:1]).misfit_px < 1e-6
    px[4] += 20
    assert square_up(px, mm, px[:1]).misfit_px > 2


@pytest.mark.parametrize(
    ("order", "says"),
    [
        ((0, 2, 1, 3), "cross"),
        ((0, 3, 2, 1), "wrong way round"),
        ((0, 1, 2), "four known points"),
        ((0, 1, 1, 3), "same place"),
    ],
)
def test_corners_that_cannot_be_used_are_refused(order, says):
    px = through(camera(*POSES[0]), PLATE)[list(order)]
    with pytest.raises(PictureError, match=says):
        square_up(px, PLATE[: len(order)], [(0, 0)])


def test_corners_in_one_line_and_picks_beyond_the_horizon_are_refused():
    with pytest.raises(PictureError, match="one line"):
        square_up([(0, 0), (100, 0), (200, 0), (0, 100)], PLATE, [(0, 0)])
    h = camera((100, -600, 150), (100, 60, 0))
    with pytest.raises(PictureError, match="horizon"):
        square_up(through(h, PLATE), PLATE, [(600, -4000)])


def test_a_click_on_a_plain_face_says_that_there_is_no_hole():
    h = camera(*POSES[0])
    grey = render(h, HOLES, (200, 100), sub=1)
    ((x, y),) = through(h, [(100, 280)])
    with pytest.raises(PictureError, match="round"):
        edges.find_hole(grey, np.linalg.inv(h), x, y, 25)
    with pytest.raises(PictureError, match="outside the picture"):
        edges.find_hole(grey, np.linalg.inv(h), -5, 3, 25)
    assert edges.snap_corner(grey, 30, 30)[:2] == (30, 30)


def test_an_edge_snaps_to_its_own_place():
    grey = np.where(np.arange(60) < 30.0, 0.2, 0.8) * np.ones((40, 1))
    x, y = edges.snap_edge(grey, 27, 20)
    assert x == pytest.approx(29.5, abs=0.3) and y == pytest.approx(20, abs=0.01)
