import dataclasses
import io
import json
import math
import re
from datetime import datetime

import ezdxf
import numpy as np
import pypdfium2
import pytest

from tests.assembly.trial import TRIALS
from urial import families
from urial.assembly import bodies
from urial.desk.start import demo_jobs
from urial.geometry import outline
from urial.geometry.shape import Plate
from urial.job import edit
from urial.job.file import FileError, load, read_job
from urial.making.drawings import drawings
from urial.making.parts import parts_list
from urial.measure.forgotten import forgotten
from urial.papers import dxf, packet, packet_folder, templates
from urial.prove.verdict import CAUTION, prove
from urial.shop.snapshot import usual

DPI = 200


def rendered(pdf, page):
    image = pypdfium2.PdfDocument(pdf)[page].render(scale=DPI / 72).to_numpy()
    return image[:, :, :3].mean(axis=2) < 128


@pytest.fixture(scope="module")
def rows(verdict):
    return parts_list(verdict.assembly)


def test_every_dxf_is_sound_and_has_the_area_of_the_solids_face(verdict, rows):
    pieces = packet.plate_pieces(verdict, rows)
    assert {m for m, _, _ in pieces} == {"B", "D", "E", "F", "H", "J"}
    for mark, shape, note in pieces:
        doc = ezdxf.read(io.StringIO(dxf.plate_dxf(shape, [mark, note]).decode()))
        assert not doc.audit().errors
        assert doc.units == ezdxf.units.MM
        space = doc.modelspace()
        outer = space.query('LWPOLYLINE[layer=="OUTLINE"]')
        assert len(outer) == 1 and outer[0].closed
        flat = np.array([(p.x, p.y) for p in ezdxf.path.make_path(outer[0]).flattening(0.001)])
        x, y = flat.T
        area = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
        holes = sum(math.pi * c.dxf.radius**2 for c in space.query('CIRCLE[layer=="HOLES"]'))
        assert area - holes == pytest.approx(bodies.face_area(shape), rel=2e-3)
        assert area == pytest.approx(outline.area(shape.outline), rel=1e-4)
        assert {"OUTLINE", "HOLES", "CENTRE", "FOLD"} <= {layer.dxf.name for layer in doc.layers}
        assert -0.1 < flat.min() < 0.1  # arcs are laid into the corner by their chords


def test_templates_print_at_true_size(verdict, rows):
    """Measured on the rendered page: the 100 mm bar, the 4 in bar, and the distance between two holes."""
    pdf = packet.template_pdf(verdict, rows)
    bare = {d.mark for d in drawings(verdict.assembly, rows, usual()) if not d.features}
    pieces = [p for p in packet.plate_pieces(verdict, rows) if p[0] not in bare]
    marks = [m for m, s, _ in pieces for _ in range(templates.tiles(s)[0] * templates.tiles(s)[1])]
    dark = rendered(pdf, 1 + marks.index("D"))
    per_mm = DPI / 25.4
    height = dark.shape[0]

    def longest_run(y_mm):
        best = 0
        for row in dark[round(height - (y_mm + 0.6) * per_mm) : round(height - (y_mm - 0.6) * per_mm)]:
            edges = np.flatnonzero(np.diff(np.concatenate([[0], row.astype(int), [0]])))
            best = max(best, int((edges[1::2] - edges[::2]).max(initial=0)))
        return best / per_mm

    assert longest_run(26) == pytest.approx(100, abs=0.5)
    assert longest_run(20) == pytest.approx(101.6, abs=0.5)
    shape = next(s for m, s, _ in pieces if m == "D")
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    ys, xs = np.nonzero(dark[round(22 * per_mm) : round(height - 40 * per_mm)])
    # the centre line runs 5 mm past the plate fore and aft, nothing runs past it sideways
    assert (ys.max() - ys.min()) / per_mm == pytest.approx(v1 - v0, abs=0.6)
    assert (xs.max() - xs.min()) / per_mm == pytest.approx(u1 - u0 + 10, abs=12)


