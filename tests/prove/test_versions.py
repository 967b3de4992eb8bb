"""Two versions of a job beside each other."""

import pytest

from urial.assembly.bodies import total_mass
from urial.assembly.model import BuildError
from urial.job import edit
from urial.prove.verdict import prove
from urial.prove.versions import compared


def test_a_job_beside_itself_is_the_same_all_along(job, verdict):
    found = compared(verdict, job, "in the file")
    assert found.here == found.there and found.differs == ()
    assert found.here.holds == verdict.holds and found.here.governs == verdict.governing.name
    assert all(a == b is not None for _, a, b in found.links) and len(found.links) == len(verdict.chain)


def test_a_thinner_tube_is_lighter_and_its_links_are_used_more(job, verdict):
    path = edit.find_path(job, "cross_tube")
    thinner = edit.put(job, path, "4x3x3/16")
    found = compared(verdict, thinner, "in the file")
    other = prove(thinner)
    assert (
        found.there.mass_kg == pytest.approx(total_mass(other.assembly))
        and found.there.mass_kg < found.here.mass_kg
    )
    assert found.there.used == other.governing.utilisation
    assert found.shape.parts == other.assembly.parts
    (line,) = found.differs
    assert "4x3x3/16" in line.replace(" ", "").replace("×", "x") and line.endswith("in the file")
    links = {name: (a, b) for name, a, b in found.links}
    assert links["cross tube"][1] > links["cross tube"][0]


def test_a_link_that_only_one_has_stands_with_nothing_beside_it(job, verdict):
    straight = edit.put(job, "stack.2.shape", "straight")
    found = compared(verdict, straight, "older")
    only_here = {name for name, a, b in found.links if a is not None and b is None}
    assert only_here == {"drop plate", "bar weld"}
    back = compared(prove(straight), job, "newer")
    assert {n for n, a, b in back.links if a is None} == only_here


def test_one_that_cannot_be_built_is_refused_in_its_own_words(job, verdict):
    with pytest.raises(BuildError, match="mm"):
        compared(verdict, edit.put(job, "stack.1.receiver_length_mm", 60.0), "broken")
