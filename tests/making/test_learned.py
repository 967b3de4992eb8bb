"""Minutes of the log feed the shop's own."""

import pytest

from tests.making.test_plan import entry, made
from urial.making.learned import KEYS, factors, learned
from urial.making.plan import plan
from urial.shop.snapshot import usual

STEPS = plan(made("rear-receiver"))


def timed(kind, times, many=None):
    rows = [s for s in STEPS.steps if s.kind == kind][:many]
    return [
        entry(n, s.key, minutes=times * s.minutes / s.count).model_copy(update={"id": f"{kind}{n}"})
        for n, s in enumerate(rows)
    ]


def test_who_takes_half_as_long_again_is_planned_so_from_then_on():
    found = factors([(STEPS, [*timed("run", 1.5), *timed("saw", 0.8)])])
    assert found == pytest.approx({"run": 1.5, "saw": 0.8})
    shop = usual().model_copy(update={"minutes": learned(usual().minutes, found)})
    again = plan(made("rear-receiver"), shop=shop).by_key
    for s in STEPS.steps:
        times = found.get(s.kind, 1.0)
        assert again[s.key].minutes == pytest.approx(times * s.minutes, rel=1e-3), s.key


def test_too_few_pieces_and_a_clock_left_running_say_nothing():
    assert factors([(STEPS, timed("run", 1.5, many=2))]) == {}
    assert factors([(STEPS, timed("run", 40.0))]) == {}
    assert factors([(STEPS, timed("run", 0.01))]) == {}


def test_every_figure_that_is_learned_is_one_of_the_shops():
    assert {k for keys in KEYS.values() for k in keys} <= set(usual().minutes)
