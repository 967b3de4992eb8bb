"""Load from the user's side: drag cargo, weigh with the scale, change school, add duties, swing, sway,
winch.
"""

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PySide6.QtWidgets import QLineEdit, QPushButton, QWidget

from tests.desk.hands import click, field, minded, shown
from urial import units
from urial.desk.start import demo_jobs
from urial.job import edit
from urial.job.duty import Cargo, Carrier, Deck
from urial.job.file import load as read
from urial.job.origin import Origin
from urial.road import deck as decks

DECK = Deck(
    cargo=(
        Cargo(name="sled", kg=420, front_mm=900, long_mm=1600, wide_mm=700, high_mm=500),
        Cargo(
            name="water", kind="liquid", kg=260, least_kg=20, front_mm=150, long_mm=700, wide_mm=1200, fill=70
        ),
    )
)


@pytest.fixture
def load(qtbot, window):
    window.store.put_job(edit.put(window.store.job, "deck", DECK), "deck", "deck", Origin(how="typed"))
    qtbot.mouseClick(window.tabs["Load"], Qt.MouseButton.LeftButton)
    return window.stations["Load"]


def type_into(qtbot, editor, text):
    editor.setFocus()
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)


def open_page(qtbot, window, name):
    click(qtbot, window, f"page:{name}")
    return window.stations["Load"].pages[name]


def drag(qtbot, view, start, stop):
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for k in range(1, 5):
        qtbot.mouseMove(view, start + (stop - start) * k / 4)
    return lambda: qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=stop)


# ---- deck


def test_dragging_a_block_changes_every_number_under_the_hand_and_is_one_undo(qtbot, window, load):
    page = open_page(qtbot, window, "Deck")
    view = page.canvas
    assert window.stage.currentWidget() is view
    before, figures = window.store.job, page.figures.text()
    box = view.boxes()[0][0].center().toPoint()
    move = QPoint(round(400 * view.scale), round(120 * view.scale))
    release = drag(qtbot, view, box, box + move)
    assert (
        page.figures.text() != figures and window.store.job == before
    )  # numbers follow, the job waits for the hand
    expected = decks.loaded(view.deck)
    assert f"{expected.percent:.1f} %" in page.figures.text()
    release()
    moved = window.store.job.deck.cargo[0]
    assert moved.front_mm == pytest.approx(1300, abs=15) and moved.across_mm == pytest.approx(120, abs=15)
    assert window.undo_action.text() == "Undo: move sled"
    window.undo_action.trigger()
    assert window.store.job == before and view.deck == DECK


def test_a_block_cannot_be_dragged_off_the_deck(qtbot, window, load):
    page = open_page(qtbot, window, "Deck")
    box = page.canvas.boxes()[0][0].center().toPoint()
    drag(qtbot, page.canvas, box, box + QPoint(3000, 900))()
    c = window.store.job.deck.cargo[0]
    assert c.front_mm + c.long_mm == pytest.approx(
        DECK.long_mm
    ) and c.across_mm + c.wide_mm / 2 == pytest.approx(DECK.wide_mm / 2)


def test_a_block_is_turned_nudged_and_put_where_the_tongue_weight_is_right(qtbot, window, load):
    page = open_page(qtbot, window, "Deck")
    view = page.canvas
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.boxes()[0][0].center().toPoint())
    assert view.selected == 0
    qtbot.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert window.store.job.deck.cargo[0].front_mm == 1000
    click(qtbot, window, "turn cargo")
    c = window.store.job.deck.cargo[0]
    assert (c.long_mm, c.wide_mm) == (700, 1600)
    window.undo_action.trigger()
    click(qtbot, window, "solve")
    assert decks.loaded(window.store.job.deck).percent == pytest.approx(12, abs=0.01)
    type_into(qtbot, field(qtbot, window, "deck.target").line, "30")
    click(qtbot, window, "solve")
    assert "alone cannot make 30 %" in page.problem.text()


def test_the_decks_masses_go_into_the_duty_in_one_step(qtbot, window, load):
    page = open_page(qtbot, window, "Deck")
    b = decks.loaded(DECK)
    click(qtbot, window, "use deck")
    assert window.store.job.duty.trailer_mass_kg == pytest.approx(
        b.total_kg, abs=0.1
    ) and window.store.job.duty.tongue_mass_kg == pytest.approx(b.tongue_kg, abs=0.1)
    assert not page.use.isEnabled()
    assert window.undo_action.text() == "Undo: masses from the deck"