def test_papers_to_wrap_round_a_coped_brace_are_in_the_templates(verdict):
    trial = dataclasses.replace(verdict, assembly=TRIALS["bent tube"](1.0)[0])
    parts = parts_list(trial.assembly)
    found = packet.wrap_pieces(trial, parts)
    brace = next(r.mark for r in parts if r.name == "brace")
    assert [m for m, _, _ in found] == [
        f"{brace} first end",
        f"{brace} second end",
    ]  # the bent tube's ends are square
    pages = text_of(packet.template_pdf(trial, parts))
    assert (
        sum("brace, 1 off" in " ".join(p.split()) and "100 mm" in p and "Template" in p for p in pages) == 2
    )
    assert not packet.wrap_pieces(verdict, parts_list(verdict.assembly))


def test_wide_plates_are_tiled_with_overlap(verdict):
    big = Plate(outline.rectangle(0, 0, 400, 500), 10)
    columns, down, wide, high = templates.tiles(big)
    assert columns * (wide - templates.OVERLAP) + templates.OVERLAP >= 400
    assert down * (high - templates.OVERLAP) + templates.OVERLAP >= 500
    assert (columns - 1) * (wide - templates.OVERLAP) < 400
    assert templates.tiles(Plate(outline.rectangle(0, 0, 100, 100), 10))[:2] == (1, 1)


def text_of(pdf):
    document = pypdfium2.PdfDocument(pdf)
    return [document[n].get_textpage().get_text_range() for n in range(len(document))]


@pytest.mark.parametrize(("paper", "size"), [("A4", (595, 842)), ("Letter", (612, 792))])
def test_the_packet_says_everything_and_repeats_the_caution_on_every_page(verdict, rows, paper, size):
    pdf = packet.packet_pdf(verdict, rows, paper)
    pages = text_of(pdf)
    assert tuple(round(x) for x in pypdfium2.PdfDocument(pdf)[0].get_size()) == size
    assert all("licensed engineer" in " ".join(p.split()) for p in pages)
    everything = " ".join(" ".join(pages).split())
    for c in verdict.checks:
        assert c.name in everything
    for r in rows:
        assert r.name.split(",")[0] in everything
    assert "UN R55" in everything and "ASD" in everything
    assert CAUTION[:30] in " ".join(pages[0].split())
    asked = sum((i.question + i.words).count("?") for i in forgotten(verdict.job, verdict.assembly))
    assert everything.count("?") == asked  # beyond those no letter that the font cannot write


def test_what_no_rule_judges_is_printed(job):
    welded = job
    for path, value in (
        ("stack.1.held", "welded"),
        ("vehicle.rail_welding", "allowed"),
        ("vehicle.rail_treated", "no"),
    ):
        welded = edit.put(welded, path, value)
    v = prove(welded)
    everything = " ".join(" ".join(text_of(packet.packet_pdf(v, parts_list(v.assembly)))).split())
    assert v.unchecked and all(u.what in everything for u in v.unchecked)
    assert f"{len(v.unchecked)} not judged" in everything


def test_a_packet_in_inches_reads_in_inches(job):
    v = prove(edit.put(job, "units", "inch"))
    everything = " ".join(text_of(packet.packet_pdf(v, parts_list(v.assembly))))
    assert '37 13/16"' in everything  # the 960 mm tube


def test_no_two_files_of_a_packet_are_called_alike_and_none_leaves_its_folder():
    """Also where capitals and small letters are one."""
    seen = 0
    for path, _, _ in demo_jobs():
        job = load(path).job
        if not job.has_part:
            continue
        v = prove(job)
        names = [name for name, *_ in packet.outlines(v, parts_list(v.assembly))]
        assert len({n.lower() for n in names}) == len(names), path.stem
        assert all(re.fullmatch(r"plate-[A-Za-z0-9-]+\.dxf", n) for n in names), path.stem
        seen += len(names)
    assert seen > 60


@pytest.mark.parametrize("mark", ["../../x", "A/B", "bl", "", "x" * 500, "CON", "A\n"])
def test_a_mark_that_is_none_is_refused_in_one_sentence(job, mark):
    """It would be stamped on steel, and stand in the name of a file."""
    raw = job.model_dump(mode="json")
    raw["marks"]["1/gusset"] = mark
    with pytest.raises(FileError) as said:
        read_job(json.dumps(raw).encode(), "odd.urial")
    assert "mark" in str(said.value) and str(said.value).endswith(".") and "\n" not in str(said.value)


