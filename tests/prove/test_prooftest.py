"""The proof test: loads, gauge and limit, against the frame and by hand."""

import dataclasses

import numpy as np
import pytest

from urial import families, units
from urial.job import edit
from urial.loads import towing
from urial.prove.prooftest import LEFT, proof_tests
from urial.prove.verdict import prove


@pytest.fixture(scope="module")
def verdict():
    return prove(families.new_job("ball-mount"))


def test_towing_is_tried_with_half_as_much_again_at_the_ball(verdict):
    (test,) = proof_tests(verdict)
    c = towing.coupling(verdict.job)
    pull, down = 1.5 * c.D, 1.5 * c.S
    assert any(units.show(1000 * pull, "force", "metric") + " rearward" in line for line in test.loads)
    weight = next(line for line in test.loads if "ballast" in line)
    assert units.show(1000 * down, "force", "metric") in weight
    stacked = float(weight.split("down: ")[1].split("\u00a0")[0])
    assert 0 <= stacked - 1000 * down / 9.80665 < 5.0
    assert test.gauge.at == pytest.approx(verdict.assembly.places["ball"])


def test_the_gauge_reads_what_the_frame_gives_there_and_grows_with_the_load(verdict):
    (test,) = proof_tests(verdict)
    k = [c.id for c in verdict.cases].index("proof")
    raw, net = verdict.forces.raw, verdict.forces.net
    ((name, load),) = verdict.cases[k].loads.items()
    point = verdict.points[name]
    node = net.at_part[point.part][name]
    u = raw.displacements[k, raw.node_index[node]]
    moved = u[:3] + np.cross(u[3:], np.subtract(point.at, net.nodes[node]))
    assert test.gauge.moves == pytest.approx(moved)
    far, way = test.gauge.main
    assert way == "rearward" and far == pytest.approx(np.abs(moved).max())
    assert test.limit_mm == pytest.approx(LEFT * far) and f"{far:.2f} mm" in " ".join(test.steps)
    # its energy is what its loads do: ½ F·u = ½ Σ k u² is positive, and twice the trailer bends it more
    assert float(np.dot(load[:3], moved)) > 0
    heavy = prove(edit.put(verdict.job, "duty.trailer_mass_kg", 2400.0))
    assert proof_tests(heavy)[0].gauge.main[0] > far


@pytest.mark.parametrize("family", sorted(families.families()))
def test_every_family_has_a_test_for_each_duty_and_it_can_be_read(family):
    v = prove(families.new_job(family))
    found = proof_tests(v)
    asked = len(v.job.duties) + v.job.duty.towed
    assert 1 <= len(found) <= asked
    for t in found:
        assert t.loads and all("; at " in line for line in t.loads)
        assert 0 < t.limit_mm <= max(LEFT * t.gauge.main[0], 0.05) + 1e-9
        assert len(t.steps) == 5 and "nan" not in " ".join(t.steps)


def test_an_inch_job_reads_inches(verdict):
    (test,) = proof_tests(prove(families.in_inches(verdict.job)))
    words = " ".join((*test.loads, *test.steps))
    assert "lbf" in words and " in (" in words and "lb of ballast" in words.replace("\u00a0", " ")


def test_a_part_nobody_judged_has_none(verdict):
    assert proof_tests(dataclasses.replace(verdict, forces=None)) == ()


def test_a_trailer_is_pulled_with_half_as_much_again_on_its_deck():
    """Proof is 1.5 times everything: 600 kg of churns are 900 kg of ballast while the coupler is pulled."""
    job = families.new_job("flat-trailer")
    duty = next(d for d in job.duties if d.kind == "carrier")
    share = 600.0 / sum(i.kg for i in duty.items)
    items = tuple(i.model_copy(update={"kg": i.kg * share}) for i in duty.items)
    verdict = prove(job.model_copy(update={"duties": (duty.model_copy(update={"items": items}),)}))
    pulled, carried = proof_tests(verdict)
    said = " ".join(pulled.loads).replace("\u00a0", " ")
    assert "8.83 kN down: 900 kg of ballast; at the cargo's places on the deck" in said
    assert not any("on the deck" in line for line in carried.loads)
