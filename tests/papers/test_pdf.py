"""Pages: text that wraps and turns the page, tables whose head comes again, elevations to scale."""

import numpy as np
import pypdfium2
import pytest

from urial import families
from urial.assembly import bodies
from urial.papers.pdf import MM, PAPERS, Elevation, Pages, plain


def pages_of(made):
    document = pypdfium2.PdfDocument(made.finish())
    return [" ".join(p.get_textpage().get_text_range().split()) for p in document]


def new(paper="A4", system="metric", flag=""):
    return Pages("A job", "Mind the caution.", system, size=PAPERS[paper], flag=flag)


def test_every_page_has_its_number_title_and_caution_and_all_but_the_first_the_flag():
    p = new(flag="2 figures assumed")
    for n in range(120):
        p.paragraph(f"line {n}")
    pages = pages_of(p)
    assert len(pages) > 1
    for n, text in enumerate(pages, 1):
        assert "A job" in text and f"page {n}" in text and "Mind the caution." in text
        assert ("2 figures assumed" in text) == (n > 1)
    everything = " ".join(pages)
    assert all(f"line {n}" in everything for n in range(120))


def test_long_text_wraps_within_the_margins():
    p = new()
    p.paragraph("word " * 400)
    document = pypdfium2.PdfDocument(p.finish())
    page = document[0].get_textpage()
    boxes = [page.get_charbox(n) for n in range(page.count_chars())]
    assert max(b[2] for b in boxes) <= p.width - p.margin + 1 and min(b[0] for b in boxes) >= p.margin - 1


def test_a_tables_head_comes_again_on_every_page():
    p = new("Letter")
    p.table(["mark", "what"], [[f"M{n}", f"thing number {n}"] for n in range(150)], [1, 4], right=(0,))
    pages = pages_of(p)
    assert len(pages) >= 3 and all("mark" in text and "what" in text for text in pages)
    assert all(sum(f"thing number {n} " in text + " " for text in pages) == 1 for n in range(150))


def test_a_heading_is_never_alone_at_the_foot():
    p = new()
    while p.y > 22 * MM:
        p.paragraph("filler")
    before = p.page
    p.heading("What comes next")
    p.paragraph("and its first line")
    assert p.page == before + 1
    assert "What comes next" in pages_of(p)[-1]


def test_figures_are_written_in_the_jobs_units():
    p = new(system="inch")
    p.paragraph("Leave 25.4 mm of metal.")
    assert '1"' in pages_of(p)[0] and p.length(50.8) == '2"'
    assert new().length(50.8) == "50.8 mm"


def test_a_sign_the_typeface_lacks_is_spelt_or_asked_for():
    assert plain("⌀ 12 ρ") == "dia.  12 rho" and plain("漢") == "?"


@pytest.mark.parametrize("view", ["side", "rear", "top"])
def test_an_elevation_is_to_scale_and_within_its_box(view):
    a = families.build(families.new_job("rear-receiver"))
    p, e = new(), Elevation(a, view)
    scale = e.fit(100.0, 300.0, 350.0, 250.0)
    e.draw(p.canvas)
    right, up = (np.array(v, dtype=float) for v in bodies.view_axes(view)[:2])
    corners = [np.array(c) for part in a.parts for c in bodies.corners(part)]
    for way, k in ((right, 0), (up, 1)):
        spans = [float(c @ way) for c in corners]
        seen = e.page(np.stack([e.low, e.high]))[:, k]
        assert np.ptp(seen) <= scale * (max(spans) - min(spans)) + 1e-6
    low, high = e.page(np.stack([e.low, e.high]))
    assert (low >= (159.9, 359.9)).all() and (high <= (390.1, 490.1)).all()
    one, two = e.at((0.0, 0.0, 0.0)), e.at(tuple(100.0 * right))
    assert two[0] - one[0] == pytest.approx(100.0 * scale) and two[1] == pytest.approx(one[1])
    image = np.asarray(pypdfium2.PdfDocument(p.finish())[0].render(scale=2).to_pil().convert("L"))
    height = image.shape[0]
    inside = image[height - 980 : height - 719, 318:782]
    assert (inside < 120).sum() > 200  # it is drawn there
