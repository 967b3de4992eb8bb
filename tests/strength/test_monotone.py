"""More load never makes a place better off, thicker metal never makes that metal worse off: every kind of
part, by random steps, seams and all.
"""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from urial import families
from urial.assembly.model import BuildError
from urial.families.registry import families as kinds
from urial.geometry.shape import Plate
from urial.job import edit
from urial.prove.verdict import prove
from urial.stock import catalogue

NAMES = sorted(kinds())
LESS = ("front axle", "rear axle", "steering", "1/coupler: nose")
"""What lies behind one axle takes load off the other; cargo ahead of the axle holds the nose down."""
FEW = settings(max_examples=2, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)


def heavier(job, k):
    """Every duty k times as heavy."""
    out = []
    for duty in job.duties:
        more = {
            name: k * getattr(duty, name)
            for name in ("stuck_kg", "rated_N", "pull_N", "kg", "payload_kg", "draft_N")
            if hasattr(duty, name)
        }
        if hasattr(duty, "items"):
            more["items"] = tuple(i.model_copy(update={"kg": k * i.kg}) for i in duty.items)
        out.append(duty.model_copy(update=more))
    job = job.model_copy(update={"duties": tuple(out)})
    if job.duty.towed:
        for path in ("duty.trailer_mass_kg", "duty.tongue_mass_kg"):
            job = edit.put(job, path, k * edit.get(job, path))
    return job


@pytest.mark.parametrize("name", NAMES)
@FEW
@given(k=st.floats(1.02, 1.6))
def test_nothing_is_used_less_by_a_heavier_load(name, k):
    job = families.new_job(name)
    if name == "trunk-anchor":  # what its straps are drawn up to is taken off its bites again by the line
        job = edit.put(job, "stack.1.drawn_N", 0.0)
    before, after = ({c.id: c.utilisation for c in prove(j).checks} for j in (job, heavier(job, k)))
    assert set(before) <= set(after)
    worse = {
        i: (u, after[i]) for i, u in before.items() if after[i] < u * (1 - 1e-4) - 1e-6 and i not in LESS
    }
    assert not worse


OWN = ("member", "net section", "bearing", "plate", "gusset", "eye", "wall", "hook", "block shear")
"""Kinds of check that judge a plate's own metal; what holds it may get more to do, since it is stiffer."""


def thicker(name):
    """Each plate's size of a kind of part, with the next thicker stock."""
    job = families.new_job(name)
    number = next(p.id for p in job.stack if p.family == name)
    for path, s in edit.all_specs(job).items():
        if path.startswith(f"stack.{number}.") and s.kind == "stock" and s.shelf == "plate":
            now = catalogue.plate(edit.get(job, path))
            rows = sorted(catalogue.SHELVES["plate"]().values(), key=lambda p: p.thickness)
            more = [p for p in rows if p.system == now.system and p.thickness > 1.15 * now.thickness]
            if more:
                yield path, more[0].name


@pytest.mark.parametrize("name", NAMES)
def test_thicker_metal_is_never_used_more_itself(name):
    job = families.new_job(name)
    now = prove(job)
    before = {c.id: c for c in now.checks}
    was = {p.key: p.shape.t for p in now.assembly.parts if isinstance(p.shape, Plate)}
    for path, stock in thicker(name):
        try:
            v = prove(edit.put(job, path, stock))
        except BuildError:  # it no longer fits where it goes
            continue
        marks = {p.mark for p in v.assembly.parts if isinstance(p.shape, Plate) and p.shape.t > was[p.key]}
        worse = {
            c.id: (before[c.id].utilisation, c.utilisation)
            for c in v.checks
            if c.part in marks
            and c.kind in OWN
            and c.id in before
            and c.utilisation > 1.08 * before[c.id].utilisation + 2e-3  # a stiffer strut draws more
        }
        assert not worse, (path, stock)
