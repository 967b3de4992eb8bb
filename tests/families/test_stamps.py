"""Bought, salvaged or copied things within a kind: their mass, their rating, or none."""

import pytest

from urial import families
from urial.job import edit
from urial.prove.verdict import prove


def changed(kind, **sizes):
    job = families.new_job(kind)
    for key, value in sizes.items():
        job = edit.put(job, edit.find_path(job, key), value)
    return families.with_marks(job)


def found(job, words):
    v = prove(job)
    return [c for c in v.checks if words in c.name], [u.what for u in v.unchecked if "rating" in u.what]


@pytest.mark.parametrize(
    ("kind", "key", "row", "thing"),
    [
        ("drawbar", "coupler_rated_kg", "coupler, stamped", "coupler"),
        ("flat-trailer", "coupler_rated_kg", "coupler, stamped", "coupler"),
        ("flat-trailer", "wheel_rated_kg", "wheel, hub and tyre", "wheel with hub"),
    ],
)
def test_what_has_no_stamp_is_said_and_not_taken_for_strong(kind, key, row, thing):
    stamped, silent = found(changed(kind), row)
    assert stamped and not any(s.startswith(f"{thing}: nobody") for s in silent)
    bare, silent = found(changed(kind, **{key: None}), row)
    assert not bare and f"{thing}: nobody gives it a rating, and what it holds is not judged" in silent
    assert not any("on the ground" in s for s in silent)


def test_a_stamp_is_held_to_what_is_towed():
    job = changed("drawbar")
    (whole,) = found(job, "coupler, stamped")[0]
    (half,) = found(changed("drawbar", coupler_rated_kg=700.0), "coupler, stamped")[0]
    assert half.utilisation == pytest.approx(2 * whole.utilisation)


def test_an_axles_plate_is_held_to_what_stands_on_its_wheels():
    """Both wheels together carry what the axle does: each wheel's row times two over the plate's figure."""
    job = changed("flat-trailer", axle_rated_kg=900.0)
    (axle,) = found(job, "axle, by its plate")[0]
    wheels = found(job, "wheel, hub and tyre")[0]
    assert len(wheels) == 2
    each = wheels[0].utilisation * 560.0
    assert axle.utilisation == pytest.approx(2 * each / 900.0, rel=1e-4)  # its bolts stick out to one side
    assert not found(changed("flat-trailer"), "axle, by its plate")[0]


def test_a_salvaged_axle_is_of_the_lowest_steel_and_its_welds_are_warned_of():
    a = families.build(changed("flat-trailer", axle_steel="unknown"))
    assert a.by_key["1/axle"].material.name == "S235"
    assert any("whose steel nobody knows" in w for w in a.warnings)
    known = families.build(changed("flat-trailer"))
    assert known.by_key["1/axle"].material.name == "S355" and not any(
        "nobody knows" in w for w in known.warnings
    )


def test_forks_without_a_stamp_are_of_the_lowest_steel():
    job, bare = changed("three-point-carriage"), changed("three-point-carriage", fork_rating_kg=None)
    one, two = (next(p for p in families.build(j).parts if p.name == "left fork") for j in (job, bare))
    assert (one.material.name, two.material.name) == ("4140-QT", "S235")
    assert "no stamp" in two.stock
    strong, weak = (
        next(c.utilisation for c in prove(j).checks if c.name.startswith("left fork") and "forces" in c.id)
        for j in (job, bare)
    )
    assert weak > 1.5 * strong


def test_an_empty_stamp_is_kept_in_the_file():
    from urial.job.file import Document, from_bytes, to_bytes

    job = changed("drawbar", coupler_rated_kg=None)
    assert from_bytes(to_bytes(Document(job))).job == job