def test_a_deck_that_cannot_be_is_refused_and_the_old_kept(qtbot, window, load):
    page, before = open_page(qtbot, window, "Deck"), window.store.job
    for path, wrong, says in (
        ("deck.axle_mm", "7 m", "last axle is behind the deck"),
        ("deck.cargo.0.front_mm", "3 m", "hangs over the edge"),
        ("deck.cargo.0.kg", "99 t", "must be between"),
        ("deck.cargo.1.least_kg", "400 kg", "used up than full"),
        ("deck.empty_kg", "none", "not a mass"),
        ("deck.track_mm", "-2", "must be between"),
    ):
        page.canvas._pick(int(path.split(".")[2]) if "cargo" in path else 0)
        editor = field(qtbot, window, path)
        type_into(qtbot, editor.line, wrong)
        assert says in editor.note.text() and editor.line.text() == wrong, path
        assert window.store.job == before, path


def test_too_little_tongue_weight_says_what_happens(qtbot, window, load):
    page = open_page(qtbot, window, "Deck")
    window.store.put_job(edit.put(window.store.job, "deck.cargo.0.front_mm", 1700.0), "deck", "back")
    assert "sway by itself" in page.warned.text() or "lifts the ball" in page.warned.text()
    assert page.scale.range[0] < 4


# ---- weighing


def test_the_tongue_is_weighed_with_the_live_scale(qtbot, window, load):
    page = open_page(qtbot, window, "Weigh")
    click(qtbot, window, "add weighing")
    n = len(window.store.job.weighings) - 1
    click(qtbot, window, f"choice:weighings.{n}.method:beam")
    click(qtbot, window, "scale simulated")
    page.live.simulated.noise = 0.0
    page.live.simulated.value = 62.0
    qtbot.waitUntil(lambda: page.live.value == 62.0, timeout=5000)
    click(qtbot, window, "take reading")
    assert window.store.job.weighings[n].reading_kg == 62.0 and window.store.job.weighings[n].date
    assert "Not weighed yet: “fixed support to coupler”" in page.result.text()
    type_into(qtbot, field(qtbot, window, f"weighings.{n}.coupler_mm").line, "300 mm")
    type_into(qtbot, field(qtbot, window, f"weighings.{n}.scale_mm").line, "900 mm")
    assert "186\u00a0kg" in page.result.text() and "±" in page.result.text()
    click(qtbot, window, "use weighing")
    assert window.store.job.duty.tongue_mass_kg == pytest.approx(186)
    assert page.result.text().startswith("SIMULATED") and "SIMULATED" in page.live.live.text()
    assert (
        window.store.job.origins["duty.tongue_mass_kg"].how == "simulated"
    )  # for good: what is made of it says so too
    page.live.simulated.fault = "garbage"
    qtbot.waitUntil(lambda: "not a reading" in page.live.live.text(), timeout=5000)
    click(qtbot, window, "take reading")
    assert "no reading" in page.problem.text() and window.store.job.weighings[n].reading_kg == 62.0
    page.live.simulated.fault = "dropout"
    qtbot.waitUntil(lambda: "quiet" in page.live.live.text(), timeout=5000)
    page.live.stop()
    assert [page.live.sends.itemText(n) for n in range(page.live.sends.count())] == [
        "one figure a line",
        "first figure in a line",
        "last figure in a line",
    ]
    page.live.sends.setCurrentIndex(2)  # words, no expressions, for the one who stands at the scale
    page.live.baud.setCurrentText("4800 baud")
    click(qtbot, window, "scale simulated")
    qtbot.waitUntil(lambda: page.live.value is not None, timeout=5000)


def test_a_weighing_that_cannot_be_is_said_and_not_used(qtbot, window, load):
    page = open_page(qtbot, window, "Weigh")
    click(qtbot, window, "add weighing")
    n = len(window.store.job.weighings) - 1
    click(qtbot, window, f"choice:weighings.{n}.method:jack")
    for name, text in (("reading_kg", "80 kg"), ("axle_mm", "3300 mm"), ("jack_behind_mm", "4 m")):
        type_into(qtbot, field(qtbot, window, f"weighings.{n}.{name}").line, text)
    before = window.store.job.duty
    click(qtbot, window, "use weighing")
    assert "behind the trailer's axles" in page.problem.text() and window.store.job.duty == before


