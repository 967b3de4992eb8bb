"""A squared-up photo puts its picks on the host, on the side it shows."""

import numpy as np
import pytest

from tests.measure.pictures import camera, through
from urial import families
from urial.job.survey import Corner, Photo, Pick
from urial.measure.survey_photo import as_hard_point, picks_on_host, rectangle, squared

HOST = families.new_job("rear-receiver").vehicle
SEEN = camera((140, 90, 850), (110, 50, 0))
HOLES = {"A": (45.0, 30.0, 14.0), "B": (170.0, 80.0, 17.5)}


def photo(face):
    plain = Photo(
        title="side", file="attachments/side.png", face=face, at_behind_mm=300.0, at_height_mm=400.0
    )
    corners = []
    for (u, v), (x, y) in zip(rectangle(plain), through(SEEN, rectangle(plain)), strict=True):
        corners.append(Corner(px=float(x), py=float(y), along_mm=u, up_mm=v))
    picks = []
    for name, (u, v, d) in HOLES.items():
        x, y = through(SEEN, [(u, v)])[0]
        picks.append(Pick(name=name, px=float(x), py=float(y), hole_mm=d, sigma_px=0.3))
    return plain.model_copy(update={"corners": tuple(corners), "picks": tuple(picks), "at_across_mm": 150.0})


@pytest.mark.parametrize(("face", "way"), [("left", 1.0), ("right", -1.0)])
def test_rearward_is_to_the_right_on_the_left_side_and_to_the_left_on_the_right(face, way):
    found = picks_on_host(photo(face), 0.5, HOST)
    assert [f.name for f in found] == ["A", "B"]
    for f, (u, v, d) in zip(found, HOLES.values(), strict=True):
        assert f.place == pytest.approx((-(300.0 + way * u), way * HOST.face("left"), 400.0 + v), abs=1e-3)
        assert f.hole_mm == d and min(f.sigma) > 0


def test_in_a_picture_of_the_rear_the_left_side_is_on_the_left():
    (a, b) = picks_on_host(photo("rear"), 0.5, HOST)
    assert a.place == pytest.approx((-300.0, 150.0 - 45.0, 430.0), abs=1e-3)
    assert b.place[1] < a.place[1]


def test_a_pick_becomes_a_hard_point_to_a_tenth_of_a_millimetre():
    found = picks_on_host(photo("left"), 0.5, HOST)[1]
    point = as_hard_point(found)
    assert (point.behind_mm, point.height_mm, point.hole_mm) == (470.0, 480.0, 17.5)


def test_a_coarser_tape_leaves_the_place_and_widens_what_is_known_of_it():
    fine, coarse = (squared(photo("left"), sigma) for sigma in (0.2, 2.0))
    assert np.allclose(fine.points, coarse.points, atol=1e-9)
    assert (coarse.sigma > 2 * fine.sigma).all()
