"""Sizes that follow others: worked out, carried through edits, refused in a sentence, and never able to run
anything.
"""

import math
import random
import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urial import families
from urial.families import _stack as stack
from urial.job import edit, formula
from urial.job.formula import Amount, FormulaError, work_out
from urial.job.model import Job
from urial.prove.verdict import prove

HIGH, WIDE = "stack.2.high_mm", "stack.2.wide_mm"


@pytest.fixture
def job():
    return families.new_job("flat-carrier")


def test_a_size_follows_another_as_it_changes(job):
    job = edit.write(job, HIGH, "= wide / 2 - 20 mm")
    assert edit.get(job, HIGH) == pytest.approx(500 / 2 - 20)
    job = edit.write(job, WIDE, "400 mm")
    assert edit.get(job, HIGH) == pytest.approx(180.0)
    assert edit.formula_of(job, HIGH) == "= wide / 2 - 20 mm"
    assert prove(job).verdict == "holds"


def test_a_figure_typed_over_it_ends_the_following(job):
    job = edit.write(job, HIGH, "= wide / 2")
    job = edit.write(job, HIGH, "200")
    assert edit.formula_of(job, HIGH) == ""
    assert edit.get(edit.write(job, WIDE, "600"), HIGH) == 200.0


def test_it_is_kept_in_the_file_and_by_undo(job, tmp_path):
    from urial.job.file import Document, load, save

    job = edit.write(job, HIGH, "= 3 × shank height")
    save(tmp_path / "a.urial", Document(job))
    again = load(tmp_path / "a.urial").job
    assert again == job and Job.model_validate_json(job.model_dump_json()) == job
    assert edit.get(edit.write(again, "stack.2.shank", "square 2 1/2"), HIGH) == pytest.approx(3 * 63.5)


@pytest.mark.parametrize(
    "text, mm",
    [
        ("= 12 in / 2", 152.4),
        ('= 1 1/2" * 10', 381.0),
        ("= max(200 mm, wide / 4; 150 mm)", 200.0),
        ("= min(wide, high_spare)", None),
        ("= abs(100 mm - wide) / 2", 200.0),
        ("= -(20 mm - 1.drop)", 100.0),
        ("= (wide - plate thickness) / 4", (500 - 9.525) / 4),
        ("= pin to plate", 200.0),
        ("= wide_mm × 0,5", 250.0),
        ("= 100 mm / 200 mm * wide", 250.0),
    ],
)
def test_what_it_understands(job, text, mm):
    if mm is None:
        with pytest.raises(edit.EditError, match="no size called “high_spare”"):
            edit.write(job, HIGH, text)
    else:
        assert edit.get(edit.write(job, HIGH, text), HIGH) == pytest.approx(mm)


@pytest.mark.parametrize(
    "text, words",
    [
        ("=", "needs something after its equals sign"),
        ("= wide +", "stops where a size or a number should come"),
        ("= wide + 20", "adds a length to a plain number"),
        ("= wide * wide", "an area or the like"),
        ("= 20 mm", "must be between 60 mm and 900 mm"),
        ("= (wide / 2", "is not closed"),
        ("= wide 2", "comes where"),
        ("= wide / (plugs - plugs)", "divides by nothing"),
        ("= 7.drop + 1 mm", "piece 7, which is not there"),
        ("= high", "cannot go round in a circle"),
        ("= " + "(" * 60 + "wide" + ")" * 60, "more than 40 parts"),
        ("= " + "wide + " * 60 + "wide", "longer than 200 characters"),
    ],
)
def test_what_it_refuses_is_one_sentence_and_changes_nothing(job, text, words):
    with pytest.raises(edit.EditError, match=words) as refused:
        edit.write(job, HIGH, text)
    assert "\n" not in str(refused.value) and str(refused.value).endswith(".")


