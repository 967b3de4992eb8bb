"""Bought and salvaged pieces: held to their plate, not welded where nobody should, old holes counted."""

from __future__ import annotations

import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.families import _stack as stack
from urial.job import edit
from urial.job.change import Pick, PlateOn
from urial.prove.verdict import prove


def with_sizes(name, **sizes):
    job = families.new_job(name)
    number = next(p.id for p in job.stack if p.family == name)
    for path, value in sizes.items():
        job = edit.put(job, f"stack.{number}.{path}", value)
    return job


def by_name(verdict):
    return {c.name: c for c in verdict.checks}


def test_a_receiver_without_a_plate_holds_as_far_as_it_is_judged_and_says_so():
    v = prove(families.new_job("bought-receiver"))
    assert v.holds
    said = [u.what for u in v.unchecked]
    assert said.count("bought beam: nobody gives it a rating, and what it holds is not judged") == 1
    assert sum(p.key.startswith("1/arm") for p in v.assembly.parts) == 2
    # 26 kg were weighed, and that is what its parts come to but for the arms that are drawn beside them
    own = [p for p in v.assembly.parts if p.key in ("1/receiver", "1/bought beam")]
    from urial.assembly.bodies import mass

    assert sum(map(mass, own)) == pytest.approx(26.0, rel=0.02)


def test_its_plate_is_held_to_what_is_towed_and_what_rests_on_it():
    v = prove(with_sizes("bought-receiver", rated_kg=1500.0, down_kg=80.0))
    found = by_name(v)
    assert found["receiver 2 in, stamped"].utilisation == pytest.approx(1000 / 1500)
    assert found["receiver 2 in, what rests on it"].utilisation == pytest.approx(100 / 80)
    assert not v.holds
    assert not [u for u in v.unchecked if "bought beam" in u.what]
    changed = prove(with_sizes("bought-receiver", rated_kg=1500.0, down_kg=80.0, changed="welded"))
    assert "receiver 2 in, stamped" not in by_name(changed)
    assert any("its plate was given for the whole piece" in w for w in changed.warnings)
    assert any("bought beam" in u.what for u in changed.unchecked)


def test_unknown_steel_is_the_lowest_and_a_better_one_bears_more():
    plain, known = (
        by_name(prove(with_sizes("bought-receiver", steel=steel))) for steel in ("unknown", "known")
    )
    name = "left arm at hole 2"
    assert known[name].utilisation == pytest.approx(
        plain[name].utilisation * 235 / 355, rel=0.01
    )  # first yield


def stood_on(job, number, part):
    """The job with a plate welded on a part of a piece."""
    change = PlateOn(at=Pick(part=part, face="+z", along_mm=35.0), long_mm=40.0)
    pieces = tuple(p.model_copy(update={"changes": (change,)}) if p.id == number else p for p in job.stack)
    return job.model_copy(update={"stack": pieces})


@pytest.mark.parametrize("metal", ["unknown", "cast", "hardened"])
def test_nothing_is_welded_to_what_is_cast_hardened_or_unknown(metal):
    plain = stood_on(with_sizes("bought-insert"), "2", "bar")
    assert not [w for w in prove(plain).warnings if "nothing is welded" in w]
    never = prove(stood_on(with_sizes("bought-insert", metal=metal), "2", "bar"))
    (words,) = [w for w in never.warnings if "nothing is welded" in w]
    assert words.startswith("Change 1")
    assert len(never.assembly.parts) < len(prove(plain).assembly.parts)


def test_an_old_hole_weakens_the_bar_it_is_in():
    plain = prove(with_sizes("bought-insert"))
    drilled = prove(with_sizes("bought-insert", old_hole_mm=20.0, old_hole_at_mm=60.0))
    hole = [c for c in drilled.checks if "hole" in c.name and "bought piece's bar" in c.name]
    before = [c for c in plain.checks if "hole" in c.name and "bought piece's bar" in c.name]
    assert len(hole) > len(before)
    for sizes, words in (
        ({"old_hole_mm": 20.0, "old_hole_at_mm": 145.0}, "measure both again"),
        ({"old_hole_mm": 60.0}, "leaves nothing of a bar"),
    ):
        with pytest.raises(BuildError, match=words):
            prove(with_sizes("bought-insert", **sizes))


def test_a_hook_and_a_bore_of_a_bought_insert_are_used_and_held_to_their_stamp():
    job = with_sizes("bought-insert", takes="hook", rated_kg=1500.0)
    job = job.model_copy(update={"duties": (), "duty": job.duty.model_copy(update={"towed": True})})
    found = by_name(prove(job))
    assert found["bought piece, stamped"].demand == pytest.approx(job.duty.trailer_mass_kg)
    longer = with_sizes("bought-insert", takes="receiver", rated_kg=1500.0, out_mm=260.0)
    longer = longer.model_copy(update={"duties": (), "duty": longer.duty.model_copy(update={"towed": True})})
    longer = stack.put_on(longer, "ball-mount", "2", "2/receiver")
    v = prove(longer)
    assert "bought piece, stamped" in by_name(v)
    balls = [s for s in v.assembly.sockets if s.kind == "ball"]
    assert len(balls) == 1
    # the second bar's pin stands where the load of the first was measured
    first = next(s for s in v.assembly.sockets if s.key == "1/receiver")
    second = next(s for s in v.assembly.sockets if s.key == "2/receiver")
    assert first.place.o[0] - second.place.o[0] == pytest.approx(260.0)


@pytest.mark.parametrize(
    ("sizes", "words"),
    [
        ({"mouth_to_pin_mm": 170.0}, "measure both again"),
        ({"hole_edge_mm": 8.0}, "leaves no edge"),
        ({"bolt": "M20"}, "choose a smaller bolt"),
    ],
)
def test_what_cannot_have_been_measured_is_asked_again(sizes, words):
    with pytest.raises(BuildError, match=words):
        prove(with_sizes("bought-receiver", **sizes))