# ---- trailer, duties, cases


def test_the_school_is_changed_and_kept_with_the_job(qtbot, window, load):
    page = open_page(qtbot, window, "Duties")
    assert "inside this school's 10–15 %" in page.trailer.advice.text()
    click(qtbot, window, "choice:duty.school:4-8")
    assert (
        "over this school's 8 %" in page.trailer.advice.text()
        and window.tabs["Load"].words == "tongue weight"
    )
    window.undo_action.trigger()
    assert window.tabs["Load"].words == "clear"


def test_a_carrier_is_added_judged_and_shown_by_its_arrows(qtbot, window, load):
    page = open_page(qtbot, window, "Duties")
    click(qtbot, window, "duty:carrier")
    assert window.store.job.duties[0].kind == "carrier" and "Hardest: drop" in page.said.text()
    type_into(qtbot, field(qtbot, window, "duties.0.items.0.kg").line, "90")
    click(qtbot, window, "choice:duties.0.ground:unpaved")
    cases = open_page(qtbot, window, "Cases")
    titles = [cases.cases.item(n).text() for n in range(cases.cases.count())]
    row = next(n for n, t in enumerate(titles) if t.startswith("carrier, drop"))
    cases.cases.setCurrentRow(row)
    assert window.store.shown_case() == "carrier: drop" and "house rule" in cases.source.text()
    type_into(qtbot, cases.editors["up"], "-4")
    assert (
        window.store.job.duties[0].factors == {"drop/up": -4.0}
        and "(changed)" in cases.cases.item(row).text()
    )
    click(qtbot, window, "policy back")
    assert not window.store.job.duties[0].factors
    window.scene.repaint()
    open_page(qtbot, window, "Duties")
    away = shown(qtbot, window, "drop duty")
    for _ in range(2):  # the second meets a card that is gone already
        qtbot.mouseClick(away, Qt.MouseButton.LeftButton)
    assert not window.store.job.duties and page.chosen == -1 and page.trailer is not None


def test_a_thing_set_on_wheels_gets_their_sizes_and_its_rolling_cases(qtbot, window, load):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "milk-trailer"))
    qtbot.mouseClick(window.tabs["Load"], Qt.MouseButton.LeftButton)
    click(qtbot, window, "chosen duty:0")
    assert not [
        f for f in window.findChildren(QWidget, "field:duties.0.items.0.wheelbase_mm") if f.isVisible()
    ]
    assert not window.findChildren(QPushButton, "acts:1/deck 1.left")  # a deck is one place, not twenty-five
    chosen = field(qtbot, window, "duties.0.items.0.stands")
    wheels = next(b for b in chosen.findChildren(QPushButton) if b.text() == "wheels")
    qtbot.mouseClick(wheels, Qt.MouseButton.LeftButton)
    assert window.store.job.duties[0].items[0].stands == "wheels"
    editor = field(qtbot, window, "duties.0.items.0.track_mm").findChild(QLineEdit)
    type_into(qtbot, editor, "700")
    assert window.store.job.duties[0].items[0].track_mm == 700
    page = open_page(qtbot, window, "Cases")
    rows = [page.cases.item(n).text() for n in range(page.cases.count())]
    assert [r for r in rows if r.startswith("front on 5, left: milk churns rolls on")]
    window.undo_action.trigger()
    window.undo_action.trigger()
    rows = [page.cases.item(n).text() for n in range(page.cases.count())]
    assert not [r for r in rows if "rolls on" in r]


def test_a_part_with_nothing_to_do_is_drawn_and_says_what_to_ask_of_it(qtbot, window, load):
    page = open_page(qtbot, window, "Duties")
    parts = len(window.store.verdict.assembly.parts)
    click(qtbot, window, "drop duty")
    assert (
        "Nothing is asked of the part" in page.said.text()
        and window.store.refusal == ""
        and page.trailer is None
    )
    assert len(window.store.verdict.assembly.parts) == parts and not window.store.has_part
    assert not window.chain.isVisible() and not window.tabs["Prove"].isVisible()
    window.go("Build")
    assert "Nothing is asked of the part" in minded(window.stations["Build"])
    window.go("Load")
    click(qtbot, window, "duty:tow")
    assert (
        window.store.job.duty.towed
        and window.store.has_part
        and page.trailer is not None
        and window.chain.isVisible()
    )


