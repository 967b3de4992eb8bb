"""What nobody measured is seen as such: in the field, on the drawing, on the tab, before cutting and on
paper.
"""

from __future__ import annotations

import pypdfium2
import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox

from tests.desk.hands import click, field
from tests.desk.test_load import type_into
from urial.desk.start import demo_jobs
from urial.job import origin
from urial.job.duty import Carrier, Item
from urial.papers.packet import packet


def text_of(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(pdf)
    return "\n".join(page.get_textpage().get_text_range() for page in document)


@pytest.fixture
def fresh(window):
    window.store.document.saved_job = window.store.job
    window.new_job("rear-receiver")
    window.go("Measure")
    return window


def test_starting_values_are_marked_and_counted_until_they_are_typed_or_kept(qtbot, fresh):
    store = fresh.store
    count = len(fresh.stations["Measure"].assumed)
    assert (
        fresh.tabs["Measure"].words == f"{count} assumed"
        and str(count) in fresh.stations["Measure"].unmeasured.text()
    )
    first, second = (field(qtbot, fresh, f"vehicle.left.{n}.height_mm") for n in (0, 1))
    assert first.line.property("origin") == "assumed" and "nobody measured" in first.line.toolTip()
    type_into(qtbot, first.line, "611 mm")
    assert first.line.property("origin") == "" and "Typed" in first.line.toolTip()
    second.line.setFocus()
    qtbot.keyClick(second.line, Qt.Key.Key_Return)  # right as it stands
    assert second.line.property("origin") == "" and store.job.origins["vehicle.left.1.height_mm"].on
    assert fresh.tabs["Measure"].words == f"{count - 2} assumed"
    fresh.undo_action.trigger()
    fresh.undo_action.trigger()
    assert fresh.tabs["Measure"].words == f"{count} assumed" and not store.job.origins


def test_leaving_a_field_untouched_measures_nothing(qtbot, fresh):
    here = field(qtbot, fresh, "vehicle.left.0.height_mm")
    here.line.setFocus()
    qtbot.keyClick(here.line, Qt.Key.Key_Tab)
    assert not fresh.store.job.origins


def test_who_holds_the_tape_is_said(qtbot, fresh):
    click(qtbot, fresh, "page:Datum")
    type_into(qtbot, field(qtbot, fresh, "survey.by").line, "Ada")
    click(qtbot, fresh, "page:Holes")
    type_into(qtbot, field(qtbot, fresh, "vehicle.left.0.height_mm").line, "611 mm")
    assert fresh.store.job.origins["vehicle.left.0.height_mm"].words.startswith("measured by Ada, 20")


def test_a_name_too_long_to_be_said_refuses_no_figure(qtbot, fresh):
    """Three hundred letters in the field for who measures: every edit after it used to fail."""
    click(qtbot, fresh, "page:Datum")
    type_into(qtbot, field(qtbot, fresh, "survey.by").line, "a" * 300)
    click(qtbot, fresh, "page:Holes")
    type_into(qtbot, field(qtbot, fresh, "vehicle.left.0.height_mm").line, "611 mm")
    assert fresh.store.job.vehicle.left[0].height_mm == 611
    said = fresh.store.job.origins["vehicle.left.0.height_mm"]
    assert said.how == "measured" and said.by == "a" * 119 + "…"
    fresh.switch_units()
    assert fresh.store.job.units == "inch"


def test_the_right_side_copied_from_the_left_is_assumed(qtbot, fresh):
    for n in range(3):
        type_into(qtbot, field(qtbot, fresh, f"vehicle.left.{n}.height_mm").line, f"{611 + n} mm")
    type_into(qtbot, field(qtbot, fresh, "vehicle.right.0.height_mm").line, "650 mm")
    click(qtbot, fresh, "copy right")
    job = fresh.store.job
    assert [h.height_mm for h in job.vehicle.right] == [611, 612, 613]
    assert origin.is_assumed(job, "vehicle.right.0.height_mm") and not origin.is_assumed(
        job, "vehicle.left.0.height_mm"
    )


def test_the_drawing_says_which_sizes_are_assumed(qtbot, fresh, monkeypatch):
    drawn = []
    from urial.desk.scene import labels

    real = labels.units.show
    monkeypatch.setattr(labels.units, "show", lambda *a, **k: drawn.append(real(*a, **k)) or drawn[-1])
    fresh.scene.repaint()
    assert drawn and any(origin.is_assumed(fresh.store.job, d.path) for _, d in fresh.scene._labels)


def test_a_survey_that_contradicts_itself_turns_measure_red_and_cutting_waits(qtbot, window, tmp_path):
    store = window.store
    tapes = store.job.survey.tapes
    window.go("Cut")
    cut = window.stations["Cut"].parts
    assert cut.write_button.isEnabled() and not cut.doubt.isVisible()
    store.put("survey.tapes.0.length_mm", tapes[0].length_mm + 45.0)
    assert window.tabs["Measure"].words == "contradicts itself" and window.tabs["Measure"].needs
    assert (
        window.tabs["Cut"].words == "wait: survey"
        and not cut.write_button.isEnabled()
        and "contradicts itself" in cut.doubt.text()
    )
    click(qtbot, window, "write anyway", QCheckBox)
    assert cut.write_button.isEnabled()
    first = text_of(packet(store.verdict).files["packet.pdf"])
    assert "The survey contradicts itself" in first.split("Load cases")[0]
    store.undo()
    assert cut.write_button.isEnabled() and not cut.doubt.isVisible() and window.tabs["Cut"].words == "ready"


def test_the_packets_first_page_lists_what_is_assumed_and_simulated(fresh):
    store = fresh.store
    store.put_job(
        store.job.model_copy(update={"duty": store.job.duty.model_copy(update={"tongue_mass_kg": 201.0})}),
        "duty",
        "weighed",
        origin.Origin(how="simulated", by="the scale"),
    )
    pdf = text_of(packet(store.verdict).files["packet.pdf"]).split("Load cases")[0]
    assert "Assumed, not measured" in pdf and "left hole 1, behind" in pdf.replace("\n", " ")
    assert "From a simulated instrument" in pdf and "201" in pdf.split("simulated instrument")[1]


def test_every_later_page_says_that_it_rests_on_what_nobody_measured(fresh):
    pages = [
        page.get_textpage().get_text_range()
        for page in pypdfium2.PdfDocument(packet(fresh.store.verdict).files["packet.pdf"])
    ]
    count = len(fresh.store.document.assumed)
    assert len(pages) > 3
    assert all(f"{count} figures assumed, not measured: see page 1" in page for page in pages[1:])


def test_a_choice_nobody_made_is_assumed_until_it_is_clicked(qtbot, fresh):
    fresh.open_demo(next(p for p, *_ in demo_jobs() if p.stem == "weir-anchor"))
    store = fresh.store
    store.put_job(origin.mark(store.job, ["vehicle.soil"], None), "vehicle", "forgotten", "assumed")
    fresh.go("Measure")
    click(qtbot, fresh, "page:Host")
    here = field(qtbot, fresh, "vehicle.soil")
    assert here.choices.property("origin") == "assumed" and "click the one" in here.choices.toolTip()
    click(qtbot, fresh, f"choice:vehicle.soil:{store.job.vehicle.soil}")  # right as it stands
    assert here.choices.property("origin") == "" and not store.document.assumed
    store.undo()
    assert store.document.assumed == ("vehicle.soil",)
    other = next(o for o in here.buttons if o != store.job.vehicle.soil)
    click(qtbot, fresh, f"choice:vehicle.soil:{other}")
    assert store.job.vehicle.soil == other and not store.document.assumed


def test_nothing_is_assumed_in_a_job_that_was_measured(window):
    assert not window.store.document.assumed and "Assumed" not in text_of(
        packet(window.store.verdict).files["packet.pdf"]
    )


def test_deck_and_duty_that_differ_are_said_on_their_pages_and_in_the_warnings(qtbot, window):
    window.go("Load")
    load = window.stations["Load"]
    assert not load.cannot.isVisible()
    window.store.put("duty.trailer_mass_kg", window.store.job.duty.trailer_mass_kg - 300)
    assert load.cannot.isVisible() and "one trailer cannot be both" in load.cannot.text()
    assert any("one trailer cannot be both" in w for w in window.store.verdict.warnings)
    click(qtbot, window, "page:Deck")
    click(qtbot, window, "use deck")
    assert not load.cannot.isVisible()


def test_a_trailer_that_stands_in_the_vehicle_colours_the_tab(window):
    window.go("Load")
    in_the_way = Carrier(items=(Item(name="box", behind_mm=1800.0, above_mm=300.0),))
    window.store.put_job(
        window.store.job.model_copy(update={"duties": (in_the_way,)}), "duties", "carry a box"
    )
    load = window.stations["Load"]
    assert (
        window.tabs["Load"].words == "cannot be so"
        and window.tabs["Load"].needs
        and "Straight behind the vehicle" in load.cannot.text()
    )


def test_clicking_away_from_a_typed_dimension_keeps_it(qtbot, window):
    window.go("Build")
    window.scene.settle()
    window.scene.repaint()
    box, d = next((b, d) for b, d in window.scene._labels if d.path.endswith(".drop_mm"))
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    window.scene.editor.selectAll()
    qtbot.keyClicks(window.scene.editor, "131 mm")
    qtbot.mouseClick(
        window.scene,
        Qt.MouseButton.LeftButton,
        pos=window.scene.rect().bottomRight() - window.scene.rect().center() / 20,
    )
    assert window.scene.editor is None
    from urial.job import edit

    assert edit.get(window.store.job, d.path) == pytest.approx(131.0)


def test_wrong_text_in_a_dimension_stays_when_clicking_away_and_escape_leaves_it(qtbot, window):
    window.go("Build")
    window.scene.settle()
    window.scene.repaint()
    box = next(b for b, d in window.scene._labels if d.path.endswith(".drop_mm"))
    before = window.store.job
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    window.scene.editor.selectAll()
    qtbot.keyClicks(window.scene.editor, "nonsense")
    qtbot.mouseClick(
        window.scene,
        Qt.MouseButton.LeftButton,
        pos=window.scene.rect().bottomRight() - window.scene.rect().center() / 20,
    )
    assert window.scene.editor is not None and window.scene.problem.isVisible() and window.store.job is before
    qtbot.keyClick(window.scene.editor, Qt.Key.Key_Escape)
    assert window.scene.editor is None and window.store.job is before


def test_the_same_figure_written_once_more_is_right(qtbot, fresh):
    here = field(qtbot, fresh, "vehicle.left.0.height_mm")
    shown = here.line.text()
    type_into(qtbot, here.line, shown.split("\u00a0")[0].split(" ")[0])  # without its unit, in the job's
    assert here.line.text() == shown and here.line.property("origin") == ""
    assert fresh.store.job.origins["vehicle.left.0.height_mm"].how == "typed"


def test_another_of_the_same_kind_makes_every_figure_of_it_assumed_again(qtbot, fresh):
    store = fresh.store
    fresh.stations["Measure"].show_page("Host")
    page = fresh.stations["Measure"].pages["Host"]
    assert not page.another.isVisible()  # nothing is known of this one
    count = len(fresh.stations["Measure"].assumed)
    store.write("vehicle.left.0.height_mm", "611 mm")
    store.write("duty.trailer_mass_kg", "1500 kg")
    assert page.another.isVisible() and len(fresh.stations["Measure"].assumed) == count - 1
    kind = store.job.vehicle.kind
    click(qtbot, page, f"kind:{kind}")
    assert "another vehicle" in page.warned.text() and "1 figure" in page.warned.text()
    part = store.job.stack
    click(qtbot, page, "another host")
    assert len(fresh.stations["Measure"].assumed) == count and store.job.stack == part
    assert store.job.vehicle.left[0].height_mm == 611.0  # a starting value like the others
    assert store.job.origins["duty.trailer_mass_kg"].how == "typed"  # the trailer is the same
    fresh.undo_action.trigger()
    assert store.job.origins["vehicle.left.0.height_mm"].how == "typed"
