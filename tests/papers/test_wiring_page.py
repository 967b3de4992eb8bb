"""The table of a plug on paper: every contact, what is bought, and what stays a guess."""

import io

import pypdfium2

from urial import families
from urial.job import edit
from urial.making.parts import parts_list
from urial.making.wiring import wiring_of
from urial.papers.pdf import Pages
from urial.papers.section import Shown
from urial.papers.sections.wiring import wiring as section
from urial.prove.verdict import CAUTION, prove


def page(job):
    v = prove(job)
    p = Pages(job.title, CAUTION, job.units, job.nearest)
    section(p, Shown(v, list(parts_list(v.assembly))))
    document = pypdfium2.PdfDocument(io.BytesIO(p.finish()))
    return v.assembly, " ".join(" ".join(x.get_textpage().get_text_range() for x in document).split())


def wired(units="metric", **puts):
    job = edit.put(families.new_job("flat-trailer"), "units", units)
    job = edit.put(job, "making.wiring.what", "lamps on it")
    for name, value in puts.items():
        job = edit.put(job, f"making.wiring.{name}", value)
    return job


def test_every_contact_is_there_with_its_cable_and_what_it_loses():
    job = wired(run_mm=6000.0, plug="7-round")
    assembly, text = page(job)
    for w in wiring_of(assembly, job.making.wiring).wires:
        assert w.does in text and w.cable.name in text and f"{w.drop:.2f} V" in text
    assert "ISO 1724" in text and "a meter on the contact decides" in text and "To buy: 1 × plug" in text
    assert "nobody measured" not in text and "?" not in text
    assert "nobody measured" in page(wired())[1]


def test_an_inch_shop_gets_gauges_and_feet():
    _, text = page(wired("inch", run_mm=6000.0, plug="4-flat"))
    assert "AWG" in text and "mm²" not in text and " ft cable" in text


def test_what_cannot_be_wired_says_why_and_nothing_wired_is_no_page():
    job = wired(what="a socket on the host", plug="7-blade", brake_A=6.0)
    assert "battery to the socket is not measured" in page(job)[1]
    assert "Wiring" not in page(edit.put(job, "making.wiring.what", "nothing"))[1]
