"""What must hold of the load cases of every family: both sides alike, weight as gravity has it, and one
sentence of reason for each.
"""

from __future__ import annotations

import numpy as np
import pytest

from urial import families
from urial.job import edit
from urial.loads import standing, towing
from urial.loads.case import Case
from urial.prove.verdict import prove

NAMES = sorted(families.families())
G = 9.80665


@pytest.fixture(scope="module", params=NAMES)
def proved(request):
    return prove(families.new_job(request.param))


def forces(verdict, case) -> np.ndarray:
    """Every force of a case (n, 3), N."""
    return np.array([force[:3] for _, force in verdict.places(case)], dtype=float)


def test_every_case_has_a_name_of_its_own_a_reason_and_a_source(proved):
    ids = [c.id for c in proved.cases]
    assert len(ids) == len(set(ids)) >= 1
    for case in proved.cases:
        assert case.title and case.reason.endswith(".") and case.source, case.id


def test_a_case_to_the_left_has_a_twin_to_the_right(proved):
    """What can come from one side comes from the other: y turned about, all else alike."""
    by_title = {c.title: c for c in proved.cases}
    pairs = [(t, t.replace("left", "right")) for t in by_title if "left" in t and "right" not in t]
    for left, right in pairs:
        assert right in by_title, left
        a, b = (np.sort(np.abs(forces(proved, by_title[t])), axis=0) for t in (left, right))
        assert a == pytest.approx(b, rel=1e-4, abs=1e-3), left


def test_no_case_is_empty_and_none_runs_away(proved):
    for case in (c for c in proved.cases if c.id != "tightened"):
        size = np.abs(forces(proved, case)).max()
        assert 1.0 < size < 1e6, case.id


@pytest.mark.parametrize("times", [0.5, 1.3])
def test_a_trailers_forces_grow_with_its_mass(job, times):
    """Braking, pulling and chains by the masses; the tongue's own share by the tongue."""
    heavy = edit.put(job, "duty.trailer_mass_kg", job.duty.trailer_mass_kg * times)
    heavy = edit.put(heavy, "duty.tongue_mass_kg", job.duty.tongue_mass_kg * times)
    light, more = prove(job), prove(heavy)
    for a, b in zip(light.cases, more.cases, strict=True):
        assert a.id == b.id
        if "chain" in a.id:
            assert np.abs(forces(more, b)).max() == pytest.approx(
                times * np.abs(forces(light, a)).max(), rel=0.02
            ), a.id
        else:
            grown = np.abs(forces(more, b)).max() / np.abs(forces(light, a)).max()
            assert (times < 1 and times * 0.95 <= grown <= 1) or (times > 1 and 1 <= grown <= times * 1.05)


def test_standing_still_the_ball_carries_the_tongue(job):
    verdict = prove(job)
    steady = next(c for c in verdict.cases if "steady" in c.title)
    down = -forces(verdict, steady)[:, 2].sum()
    assert down == pytest.approx(job.duty.tongue_mass_kg * G, rel=1e-3)


@pytest.mark.parametrize("name", ["coupler_height_mm", "axle_behind_mm", "middle_height_mm"])
def test_braking_throws_weight_on_the_ball_by_lever_and_nothing_else_minds(job, name):
    """Only what the pitch is made of changes the pitching case; a steady pull does not know of it."""
    other = edit.put(job, f"duty.{name}", getattr(job.duty, name) * 1.1)
    a, b = prove(job), prove(other)
    cases = {c.title: (c, d) for c, d in zip(a.cases, b.cases, strict=True)}
    steady = cases["steady pull"]
    assert forces(a, steady[0]) == pytest.approx(forces(b, steady[1]))
    pitch = next(v for t, v in cases.items() if "nose down" in t)
    assert not np.allclose(forces(a, pitch[0]), forces(b, pitch[1]), rtol=1e-6)


def test_the_couplings_worth_does_not_mind_units_or_names(job):
    inch = job.model_copy(update={"units": "inch", "title": "another", "customer": "somebody"})
    one, two = towing.coupling(job), towing.coupling(inch)
    assert one == two


def heavier(job):
    """Paths of what is carried or pulled, each with a tenth more."""
    if job.duty.towed:
        yield "duty.trailer_mass_kg", job.duty.trailer_mass_kg * 1.1
    for n, duty in enumerate(job.duties):
        for field in ("pull_N", "rated_N", "draft_N", "payload_kg", "kg", "stuck_kg"):
            if getattr(duty, field, None):
                yield f"duties.{n}.{field}", getattr(duty, field) * 1.1
        for k, item in enumerate(getattr(duty, "items", ())):
            yield f"duties.{n}.items.{k}.kg", item.kg * 1.1


@pytest.mark.parametrize("name", NAMES)
def test_more_of_a_duty_is_never_less_used(name):
    """Its duty a tenth heavier: the steel as a whole is used more, and no link less by more than what one
    direction of several can take from another.
    """
    job = families.new_job(name)
    found = list(heavier(job))
    assert found
    for path, value in found:
        a, b = prove(job), prove(edit.put(job, path, value))
        before = {c.id: c.utilisation for c in a.checks if c.kind != "rating"}
        after = {c.id: c.utilisation for c in b.checks if c.kind != "rating"}
        assert max(after.values()) >= max(before.values()) - 1e-6, path
        assert sum(after.values()) > sum(before[k] for k in after if k in before) - 0.05, path
        for k, used in after.items():
            if k in before:
                assert used >= before[k] - 0.03, (path, k)


def test_of_what_pushes_sideways_only_the_share_that_counts_is_in_the_case_and_on_its_arrows():
    """A quarter of 400 N across is 100 N, and of its moment as well; what stands along and down stays."""
    at = (0.0, 0.0, 500.0)
    straight = Case("a", "a", {"deck": (50.0, 0.0, -900.0, 0.0, 0.0, 0.0)}, "Brakes.", "trial")
    leaning = Case(
        "a",
        "a",
        {"deck": (50.0, 400.0, -900.0, -80_000.0, 0.0, 0.0)},
        "Brakes in a bend.",
        "trial",
        pulls=((at, (50.0, 400.0, -900.0)),),
    )
    case = standing._between(straight, leaning, 0.25, "the trailer slides")
    assert case.loads["deck"] == pytest.approx((50.0, 100.0, -900.0, -20_000.0, 0.0, 0.0))
    assert case.pulls == ((at, (50.0, 100.0, -900.0)),)
    assert case.reason == "Brakes in a bend. 25 % of it counts here: the trailer slides."


def test_what_is_used_is_what_is_asked_over_what_there_is(proved):
    """Of every check, whatever it is of: the two figures that are shown make the third."""
    for c in proved.checks:
        if c.available:
            assert c.demand / c.available == pytest.approx(c.utilisation, rel=1e-6, abs=1e-9), c.id


@pytest.mark.parametrize(
    ("family", "part", "hole"),
    [
        ("rear-receiver", "chain plate", "chain hole"),
        ("clevis-tongue", "ear", "ear hole"),
        ("ballast-rack", "outer ear", "outer ear hole"),
    ],
)
def test_a_hole_that_is_an_eye_is_judged_as_one_and_not_as_a_net_section_too(family, part, hole):
    checks = {c.id for c in prove(families.new_job(family)).checks}
    assert any(hole in c and c.endswith(": eye") for c in checks)
    assert not [c for c in checks if part in c and ": net" in c]
