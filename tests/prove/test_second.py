"""The second solver: every kind of part agrees with it, and a mistake is seen."""

import dataclasses
from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.desk.start import demo_jobs
from urial.job.file import load
from urial.prove import second
from urial.prove.second import ALIKE, held_against, recompute
from urial.prove.verdict import prove
from urial.strength.analysis import at_nodes, frame_of
from urial.strength.frame import Frame, Link, Member, solve

SOME = (
    "rear-receiver",  # receiver, pins, bolts, a tube with shear
    "recovery-point",
    "rail-cradle",  # clamps, mitres
    "trunk-anchor",  # angles, straps and bites that carry one way, some of which let go
    "three-point-carriage",
    "bumper-receiver",
    "ring-backing",  # timber
)


@pytest.mark.parametrize("name", SOME)
def test_an_independent_program_finds_the_same_frame(name):
    v = prove(families.new_job(name))
    found = recompute(v.forces, v.job.proof.foot)
    assert found.agrees, found.pairs[:3]
    assert found.compared == len(v.cases) * 2 * (len(v.forces.net.nodes) + len(v.forces.net.beams))
    assert "finds the same" in found.words


def test_a_wrong_figure_in_either_is_seen():
    v = prove(families.new_job("shackle-insert"))
    forces = v.forces
    frame = frame_of(forces.assembly, forces.net)
    thin = dataclasses.replace(
        frame, members=[dataclasses.replace(m, Iy=0.9 * m.Iy, Iz=0.9 * m.Iz) for m in frame.members]
    )
    loads = at_nodes(forces.assembly, forces.cases, forces.points, forces.net)
    pairs = held_against(thin, loads, forces.raw)
    assert max(p.apart for p in pairs) > ALIKE
    assert not second.Second(tuple(pairs), len(pairs)).agrees
    assert "do not build" in second.Second(tuple(pairs), len(pairs)).words


def test_what_is_barely_held_agrees_too():
    """The demo anchor: straps let go, and little but friction keeps it from turning."""
    path = next(p for p, _, _ in demo_jobs() if p.stem == "weir-anchor")
    v = prove(load(path).job)
    assert recompute(v.forces, v.job.proof.foot).agrees


def test_shear_springs_and_a_section_without_symmetry_go_across(monkeypatch):
    """A stocky skew cantilever on six springs at a place of its own, its section's axes turned; with stiffer
    arms, since so small a model has no rounding to fear.
    """
    monkeypatch.setattr(second, "STIFFER", 1e5)
    member = Member(
        "m", "A", "B", 200_000.0, 77_000.0, 900.0, 4e5, 1.5e5, 3e5, (0.3, 0.2, 1.0), 400.0, 300.0, Iyz=9e4
    )
    s = 0.6, 0.8
    link = Link(
        "foot",
        "A",
        None,
        (20.0, -15.0, 10.0),
        (4e4, 2e4, 9e4, 3e8, 2e8, 5e8),
        ((s[0], s[1], 0.0), (-s[1], s[0], 0.0), (0.0, 0.0, 1.0)),
    )
    frame = Frame({"A": (0.0, 0.0, 0.0), "B": (150.0, 60.0, 40.0)}, [member], links=[link])
    loads = {"c": {"B": (900.0, -700.0, 1500.0, 2e4, -3e4, 1e4)}}
    first = solve(frame, loads)
    pairs = held_against(frame, loads, first)
    assert max(p.apart for p in pairs) < 5e-5
    for change in ({"Avz": 600.0}, {"Iyz": 0.0}):
        other = dataclasses.replace(frame, members=[dataclasses.replace(member, **change)])
        assert max(p.apart for p in held_against(other, loads, first)) > 1e-3


def test_where_it_is_not_installed_it_is_said_how_to_add_it(monkeypatch):
    monkeypatch.setattr(second, "available", lambda: False)
    with pytest.raises(BuildError, match="extra “second”"):
        recompute(prove(families.new_job("hook-plate")).forces, "bolts")


def test_it_can_be_stopped():
    v = prove(families.new_job("hook-plate"))
    assert recompute(v.forces, v.job.proof.foot, stopped=lambda: True).compared == 0


@pytest.mark.parametrize("which", range(6))
def test_of_three_forces_the_one_that_differs_most_is_named(which):
    """A second program that has one figure of every member wrong by a tenth of the largest."""
    first = prove(families.new_job("shackle-insert")).forces
    frame, raw = frame_of(first.assembly, first.net), first.raw
    off = np.zeros(6)
    off[which] = 0.1 * np.abs(raw.end_forces[0, :, 3 * (which // 3) : 3 * (which // 3) + 3]).max()
    other = SimpleNamespace(
        frame=frame,
        moved=lambda _: raw.displacements[0],
        inside=lambda n, _: raw.end_forces[0, n, :6] + off,
    )
    pairs = second._of_case(other, raw, 0, 1000.0)
    wrong = [p for p in pairs if p.apart > ALIKE]
    assert len(wrong) == len(frame.members) and {p.what.split(",")[0] for p in wrong} == {
        second.KINDS[which][0]
    }


def test_of_a_node_the_movement_that_differs_is_named_not_the_largest():
    """10 mm across in both, 1 against 2 mm along: along it is; of the turns the third is off."""
    here = np.array([[1.0, 10.0, 0.0, 0.01, 0.02, 0.001]])
    there = np.array([[2.0, 10.0, 0.0, 0.01, 0.02, 0.004]])
    frame = SimpleNamespace(nodes={"A": (0.0, 0.0, 0.0)}, members=[])
    first = SimpleNamespace(cases=("pull",), displacements=here[None], end_forces=np.zeros((1, 0, 12)))
    model = SimpleNamespace(frame=frame, moved=lambda case: there, inside=lambda n, case: np.zeros(6))
    moved, turned = second._of_case(model, first, 0, 1000.0)
    assert (moved.here, moved.there, moved.unit) == (1.0, 2.0, "mm")
    assert (turned.here, turned.there, turned.unit) == (0.001, 0.004, "rad")
