"""At the bench: what is tacked on the vehicle, what stands, what comes off without tools."""

import pytest

from tests.fit.test_fit import block
from urial import families
from urial.assembly.model import Assembly
from urial.fit import fit
from urial.fit.bench import floor_words, stands, tack_words, tool_findings
from urial.fit.model import Finding

REAR = families.new_job("rear-receiver")


def test_a_block_on_its_foot_stands_and_one_that_leans_out_tips_that_way():
    foot = block("foot", (0, 0, 0), (100, 100, 20))
    assert stands(Assembly((foot,)), "1") == (True, (0.0, 0.0))
    for low, high, way in (
        ((100, 0, 20), (500, 100, 60), (1, 0)),
        ((-400, 0, 20), (0, 100, 60), (-1, 0)),
        ((0, 100, 20), (100, 500, 60), (0, 1)),
    ):
        good, (dx, dy) = stands(Assembly((foot, block("arm", low, high))), "1")
        assert not good and dx * way[0] + dy * way[1] > 0 and abs(dx * way[1] + dy * way[0]) < 1e-6
    # foot 100 × 100 × 20 at 50, arm 400 × 100 × 40 at 300: the balance point by hand
    x = (0.2 * 50 + 1.6 * 300) / 1.8
    assert stands(Assembly((foot, block("arm", (100, 0, 20), (500, 100, 60)))), "1")[1][0] == pytest.approx(
        x - 100
    )


def test_what_is_light_is_held_in_a_hand():
    small = Assembly((block("post", (0, 0, 0), (5, 5, 100)),), titles={"1": "post"})
    assert list(floor_words(small)) == []
    large = Assembly((block("tower", (0, 0, 0), (40, 40, 1000)),), titles={"1": "tower"})
    assert list(floor_words(large)) == [
        "Set down as it hangs, the tower tips rearward: prop it there, or lay it down."
    ]


def test_feet_on_both_rails_are_set_to_each_other_on_the_vehicle():
    before, said = tack_words(families.build(REAR))
    assert "battery's earth off" in before and "control units" in before
    assert "bolt the side plates on hand-tight" in said and "set the cross tube between them" in said
    assert list(tack_words(families.build(families.new_job("hook-plate")))) == []


def test_a_piece_that_is_to_come_off_without_tools_is_pinned_not_bolted():
    job = REAR.model_copy(update={"tool_free": ("1", "2", "9")})
    rows = list(tool_findings(job, families.build(job)))
    (bolted,) = [r for r in rows if isinstance(r, Finding)]
    assert bolted.id == "tools 1" and "rail bolts" in bolted.words and bolted.advice
    assert [r for r in rows if isinstance(r, str)] == ["The ball mount comes off without tools."]
    assert any(f.id == "tools 1" for f in fit(job, moves=False).findings)