def test_the_same_job_makes_the_same_packet(verdict, rows):
    when = datetime(2026, 9, 18, 14, 30)
    made = packet.packet_pdf(verdict, rows, when=when)
    assert (
        made == packet.packet_pdf(verdict, rows, when=when) and b"20260918143000" in made
    )  # and it says when


def test_elevations_are_to_the_scale_they_state(verdict):
    from urial.papers.pdf import MM, Elevation

    e = Elevation(verdict.assembly, "side")
    scale = e.fit(0, 0, 500, 500)
    ball, pin = verdict.assembly.places["ball"], verdict.assembly.places["pin"]
    assert abs(e.at(ball)[0] - e.at(pin)[0]) == pytest.approx(200 * scale)
    assert e.at(ball)[0] > e.at(pin)[0]  # seen from the left, the rear is to the right
    assert scale < MM


def test_a_full_folder_is_reported_and_nothing_is_half_written(verdict, tmp_path, monkeypatch):
    from urial.job import file

    made = packet.packet(verdict)
    blocked = tmp_path / "taken"
    blocked.write_text("a file in the way")
    with pytest.raises(file.FileError, match="folder"):
        packet_folder.write_packet(made, blocked)
    assert blocked.read_text() == "a file in the way"
    assert families.families()


# ---- the survey on paper


def words_of(pdf):
    pages = pypdfium2.PdfDocument(pdf)
    return "\n".join(pages[n].get_textpage().get_text_range() for n in range(len(pages)))


@pytest.mark.parametrize("kind", ["pickup", "two-wheeler", "tractor", "trailer", "post"])
def test_the_blank_sheet_has_every_numbered_box_and_its_drawing(kind):
    from urial.measure.sheet import boxes
    from urial.papers.survey_sheet import survey_pdf

    job = families.survey_job(kind)
    for paper in ("A4", "Letter"):
        text = words_of(survey_pdf(job, paper))
        for box in boxes(job):
            assert f"{box.number}" in text and box.title.split(" ")[0] in text, box
        assert "axle stands" in text
    image = pypdfium2.PdfDocument(survey_pdf(job))[0].render(scale=1).to_numpy()
    assert (image[150:400] < 128).any(axis=2).mean() > 0.005  # something is drawn there
    assert "inches" in words_of(survey_pdf(edit.put(job, "units", "inch")))


def test_the_packet_prints_the_survey_and_what_is_still_open(verdict, rows):
    text = words_of(packet.packet_pdf(verdict, rows)).replace("\r\n", " ").replace("\n", " ")
    assert "What people forget" in text and text.count("OPEN") == 7
    assert "Left and right mirror each other" in text


def test_a_keep_out_is_hatched_on_the_packets_elevations(verdict, rows):
    from urial.job.survey import Block, Survey

    keep = Block(name="wall", reason="a wall", behind_mm=1150, long_mm=120, height_mm=600, high_mm=120)
    kept = prove(verdict.job.model_copy(update={"survey": Survey(keep_outs=(keep,))}))
    assert "a wall" in words_of(packet.packet_pdf(kept, rows))
    inks = []
    for v in (verdict, kept):
        pdf = packet.packet_pdf(v, rows)
        page = next(n for n, text in enumerate(text_of(pdf)) if "Side, from the left" in text)
        inks.append(rendered(pdf, page).sum())
    assert inks[1] > inks[0] * 1.01


# ---- an inch shop's packet


@pytest.fixture(scope="module")
def inches():
    verdict = prove(families.in_inches(families.new_job("rear-receiver")))
    return packet.packet_pdf(verdict, parts_list(verdict.assembly))


def test_what_is_sold_in_millimetres_keeps_its_name_and_a_mere_thickness_does_not(inches):
    text = "\n".join(text_of(inches)).replace("\u202f", " ")
    assert 'bolt M12 × 40 mm (1 9/16")' in text.replace("\n", " ")
    assert 'plate 1 1/4"' in text and "31.75 mm" not in text.split("Every check")[0]


def test_what_comes_to_nothing_in_a_sum_is_nothing_in_the_working(inches):
    assert not re.search(r"\de-\d", "\n".join(text_of(inches)))


