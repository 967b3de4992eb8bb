"""The bolts on paper, in the order they are tightened."""

import io

import pypdfium2

from urial import families
from urial.job import edit
from urial.making.parts import IN_TIMBER, parts_list
from urial.papers.pdf import Pages
from urial.papers.section import Shown
from urial.papers.sections.bolts import bolts as section
from urial.prove.verdict import CAUTION, prove


def page(job):
    v = prove(job)
    p = Pages(job.title, CAUTION, job.units, job.nearest)
    section(p, Shown(v, list(parts_list(v.assembly))))
    document = pypdfium2.PdfDocument(io.BytesIO(p.finish()))
    return " ".join(" ".join(x.get_textpage().get_text_range() for x in document).split())


def test_every_group_with_its_torque_and_its_holes():
    text = page(families.new_job("rear-receiver"))
    assert "left rail bolts" in text and "3 × M12 × 40 mm" in text and "126 N·m" in text
    assert "left hole 2, left hole 1, left hole 3" in text and "used once" in text and "?" not in text


def test_in_an_inch_shop_torques_are_in_feet_and_pounds():
    text = page(edit.put(families.new_job("rear-receiver"), "units", "inch"))
    assert "ft·lb" in text and "N·m" not in text


def test_what_would_strip_and_what_gives_are_named():
    assert "half of what strips the thread it goes into, 4 mm deep" in page(families.new_job("two-wheeler"))
    assert IN_TIMBER in page(families.new_job("post-mount"))


def test_nothing_bolted_is_no_page():
    assert "Bolts" not in page(families.new_job("flat-trailer"))