# ---- stance, swing, sway, winch


def test_what_has_nothing_to_bend_it_is_drawn_straight_however_it_came_there(qtbot, window, load):
    """Bent, then nothing is asked of the part, then there is no part at all; then all of it back."""
    window.scene.bend_button.click()
    assert window.scene.show_deflection
    job = window.store.job
    for other in (
        edit.put(job.model_copy(update={"duties": ()}), "duty.towed", False),
        job.model_copy(update={"stack": (), "duties": (Carrier(title="rack"),)}),
    ):
        window.store.put_job(other, "stack", "less and less")
        window.scene.settle()
        assert not window.grab().isNull()
    window.scene.bend_button.click()
    window.scene.bend_button.click()  # nothing to bend: it stays straight
    assert not window.scene.show_deflection
    window.undo_action.trigger()
    window.undo_action.trigger()
    window.scene.bend_button.click()
    window.scene.settle()
    assert window.scene.show_deflection and window.store.verdict.forces is not None


def test_the_trailer_is_levelled_by_one_button(qtbot, window, load):
    page = open_page(qtbot, window, "Stance")
    window.store.put_job(edit.put(window.store.job, "duty.coupler_height_mm", 380.0), "duty", "lower coupler")
    assert "nose up" in page.level.text()
    click(qtbot, window, "level it")
    assert "level" in page.level.text() and not page.mend.isVisible()
    assert "departure" in page.figures.text() and "Still seen: number plate" in page.seen.text()


def test_a_mount_set_by_holes_is_levelled_to_the_nearest_hole(qtbot, window, load):
    page = open_page(qtbot, window, "Stance")
    mount = window.store.job.piece("ball-mount")
    holes = mount.values.model_copy(update={"shape": "holes", "ball_drop_mm": 90.0})
    window.store.put_job(edit.put(window.store.job, f"stack.{mount.id}", holes), "stack", "set by holes")
    assert window.store.refusal is None or not window.store.refusal
    pitch = mount.values.pitch_mm
    qtbot.waitUntil(lambda: not window.store.reckoning, timeout=20000)
    off = page._drop  # the top hole: how much lower the ball would have to be
    window.store.put_job(
        edit.put(
            window.store.job,
            "duty.coupler_height_mm",
            window.store.job.duty.coupler_height_mm + off - 2 * pitch - 4,
        ),
        "duty",
        "two holes lower, and a little",
    )
    qtbot.waitUntil(lambda: "Hole 3 is nearest to level" in page.mend.text(), timeout=20000)
    assert "4 mm off" in page.mend.text() or "3/16" in page.mend.text()
    click(qtbot, window, "level it")
    assert window.store.job.piece("ball-mount").values.hole == 3
    qtbot.waitUntil(lambda: "stands level" in page.level.text(), timeout=20000)
    assert not page.mend.isVisible()


def test_the_trailer_is_swung_round_by_hand_and_the_touch_becomes_the_jackknife_angle(qtbot, window, load):
    page = open_page(qtbot, window, "Swing")
    view = page.canvas
    view._place()
    assert "First touch at" in page.words.text()
    start = view.at(-view.ball[0] + 900, 0).toPoint()
    stop = view.at(-view.ball[0] + 640, 640).toPoint()
    drag(qtbot, view, start, stop)()
    assert window.store.job.running.angle_deg == pytest.approx(45, abs=2)
    view.repaint()
    click(qtbot, window, "take angle")
    assert f"{window.store.job.duty.articulation_deg:.0f}°" in page.words.text()
    type_into(qtbot, field(qtbot, window, "deck.front_mm").line, "400")
    assert page.words.property("role") == "problem" and "lengthen the tongue" in page.words.text()


def test_sway_is_told_for_this_load_and_played(qtbot, window, load):
    page = open_page(qtbot, window, "Sway")
    words = page.words.text()
    assert "At 90 km/h it is" in words and page.moved.isVisible()
    type_into(qtbot, field(qtbot, window, "running.speed_kmh").line, "110")
    assert "At 110 km/h it is" in page.words.text()
    click(qtbot, window, "play sway")
    assert page.canvas.timer.isActive()
    qtbot.waitUntil(lambda: page.canvas.time > 0.2, timeout=3000)
    page.canvas.repaint()
    page.canvas.stop()
    type_into(qtbot, field(qtbot, window, "running.speed_kmh").line, "fast")
    assert "not a speed" in field(qtbot, window, "running.speed_kmh").note.text()


