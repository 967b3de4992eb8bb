"""A tongue as a share of its trailer, a coupler from the receiver: told so, kept as figures."""

import pytest

from urial import families
from urial.job import edit
from urial.job.edit import EditError
from urial.session.as_told import COUPLER, TONGUE, figure_of, receiver_top


@pytest.fixture(scope="module")
def mounted():
    job = families.new_job("ball-mount")
    return job, families.build(job)


@pytest.mark.parametrize(("told", "kg"), [("12 %", 222.0), ("7.5%", 138.75), ("7,5 %", 138.75)])
def test_a_tongue_is_told_as_its_share(mounted, told, kg):
    job, a = mounted
    assert job.duty.trailer_mass_kg == 1850.0
    after = edit.write(job, TONGUE, figure_of(job, a, TONGUE, told))
    assert after.duty.tongue_mass_kg == pytest.approx(kg)


@pytest.mark.parametrize("told", ["0 %", "100 %", "250%"])
def test_a_share_that_cannot_be_is_refused_in_a_sentence(mounted, told):
    with pytest.raises(EditError, match="cannot be"):
        figure_of(*mounted, TONGUE, told)


@pytest.mark.parametrize(
    ("told", "off"),
    [
        ("5 in lower", -127.0),
        ("the coupler is 5 in lower", -127.0),
        ('coupler is 5" lower than the receiver', -127.0),
        ("80 mm higher", 80.0),
        ('2 1/2" below the bar', -63.5),
        ("3 1/2 in under the receiver's top", -88.9),
        ("40 above", 40.0),
    ],
)
def test_a_coupler_is_told_from_the_top_of_the_receivers_bar(mounted, told, off):
    """A 2 in bar lies with its middle in the mouth's: its top is an inch over it."""
    job, a = mounted
    top = a.places["mouth"][2] + 25.4
    assert receiver_top(a) == pytest.approx(top)
    after = edit.write(job, COUPLER, figure_of(job, a, COUPLER, told))
    assert after.duty.coupler_height_mm == pytest.approx(top + off, abs=0.01)


def test_without_a_receiver_it_is_asked_over_the_ground(mounted):
    job, _ = mounted
    with pytest.raises(EditError, match="over the ground"):
        figure_of(job, None, COUPLER, "5 in lower")
    with pytest.raises(EditError, match="Coupler height"):
        figure_of(*mounted, COUPLER, "a thumb lower")


def test_other_texts_and_other_fields_stay_as_they_are(mounted):
    for path, text in ((TONGUE, "200 kg"), (COUPLER, "450"), ("duty.trailer_mass_kg", "12 %")):
        assert figure_of(*mounted, path, text) == text