def test_a_circle_is_named_by_its_sizes(job):
    job = edit.write(job, HIGH, "= wide / 3")
    with pytest.raises(edit.EditError, match=r"“(Wide|High)”, which follows “(High|Wide)”"):
        edit.write(job, WIDE, "= high * 3")


def test_an_edit_that_would_push_a_following_size_out_of_its_range_is_refused(job):
    job = edit.write(job, HIGH, "= wide - 400 mm")
    with pytest.raises(edit.EditError, match="High follows “= wide - 400 mm”"):
        edit.write(job, WIDE, "420")
    assert edit.get(job, WIDE) == 500.0


def test_what_it_followed_is_taken_off_its_figure_stays_and_that_is_said():
    job = families.new_job("ball-mount")
    under = families.new_job("flat-carrier")
    job = under.model_copy(update={"stack": (*under.stack,)})
    job = edit.write(job, HIGH, "= 1.drop + 100 mm")
    bare = stack.take_off(job, "1")
    assert bare.stack == ()
    alone = job.model_copy(update={"stack": (job.stack[1],)})
    kept, lapsed = formula.applied(alone)
    assert edit.get(kept, HIGH) == 220.0 and "piece 1, which is not there" in lapsed[0]
    # and another size can still be changed
    assert edit.get(edit.put(alone, WIDE, 450.0), WIDE) == 450.0


def test_what_nobody_has_read_yet_cannot_be_followed():
    job = families.new_job("bought-insert")
    with pytest.raises(edit.EditError, match="has no figure yet"):
        edit.write(job, "stack.2.kg", "= rated / 10")


@pytest.mark.parametrize(
    "text",
    [
        '= __import__("os").system("true")',
        "= open('/etc/passwd')",
        "= wide.__class__",
        "= lambda: 1",
        "= 9**9**9",
        "= exec(wide)",
        "= wide if wide else wide",
        "= 1e400 * wide",
        "= {{wide}}",
        "= wide; high",
    ],
)
def test_nothing_a_stranger_writes_is_run(job, text):
    with pytest.raises(edit.EditError):
        edit.write(job, HIGH, text)


@settings(max_examples=200, deadline=None)
@given(st.text(alphabet=string.ascii_letters + string.digits + " +-*/().,'\"=×÷_", max_size=60))
def test_any_text_is_a_figure_or_a_sentence(text):
    job = families.new_job("flat-carrier")
    try:
        job = edit.write(job, HIGH, "=" + text)
    except edit.EditError as refusal:
        assert str(refusal).strip() and "\n" not in str(refusal)
        return
    assert 60.0 <= edit.get(job, HIGH) <= 900.0


def test_sums_and_products_against_python():
    rng = random.Random(7)
    for _ in range(300):
        numbers = [round(rng.uniform(0.5, 90), 2) for _ in range(5)]
        signs = [rng.choice("+-*/") for _ in range(4)]
        text = "".join(f"{n}{s}" for n, s in zip(numbers, [*signs, ""], strict=True))
        if rng.random() < 0.5:
            text = f"({numbers[0]}{signs[0]}{numbers[1]}){signs[1]}{numbers[2]}-({numbers[3]}*{numbers[4]})"
        ours = work_out(text, {}, lambda word: Amount(0.0))
        assert ours.value == pytest.approx(eval(text), rel=1e-12)  # the test's own text, made just above


def test_units_are_carried():
    def find(word):
        raise FormulaError(word)

    assert work_out("2 in * 3 in / 1 in", {}, find) == Amount(pytest.approx(152.4), (1, 0, 0, 0))
    assert work_out("100 kg / 50 kg", {}, find).unit == (0, 0, 0, 0)
    with pytest.raises(FormulaError, match="adds a mass to a length"):
        work_out("3 kg + 2 mm", {}, find)
    assert work_out("45° + 15 deg", {}, find).unit == (0, 0, 0, 1)
    assert math.isclose(work_out("1 ft", {}, find).value, 304.8)
