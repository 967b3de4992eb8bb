"""The chart for the plate on the part: its size, what it says, where its dot stands."""

import numpy as np
import pypdfium2
import pytest

from urial import families
from urial.papers.plate_chart import HIGH, WIDE, plate_chart
from urial.prove.whatif import Envelope, ticks

VALUES = np.linspace(300.0, 900.0, 7)
CURVE = Envelope("reach", "what it carries", "kg", VALUES, 60000.0 / VALUES, ("shank",) * 7, (600.0, 80.0))
MM = 72 / 25.4


def page(job, envelope):
    document = pypdfium2.PdfDocument(plate_chart(job, envelope))
    assert len(document) == 1
    return document[0]


@pytest.fixture(scope="module")
def carrier():
    return families.new_job("flat-carrier")


def test_it_is_as_large_as_the_plate_and_bears_the_caution(carrier):
    sheet = page(carrier, CURVE)
    assert sheet.get_size() == pytest.approx((WIDE * MM, HIGH * MM), abs=0.5)
    text = " ".join(sheet.get_textpage().get_text_range().split())
    assert "licensed engineer" in text and "Planning values" in text
    assert carrier.title in text and "The dot is what is asked: 80" in text


@pytest.mark.parametrize(("units", "length", "mass"), [("metric", "mm", "kg"), ("inch", "in", "lb")])
def test_it_is_written_in_the_jobs_units(carrier, units, length, mass):
    job = carrier if units == "metric" else families.in_inches(carrier)
    text = page(job.model_copy(update={"units": units}), CURVE).get_textpage().get_text_range()
    assert f" {length}" in text.replace("\u00a0", " ") and f" {mass}" in text.replace("\u00a0", " ")


def test_the_dot_stands_where_it_is_asked_and_not_beyond_the_chart(carrier):
    """The chart runs from 20 mm over 72 mm, and from 24 mm up over 41 mm for 1.1 of the greatest value."""

    def dark(envelope):
        grey = np.asarray(page(carrier, envelope).render(scale=4).to_pil().convert("L"), dtype=int)
        x = (20 + 72 * (600 - 300) / 600) * MM * 4
        y = (HIGH - (24 + 41 * 80 / (1.1 * 200))) * MM * 4
        return (grey[round(y) - 4 : round(y) + 5, round(x) - 4 : round(x) + 5] < 160).mean()

    assert dark(CURVE) > 0.9
    away = Envelope("reach", "what it carries", "kg", VALUES, CURVE.most, CURVE.limits, (1200.0, 80.0))
    assert dark(away) < 0.3


@pytest.mark.parametrize("high", [0.7, 3.0, 40.0, 999.0, 12345.0])
def test_the_axes_have_three_to_six_round_figures(high):
    found = ticks(0.0, high)
    assert 3 <= len(found) <= 7 and found[0] == 0 and found[-1] <= high
    step = found[1] - found[0]
    assert np.allclose(np.diff(found), step) and f"{step:.0e}"[0] in "125"
