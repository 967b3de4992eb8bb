"""How far what is carried hangs down: what gives by another load case, the play by what fit says of it."""

import re

import pytest

from urial import families
from urial.fit.holes import rattle_words
from urial.job import edit
from urial.prove.verdict import prove
from urial.strength.checks.droop import SHARE, rattle


def droop(v):
    return next(c for c in v.checks if c.kind == "stiffness")


def test_what_gives_under_its_weight_is_a_share_of_what_gives_as_it_drops_off_the_road():
    """Three times its weight, and half as much again on unpaved ground."""
    v = prove(families.new_job("flat-carrier"))
    c = droop(v)
    k = next(n for n, case in enumerate(v.cases) if case.id.endswith("drop"))
    name = next(iter(v.cases[k].loads))
    point, raw = v.points[name], v.forces.raw
    node = raw.node_index[v.forces.net.at_part[point.part][name]]
    arm = [
        a - b
        for a, b in zip(point.at, v.forces.net.nodes[v.forces.net.at_part[point.part][name]], strict=True)
    ]
    u = raw.displacements[k, node]
    down = -(u[2] + u[3] * arm[1] - u[4] * arm[0]) / 4.5
    gives = float(c.working()[0].result.split()[0])
    assert gives == pytest.approx(down, rel=0.03, abs=0.006)
    assert c.demand == pytest.approx(gives + float(c.working()[1].result.split()[0]), abs=0.011)
    assert c.utilisation == pytest.approx(c.demand / c.available) and c.available > 300 / SHARE


def test_the_play_is_that_of_the_bore_at_the_place_of_the_load():
    build = families.build(families.new_job("flat-carrier"))
    (said,) = [w for w in rattle_words(build) if "flat carrier" in w]
    play, engaged = (
        float(re.search(p, said)[1]) for p in (r"has ([\d.]+) mm of play", r"bore, (\d+) mm engaged")
    )
    pin = next(j.place.o for j in build.joints if j.key.startswith("2/") and j.name.endswith("pin"))
    at = (pin[0] - 500.0, pin[1], pin[2] + 200.0)
    assert rattle(build, "2", at) == pytest.approx(play / engaged * 500, rel=0.08)
    assert rattle(build, "1", at) == 0.0


def heavier(job, times):
    duty = job.duties[0]
    items = tuple(i.model_copy(update={"kg": times * i.kg}) for i in duty.items)
    return job.model_copy(update={"duties": (duty.model_copy(update={"items": items}), *job.duties[1:])})


def test_what_gives_goes_with_the_load_and_the_play_does_not():
    job = families.new_job("flat-carrier")
    before, after = droop(prove(job)), droop(prove(heavier(job, 4.0)))
    gives, play = (float(line.result.split()[0]) for line in before.working()[:2])
    # half of what gives is the carrier's own mass, which stays as it is
    assert gives + play < after.demand < 4 * gives + play
    further = droop(prove(heavier(job, 7.0)))
    assert further.demand - after.demand == pytest.approx(after.demand - before.demand, rel=0.02)
    far = droop(prove(heavier(job, 40.0)))
    assert far.short and "house rule" in far.clause


def test_what_is_towed_or_pulled_has_no_limit_of_this_kind():
    for name in ("ball-mount", "winch-cradle"):
        assert not [c for c in prove(families.new_job(name)).checks if c.kind == "stiffness"]


def test_on_a_track_it_hangs_no_lower_than_on_the_road():
    """The swing is half as large again there, the weight it hangs by the same."""
    job = families.new_job("flat-carrier")
    road, track = (
        float(droop(prove(edit.put(job, "duties.0.ground", ground))).working()[0].result.split()[0])
        for ground in ("paved", "unpaved")
    )
    assert track == pytest.approx(road, rel=0.02) and road > 0.2