def test_a_mass_that_was_typed_in_pounds_is_printed_as_typed():
    job = edit.write(families.in_inches(families.new_job("rear-receiver")), "duty.trailer_mass_kg", "3500 lb")
    verdict = prove(job)
    text = "\n".join(text_of(packet.packet_pdf(verdict, parts_list(verdict.assembly))))
    assert "3500 lb" in text and "3501 lb" not in text


def test_no_heading_stands_alone_at_the_foot_of_a_page(inches):
    headings = {"Basis", "Load cases", "Parts", "To buy", "Welds", "Load chain", "Every check"}
    for page in pypdfium2.PdfDocument(inches):
        body = [line for line in page.get_textpage().get_text_range().splitlines() if line.strip()]
        last = next(line for line in reversed(body) if "Urial." not in line and "licensed" not in line)
        assert not any(last.startswith(h) for h in headings), last


def test_names_under_the_chain_do_not_run_into_each_other(inches):
    """Each link's name is set within its own width, so that no two lie on one another."""
    for page in pypdfium2.PdfDocument(inches):
        words = page.get_textpage()
        boxes = [words.get_rect(n) for n in range(words.count_rects())]
        small = [b for b in boxes if 3 < b[3] - b[1] < 5.2]  # the chain's lettering is the smallest there is
        for n, a in enumerate(small):
            assert not any(
                a[0] < b[2] - 0.5 and b[0] < a[2] - 0.5 and a[1] < b[3] - 1 and b[1] < a[3] - 1
                for b in small[:n]
            )


def test_the_packet_says_how_it_goes_together_and_what_is_lived_with(verdict, rows):
    """The finding a 9 mm hole makes stands there in red; waived, it stands there with its reason."""
    from urial.fit import fit
    from urial.job.model import Waiver

    def page(job):
        v = prove(job)
        doc = pypdfium2.PdfDocument(packet.packet_pdf(v, parts_list(v.assembly)))
        texts = [doc[i].get_textpage().get_text_range() for i in range(len(doc))]
        return " ".join(next(t for t in texts if "Putting it together" in t).split())

    clear = page(verdict.job)
    assert "Nothing was found in the way" in clear and "On, in this order" in clear
    tight = families.new_job("two-wheeler")
    (finding,) = fit(tight).findings
    said = page(tight)
    assert "In the way" in said and finding.words.split(":")[0] in said
    lived = tight.model_copy(update={"waived": (Waiver(finding=finding.id, reason="drilled in place"),)})
    said = page(lived)
    assert "In the way" not in said and "Reason: drilled in place" in said


def test_what_endurance_counts_on_is_written_on_the_weld_plan(verdict):
    """Bevels are on the plan with their depth; ground toes only where they are counted on."""
    from urial.making.welds import weld_plan

    row = next(r for r in weld_plan(verdict.assembly) if "ball plate" in r.what)
    assert row.kind == "bevel and fillet" and "15.9 mm each" in row.prep

    def said(job):
        v = prove(job)
        doc = pypdfium2.PdfDocument(packet.packet_pdf(v, parts_list(v.assembly)))
        return " ".join(" ".join(doc[i].get_textpage().get_text_range() for i in range(len(doc))).split())

    plain = said(verdict.job)
    assert "from both sides to the middle" in plain and "ground smooth with a burr" not in plain
    assert "ground smooth with a burr" in said(edit.put(verdict.job, "welding.toes", "ground"))


def test_a_case_that_loads_many_places_prints_all_of_it():
    """120 kg on a rack at three times its weight are 3.53 kN down, however many holes it is shared by."""
    job = families.new_job("rack-carrier")
    duty = job.duties[0]
    share = 120.0 / sum(i.kg for i in duty.items)
    items = tuple(i.model_copy(update={"kg": i.kg * share}) for i in duty.items)
    verdict = prove(job.model_copy(update={"duties": (duty.model_copy(update={"items": items}),)}))
    text = "\n".join(text_of(packet.packet_pdf(verdict, parts_list(verdict.assembly))))
    assert re.search(r"drop\D+0 kN\D+0 kN\s+-3\.53 kN", text), text.split("Load cases")[1][:600]
