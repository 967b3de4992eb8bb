"""The coat plan on paper: litres, hours by temperature, what stays bare, what is seen to before sending."""

import io

import pypdfium2
import pytest

from urial import families
from urial.job import edit
from urial.making import coats, finish
from urial.making.parts import parts_list
from urial.papers.pdf import Pages
from urial.papers.section import Shown
from urial.papers.sections.finish import finish as section
from urial.prove.verdict import CAUTION, prove


def page(job):
    v = prove(job)
    p = Pages(job.title, CAUTION, job.units, job.nearest)
    section(p, Shown(v, list(parts_list(v.assembly))))
    document = pypdfium2.PdfDocument(io.BytesIO(p.finish()))
    text = " ".join(" ".join(x.get_textpage().get_text_range() for x in document).split())
    return v.assembly, text


def test_it_has_every_coat_with_its_litres_and_hours_and_what_stays_bare():
    job = edit.put(families.new_job("rear-receiver"), "making.finish.colour", "rescue red")
    assembly, text = page(job)
    scheme = coats.book().schemes["two-pack"]
    whole = finish.area(assembly, [p.key for p in assembly.parts], scheme)
    assert f"{whole.mm2 * 1e-6:.2f} m²" in text and "Colour: rescue red." in text
    assert f"1. two-pack epoxy primer, {whole.litres[0]:.2f} l mixed, steel 10 to 35 °C." in text
    assert "The next after 9 h at 10 °C, 4 h at 20 °C, 2.5 h at 30 °C; at the latest after 240 h" in text
    assert "what stands on the tin counts" in text and "isocyanates" in text
    for m in finish.masked(assembly):
        assert m.why in text
    assert "?" not in text


def test_two_sets_take_twice_the_paint():
    one, two = (page(edit.put(families.new_job("shackle-insert"), "making.sets", n))[1] for n in (1.0, 2.0))
    litres = [float(t.split("epoxy primer, ")[1].split(" l mixed")[0]) for t in (one, two)]
    assert litres[1] == pytest.approx(2 * litres[0], abs=0.011)


def test_sent_out_it_names_the_hollows_and_bare_it_says_nothing():
    job = families.new_job("rear-receiver")
    _, text = page(edit.put(job, "making.finish.scheme", "galvanised"))
    assert "is a closed hollow and bursts in the zinc" in text and "EN ISO 14713-2" in text
    assert "l mixed" not in text
    assert "Finish" not in page(edit.put(job, "making.finish.scheme", "bare"))[1]
