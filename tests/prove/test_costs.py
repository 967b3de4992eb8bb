"""What a change costs is said before it is made, and what the customer gave is no change of ours."""

import math

import pytest

from urial import families
from urial.job import edit
from urial.job.survey import Block
from urial.prove.costs import OFTEN, cost, no_change_helps
from urial.prove.remedies import ASKED, candidates, remedies
from urial.prove.verdict import prove
from urial.stock import catalogue


@pytest.fixture(scope="module")
def mount():
    return families.new_job("ball-mount")


def test_a_longer_lever_says_what_it_breaks_and_that_it_sticks_out(mount):
    now = prove(mount)
    at = float(edit.get(mount, "stack.2.pin_to_ball_mm"))
    then = prove(edit.put(mount, "stack.2.pin_to_ball_mm", at + 400.0))
    price = cost(now, then)
    assert now.holds and not then.holds and price.breaks
    first = next(c for c in then.checks if c.short)
    assert price.worse[0].startswith(f"breaks {first.name} {100 * first.utilisation:.0f} %")
    assert "sticks out 400 mm further" in price.worse
    back = cost(then, now)
    assert not back.breaks and back.kg == pytest.approx(-price.kg) and back.kg < 0


def test_a_front_hitch_sticks_out_forward():
    """Its mouth 40 mm further ahead."""
    job = families.new_job("front-receiver")
    longer = edit.put(job, "stack.1.ahead_mm", float(edit.get(job, "stack.1.ahead_mm")) + 40.0)
    assert "sticks out 40 mm further" in cost(prove(job), prove(longer)).worse
    assert not [w for w in cost(prove(longer), prove(job)).worse if "sticks out" in w]


def test_what_comes_too_near_something_is_said(mount):
    ball = min(p.place.o[0] for p in prove(mount).assembly.parts)
    crate = Block(
        name="crate",
        behind_mm=-ball + 150.0,
        long_mm=100,
        wide_mm=400,
        height_mm=100,
        high_mm=900,
        margin_mm=5,
    )
    job = mount.model_copy(update={"survey": mount.survey.model_copy(update={"keep_outs": (crate,)})})
    longer = edit.put(job, "stack.2.pin_to_ball_mm", float(edit.get(job, "stack.2.pin_to_ball_mm")) + 120.0)
    said = cost(prove(job), prove(longer)).worse
    assert "comes too near the crate" in said
    assert "comes too near the crate" not in cost(prove(longer), prove(longer)).worse


def test_no_mend_alters_what_the_customer_gave(mount):
    """A trailer over the ball's stamp: the ball may get a better stamp, not another size; how much less the
    trailer would have to weigh stands apart.
    """
    ball = catalogue.ball(edit.get(mount, "stack.2.ball"))
    job = edit.put(mount, "duty.trailer_mass_kg", 1.2 * ball.rated_kg)
    check = next(c for c in prove(job).checks if c.id.endswith("ball rating"))
    assert check.short
    found = remedies(job, check)
    assert not [r for r in found.found if r.path in ASKED] and [r for r in found.less if r.path in ASKED]
    assert not found.nearest or found.nearest.path not in ASKED
    for name in candidates(job, "stack.2.ball"):
        assert catalogue.ball(name).ball == ball.ball and catalogue.ball(name).rated_kg > ball.rated_kg


def test_where_nothing_helps_the_nearest_is_named_and_what_shops_do(mount):
    v = prove(mount)
    weld = next(c for c in v.checks if c.kind == "weld")
    said = no_change_helps(weld, "leg 8 mm", 0.9 * weld.utilisation)
    assert "leg 8 mm" in said and f"{90 * weld.utilisation:.0f} %" in said and OFTEN["weld"] in said
    assert "No single size" in no_change_helps(weld, "", math.inf)
    rating = next(c for c in v.checks if c.kind == "rating")
    assert "stamped" in no_change_helps(rating, "", math.inf) and "tube" not in no_change_helps(rating, "", 1)
