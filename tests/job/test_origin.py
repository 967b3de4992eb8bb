"""Every figure knows where it comes from, through edits, rows that come and go, files and undo."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job import edit, origin
from urial.job.duty import MODELS, Weighing
from urial.job.file import Document, from_bytes, job_bytes, read_job, to_bytes
from urial.job.host import kinds, starting_host
from urial.job.model import Job
from urial.job.origin import Origin
from urial.job.survey import Mark, Tape

HAND = Origin(how="measured", by="Ada", on="2026-05-04")


def typed(job: Job, path: str, text: str) -> Job:
    return origin.follow(job, edit.write(job, path, text), HAND)


@pytest.mark.parametrize("kind", list(kinds()))
def test_a_new_jobs_figures_are_all_assumed(kind):
    job = families.survey_job(kind)
    found = origin.assumed(job)
    assert len(found) > 10 and not job.origins
    assert all(p.split(".")[0] in ("vehicle", "duty") for p in found) and "vehicle.left.0.behind_mm" in found
    assert all(origin.is_assumed(job, p) and origin.is_fact(job, p) for p in found)


def test_sizes_of_the_part_settings_and_decisions_are_no_facts(job):
    for path in (
        "stack.1.drop_mm",
        "proof.factor_of_safety",
        "survey.tape_sigma_mm",
        "survey.datum.behind_mm",
        "duty.school",
        "title",
        "nearest",
        "nothing.at_all",
    ):
        assert not origin.is_fact(job, path), path


def test_what_is_typed_is_measured_and_the_rest_stays_assumed(job):
    after = typed(job, "vehicle.left.1.height_mm", "611 mm")
    assert after.origins == {"vehicle.left.1.height_mm": HAND}
    assert set(origin.assumed(job)) - set(origin.assumed(after)) == {"vehicle.left.1.height_mm"}


def test_rows_keep_their_origins_when_others_come_and_go(job):
    after = typed(typed(job, "vehicle.left.2.height_mm", "611 mm"), "vehicle.left.0.hole_mm", "15 mm")
    rows = after.vehicle.left
    fewer = origin.follow(after, edit.put(after, "vehicle.left", (rows[0], rows[2])), HAND)
    assert set(fewer.origins) == {"vehicle.left.1.height_mm", "vehicle.left.0.hole_mm"}
    more = origin.follow(fewer, edit.put(fewer, "vehicle.left", (rows[1], *fewer.vehicle.left)), HAND)
    assert set(more.origins) == {
        "vehicle.left.2.height_mm",
        "vehicle.left.1.hole_mm",
    }  # the new first row is a starting value


def test_a_new_row_is_assumed_until_it_is_typed_and_an_empty_one_is_filled_by_hand(job):
    added = origin.follow(job, edit.put(job, "duties", (MODELS["winch"](title="winch"),)), HAND)
    assert {p for p in origin.assumed(added) if p.startswith("duties.0")} and not added.origins
    assert "duties.0.rated_N" not in origin.assumed(typed(added, "duties.0.rated_N", "25 kN"))
    empty = origin.follow(job, edit.put(job, "survey.tapes", (Tape(start="L1", end="R3"),)), HAND)
    assert not empty.origins and not [p for p in origin.assumed(empty) if p.startswith("survey")]
    assert typed(empty, "survey.tapes.0.length_mm", "1010 mm").origins == {"survey.tapes.0.length_mm": HAND}


def test_a_value_put_to_empty_has_no_origin_and_one_filled_has(job):
    filled = typed(job, "duty.permissible_kg", "2000 kg")
    assert filled.origins == {"duty.permissible_kg": HAND}
    assert not typed(filled, "duty.permissible_kg", "").origins


def test_another_kind_of_host_starts_assumed(job):
    after = typed(job, "vehicle.left.0.height_mm", "611 mm")
    other = origin.follow(after, edit.with_host(after, "tractor"), None)
    assert not [p for p in other.origins if p.startswith("vehicle")]


def test_a_rating_says_it_is_assumed_until_it_is_typed(job):
    from urial.prove.verdict import prove

    name = {c.id: c for c in prove(job).checks}["tongue limit"]
    assert name.name == "tongue limit (assumed)" and "assumed" in name.clause
    same = edit.shown(job, "vehicle.tongue_rating_kg")
    assert typed(job, "vehicle.tongue_rating_kg", same) == job  # the same figure is no edit …
    confirmed = origin.mark(job, ("vehicle.tongue_rating_kg",), HAND)  # … saying that it is right is one
    said = {c.id: c for c in prove(confirmed).checks}["tongue limit"]
    assert said.name == "tongue limit" and "plate" in said.clause


def test_origins_are_kept_in_the_file(job):
    after = typed(job, "vehicle.left.1.height_mm", "611 mm")
    assert from_bytes(to_bytes(Document(after))).job == after


def test_a_file_from_before_tells_typed_from_starting_values(job):
    after = edit.write(job, "vehicle.left.1.height_mm", "611 mm")
    raw = json.loads(job_bytes(after))
    del raw["origins"]
    lifted = read_job(json.dumps(raw).encode(), "old")
    assert (
        lifted.origins["vehicle.left.1.height_mm"].how == "typed"
        and "vehicle.left.0.height_mm" not in lifted.origins
    )


def test_the_branches_that_do_not_take_part_are_not_counted(job):
    silent = edit.put(job, "duty.towed", False)
    assert not [p for p in origin.assumed(silent) if p.startswith(("duty.", "deck.", "running."))]
    assert [p for p in origin.assumed(job) if p.startswith("duty.")]


def test_facts_are_what_is_assumed_can_be(job):
    weighed = edit.put(job, "weighings", (Weighing(reading_kg=66.0),))
    marked = edit.put(weighed, "survey.marks", (Mark(name="hub", behind_mm=0.0),))
    assert {"weighings.0.reading_kg", "survey.marks.0.behind_mm"} <= set(origin.facts(marked))
    assert "survey.marks.0.across_mm" not in origin.facts(marked)


@given(st.lists(st.tuples(st.sampled_from(["type", "drop", "add", "swap"]), st.integers(0, 4)), max_size=12))
def test_an_origin_stays_with_its_row_whatever_is_done(steps):
    """Each row carries its own figure as a name: the origin must be where the figure is."""
    job = families.survey_job("trailer")
    fresh = 0
    for what, n in steps:
        rows = job.vehicle.left
        n = min(n, len(rows) - 1)
        fresh += 1
        if what == "type":
            job = origin.follow(job, edit.put(job, f"vehicle.left.{n}.height_mm", 300.0 + fresh), HAND)
            continue
        if what == "drop" and len(rows) > 1:
            new = (*rows[:n], *rows[n + 1 :])
        elif what == "add" and len(rows) < 10:
            new = (
                *rows[:n],
                rows[n].model_copy(update={"behind_mm": 5000.0 + fresh, "height_mm": 4000.0 + fresh}),
                *rows[n:],
            )
        else:
            new = rows[::-1]
        job = origin.follow(job, edit.put(job, "vehicle.left", new), HAND)
    for n, row in enumerate(job.vehicle.left):
        assert (f"vehicle.left.{n}.height_mm" in job.origins) == (300.0 < row.height_mm < 400.0), (
            n,
            row.height_mm,
        )


def test_the_second_host_s_figures_come_from_somewhere_too():
    job = families.survey_job("trailer")
    both = job.model_copy(update={"hosts": (job.vehicle, starting_host("van"))})
    mine = [p for p in origin.assumed(both) if p.startswith("hosts.")]
    assert "hosts.1.left.0.height_mm" in mine and "hosts.1.rail_spacing_mm" in mine
    assert not any(p.startswith("hosts.0") for p in origin.assumed(both))  # that one is the vehicle
    assert edit.spec_of(both, "hosts.1.left.0.height_mm").title.startswith(f"host {both.hosts[1].name}, left")
    after = origin.follow(both, edit.put(both, "hosts.1.left.0.height_mm", 333.0), HAND)
    assert after.origins == {"hosts.1.left.0.height_mm": HAND}
    assert not origin.is_assumed(after, "hosts.1.left.0.height_mm")
    assert origin.is_assumed(after, "hosts.1.left.1.height_mm")


def test_choices_that_are_true_or_not_are_facts_and_decisions_are_none():
    job = families.survey_job("post")
    assert {"vehicle.soil", "vehicle.section"} <= set(origin.assumed(job))
    assert not origin.is_fact(job, "vehicle.left.0.group") and not origin.is_fact(
        job, "vehicle.left.0.bolted"
    )


def test_what_nothing_reads_is_nobodys_to_measure():
    """What only draws the host, wheels of what stands on its underside, limits of towing where nothing is."""
    carrier = families.new_job("flat-carrier")
    known = origin.assumed(carrier)
    assert not carrier.duty.towed
    for leaf in ("vehicle.roof_mm", "vehicle.bonnet_mm", "vehicle.tow_rating_kg", "vehicle.sill_mm"):
        assert leaf not in known and not origin.of_use(carrier, leaf)
    (item,) = (p.rpartition(".")[0] for p in known if p.endswith("items.0.kg"))
    assert f"{item}.track_mm" not in known and f"{item}.in_above_mm" not in known
    rolls = edit.put(carrier, f"{item}.stands", "wheels")
    assert f"{item}.track_mm" in origin.assumed(rolls)
    towing = origin.assumed(families.new_job("ball-mount"))
    assert {"vehicle.tow_rating_kg", "vehicle.sill_mm"} <= set(towing) and "vehicle.roof_mm" not in towing


@pytest.mark.parametrize("family", ["flat-carrier", "ball-mount", "two-wheeler", "hook-plate", "post-mount"])
def test_what_is_not_counted_as_assumed_changes_no_verdict(family):
    """Each one a tenth larger: every check, warning and open place stays to the last digit."""
    from urial.prove.verdict import prove

    def told(job):
        v = prove(job)
        return [(c.id, c.utilisation) for c in v.checks], v.warnings, v.unchecked

    job = families.new_job(family)
    before = told(job)
    unused = [p for p in origin.facts(job) if not origin.of_use(job, p)]
    for path in unused:
        value = edit.get(job, path)
        if isinstance(value, float):
            assert told(edit.put(job, path, value * 1.1)) == before, path