def test_the_legs_of_an_anchor_are_dragged_apart_until_a_link_is_over(qtbot, window, load):
    page = open_page(qtbot, window, "Winch")
    click(qtbot, window, "add anchor")
    view = page.canvas
    view._place()
    assert page.bars.rows[0][1] < 0.5
    type_before = window.store.job.duties[0].angle_deg
    end = view.at(*view.ends()[1]).toPoint()
    far = view.at(1000 * view.length + 60, 2600).toPoint()
    drag(qtbot, view, end, far)()
    angle = window.store.job.duties[0].angle_deg
    assert angle > 150 > type_before and page.bars.rows[0][1] > 0.8
    assert window.undo_action.text().startswith("Undo: legs at")
    window.undo_action.trigger()
    assert window.store.job.duties[0].angle_deg == type_before


def one_of_each():
    """A demo of every kind of host, part and duty, the fewest that the order of the demos gives."""
    seen, out = set(), []
    for path, _, _ in demo_jobs():
        job = read(path).job
        has = {job.vehicle.kind, *(d.kind for d in job.duties), ("towed", job.duty.towed)}
        if not has <= seen:
            seen |= has
            out.append(path)
    return out


@pytest.mark.parametrize("first", range(2))
def test_a_demo_of_each_kind_opens_on_every_page_of_load(qtbot, window, first):
    for path in one_of_each()[first::2]:
        window.store.document.saved_job = window.store.job
        window.open_demo(path)
        window.go("Load")
        station = window.stations["Load"]
        for name, button in station.tabs.buttons.items():
            if button.isEnabled():
                station.show_page(name)
                window.repaint()
                assert station.current == name, path.stem


def test_ctrl_k_leads_to_fields_of_the_load(qtbot, window, load):
    window.show_field("deck.track_mm")
    assert load.current == "Deck"
    window.show_field("running.grip_per_rad")
    assert load.current == "Sway"


def test_a_two_wheeler_gets_plain_mechanics_and_no_verdict(qtbot, window, load):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "courier-two-wheeler"))
    page = open_page(qtbot, window, "Sway")
    assert (
        "No verdict for two wheels" in page.words.text()
        and "ask the maker" in page.words.text()
        and not page.play.isVisible()
    )
    assert window.stage.currentWidget() is window.scene
    open_page(qtbot, window, "Duties")
    type_into(qtbot, field(qtbot, window, "duty.trailer_mass_kg").line, "120")
    open_page(qtbot, window, "Sway")
    assert f"{100 * 120 / 290:.0f} %" in page.words.text()


def test_a_window_made_anew_leaves_no_instrument_running(qtbot, window, load):
    page = open_page(qtbot, window, "Weigh")
    click(qtbot, window, "scale simulated")
    thread = page.live.simulated._thread
    assert thread.is_alive()
    window.bench_size()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    qtbot.waitUntil(lambda: not thread.is_alive(), timeout=5000)
    window.bench_size()


def test_a_tongue_is_typed_as_its_share_and_a_coupler_from_the_receiver(qtbot, window):
    window.new_job("ball-mount")
    window.go("Load")
    duty = window.store.job.duty
    type_into(qtbot, field(qtbot, window, "duty.tongue_mass_kg").findChild(QLineEdit), "12 %")
    assert window.store.job.duty.tongue_mass_kg == pytest.approx(0.12 * duty.trailer_mass_kg)
    assert "duty.tongue_mass_kg" not in window.store.document.assumed
    box = field(qtbot, window, "duty.coupler_height_mm").findChild(QLineEdit)
    type_into(qtbot, box, "5 in lower")
    top = window.store.verdict.assembly.places["mouth"][2] + 25.4
    assert window.store.job.duty.coupler_height_mm == pytest.approx(top - 127.0, abs=0.1)
    assert box.text() == units.show(top - 127.0, "length", "metric")
    type_into(qtbot, box, "a thumb lower")  # a sentence, and nothing is lost
    assert window.store.job.duty.coupler_height_mm == pytest.approx(top - 127.0, abs=0.1)
