"""Minutes of the log feed the shop's own."""

import pytest

from tests.making.test_plan import entry, made
from urial.making.learned import KEYS, MACHINE, bends_learned, factors, learned, with_bends
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


def bent(settings, came, at=0):
    """Both bends of a hoop done at what the machine was set to, and what was read after each."""
    rows = [s for s in RAIL.steps if s.kind == "bend"]
    log = []
    for n, (s, to, angle) in enumerate(zip(rows, settings, came, strict=True)):
        log.append(
            entry(10 * n + at, s.key, figures={**s.figures, MACHINE: to}).model_copy(
                update={"id": f"d{at}{n}"}
            )
        )
        read = entry(10 * n + at + 1, s.key, figures={"angle": angle})
        log.append(read.model_copy(update={"id": f"r{at}{n}", "what": "read"}))
    return log


HOOP = made("front-rail")
RAIL = plan(HOOP)


def test_a_bend_step_says_its_mark_and_what_the_machine_is_set_to():
    first, second = (s for s in RAIL.steps if s.kind == "bend")
    assert first.settings == {"mark": 550.0, "machine": 90.0, "turn": 0.0}
    assert "its mark 550.0 mm from the first end" in first.words and "1435.6 mm" in second.words


def test_a_die_learns_what_it_gives_and_the_next_tube_is_set_by_it():
    """90 on the machine gave 87: the next 90 is set to about 93 (between 87→90 and 89.5→92.7, then held)."""
    found = bends_learned([(RAIL, bent((90.0, 92.7), (87.0, 89.5)), HOOP)])
    assert found == {(48.3, 150.0): ((87.0, 90.0), (89.5, 92.7))}
    shop = with_bends(usual(), found)
    assert not shop.usual and [d.log for d in shop.dies if d.od_mm == 48.3] == [((87.0, 90.0), (89.5, 92.7))]
    again = next(s for s in plan(HOOP, shop=shop).steps if s.kind == "bend")
    assert again.settings["machine"] == pytest.approx(90.0 + 3.2)  # outside the log: its last difference
    # measured again, the newer word counts; what is alike is one line
    more = with_bends(shop, {(48.3, 150.0): ((89.4, 92.9), (89.6, 93.1), (45.0, 46.4))})
    (log,) = [d.log for d in more.dies if d.od_mm == 48.3]
    assert log == ((45.0, 46.4), (87.0, 90.0), (89.5, 93.0))


def test_a_bend_that_was_not_measured_or_taken_back_says_nothing():
    log = bent((90.0, 90.0), (87.0, 87.1))
    assert bends_learned([(RAIL, [e for e in log if e.what == "done"], HOOP)]) == {}
    assert bends_learned([(RAIL, [e for e in log if e.what == "read"], HOOP)]) == {}
    gone = log[0].model_copy(update={"id": "u", "what": "undone", "takes_back": log[0].id, "figures": {}})
    assert bends_learned([(RAIL, [*log, gone], HOOP)]) == {(48.3, 150.0): ((87.1, 90.0),)}
