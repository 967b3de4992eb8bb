"""Build by clicking sockets: what stands on what, what fits where and why the rest does not, all of it
undone again.
"""

import threading

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton, QWidget

from tests.desk.hands import minded
from urial import families
from urial.desk.scene import places
from urial.desk.start import demo_jobs, new_parts
from urial.desk.store import Store
from urial.job import edit
from urial.session import asked


@pytest.fixture
def build(window):
    window.go("Build")
    return window.stations["Build"]


def press(qtbot, window, name):
    """Click a button of the Build slate by its name."""
    button = window.stations["Build"].findChild(QPushButton, name)
    assert button is not None, [b.objectName() for b in window.stations["Build"].findChildren(QPushButton)]
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def offered(qtbot, build):
    """Wait for what fits, and say it: offers by family, refusals by family."""
    qtbot.waitUntil(
        lambda: "kinds go there" in build.offers.said.text() or "Nothing" in build.offers.said.text(),
        timeout=30_000,
    )
    qtbot.wait(20)  # what has just been added is shown
    found = {
        w.objectName(): (w.text() if hasattr(w, "text") else "")
        for w in build.offers.findChildren(QWidget)
        if w.isVisibleTo(build.offers)
    }
    fits = {k.split(":")[1]: v for k, v in found.items() if k.startswith("offer:")}
    return fits, {k.split(":")[1]: v for k, v in found.items() if k.startswith("refused:")}


def stands(window):
    return [p.family for p in window.store.job.stack]


def test_a_carrier_is_built_on_a_receiver_on_a_truck_by_clicking_sockets_and_undone(qtbot, window, build):
    window.new_survey("pickup")
    window.go("Build")
    start = window.store.job
    assert stands(window) == [] and [o.socket for o in window.store.places] == ["frame rails"]
    press(qtbot, window, "open:frame rails")
    fits, refused = offered(qtbot, build)
    assert (
        set(fits) == {"rear-receiver", "bumper-receiver", "bought-receiver"}
        and "goes on trunk" in refused["trunk-anchor"]
        and "goes on a receiver's bore" in refused["ball-mount"]
    )
    press(qtbot, window, "offer:rear-receiver")
    assert stands(window) == ["rear-receiver"] and window.store.verdict.assembly.parts
    assert "put a ball mount, a clevis tongue or a pintle into the receiver" in minded(build)
    press(qtbot, window, "open:1/receiver")
    fits, _ = offered(qtbot, build)
    assert set(fits) == {f.name for f in families.families().values() if f.on == "receiver"}
    assert "kg" in fits["flat-carrier"] and "% used" in fits["flat-carrier"]
    press(qtbot, window, "offer:flat-carrier")
    assert (
        stands(window) == ["rear-receiver", "flat-carrier"]
        and window.store.has_part
        and window.store.verdict.holds
    )
    assert not window.store.job.duty.towed and [d.kind for d in window.store.job.duties] == ["carrier"]
    assert window.undo_action.text().startswith("Undo: put into the 2 in bore")
    # swap it for a ball mount, which tows again
    press(qtbot, window, "swap:2")
    fits, _ = offered(qtbot, build)
    press(qtbot, window, "offer:ball-mount")
    assert stands(window) == ["rear-receiver", "ball-mount"]
    press(qtbot, window, "off:3")  # another piece than the carrier was
    assert stands(window) == ["rear-receiver"]
    for expected in (
        ["rear-receiver", "ball-mount"],
        ["rear-receiver", "flat-carrier"],
        ["rear-receiver"],
        [],
    ):
        window.undo_action.trigger()
        assert stands(window) == expected
    assert window.store.job == start


def test_an_open_bore_glows_on_the_drawing_and_a_click_asks_what_fits(qtbot, window, build):
    press(qtbot, window, "off:2")
    window.scene.settle()
    place = next(o for o in window.store.places if o.kind == "receiver")
    at = places.spots(window.scene.camera, [place])[0].toPoint()
    seen = window.scene.grab().toImage()
    ring = seen.pixelColor(at + QPoint(window.theme.px(8), 0))
    assert ring.blue() > ring.red() + 60  # the touch colour
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=at)
    assert window.store.chosen.place == place and build.offers.isVisible() and not build.sizes.isVisible()
    offered(qtbot, build)
    press(qtbot, window, "leave open")
    assert window.store.chosen.place is None and build.sizes.isVisible()


def test_a_piece_whose_sizes_disagree_is_said_over_the_last_shape(qtbot, window, build):
    shape = window.store.verdict.assembly
    press(qtbot, window, "piece:2")
    window.store.write("stack.2.bar", "square 2 1/2")
    assert "wider than" in window.store.refusal and window.store.verdict.assembly is shape
    assert "wider than" in build.refused.text()
    window.undo_action.trigger()
    assert window.store.refusal == ""


def test_the_sizes_shown_are_those_of_the_chosen_piece(qtbot, window, build):
    press(qtbot, window, "piece:1")
    assert (
        "rear receiver" in build.whose.text()
        and "Cross tube" in build.groups
        and "Ball mount" not in build.groups
    )
    press(qtbot, window, "piece:2")
    assert "ball mount" in build.whose.text() and "Ball mount" in build.groups
    build.show_path("stack.1.drop_mm")
    assert build.piece == "1" and build.current == "Receiver"


def test_a_fork_slid_to_its_worst_place_is_no_worse_than_was_said(qtbot, window, build):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "hay-net-carriage"))
    window.go("Build")
    bar = lambda: next(c for c in window.store.verdict.checks if c.name.startswith("fork bar, combined"))  # noqa: E731
    said = bar().utilisation
    assert "forks apart" in bar().name
    build.show_path("stack.1.spread_mm")
    window.store.write("stack.1.spread_mm", "540 mm")
    assert bar().utilisation == pytest.approx(said, rel=1e-9)
    window.store.write("stack.1.spread_mm", "600 mm")
    assert "slide between" in window.store.refusal


def test_how_it_is_held_is_said_and_the_softest_motion_swings(qtbot, window, build):
    assert "Held in all six directions." in build.held.text() and "kN" in build.held.text()
    press(qtbot, window, "swing")
    assert window.scene.swing.isActive() and window.scene.soft is not None
    before = window.scene.grab().toImage()
    qtbot.waitUntil(lambda: window.scene.grab().toImage() != before)
    press(qtbot, window, "swing")
    assert not window.scene.swing.isActive()
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "weir-anchor"))
    window.go("Build")
    assert "only while it is pressed on or pulled tight" in build.held.text()


def test_the_chain_follows_one_loaded_place_after_the_other(qtbot, window):
    from urial.desk.widgets.chain import LoadChain

    chain = window.findChild(LoadChain)
    whole = [s.link.id for s in chain._states()]
    names = window.store.verdict.loaded
    assert len(names) == 3 and chain.switch.isVisible()
    qtbot.mouseClick(chain.switch, Qt.MouseButton.LeftButton)
    assert chain.followed == names[0]
    qtbot.mouseClick(chain.switch, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(chain.switch, Qt.MouseButton.LeftButton)
    assert "chain hole" in chain.switch.text()
    part = [s.link.id for s in chain._states()]
    assert "2/ball" not in part and set(part) < set(whole)
    for state in chain._states():
        assert state.worst is None or "chain" in state.worst.case or state.worst.kind == "rating"
    qtbot.mouseClick(chain.switch, Qt.MouseButton.LeftButton)
    assert chain.followed == ""


def test_pages_that_make_no_sense_are_not_offered(qtbot, window):
    for name, shown, hidden in (
        ("trunk-anchor", {"Duties", "Cases", "Winch"}, {"Stance", "Swing", "Sway", "Deck"}),
        ("three-point-carriage", {"Duties", "Cases"}, {"Stance", "Swing", "Sway", "Deck", "Weigh"}),
        ("front-receiver", {"Duties"}, {"Stance", "Swing"}),
        ("rear-receiver", {"Stance", "Swing", "Sway"}, set()),
    ):
        window.new_job(name)
        window.go("Load")
        load = window.stations["Load"]
        visible = {n for n, b in load.tabs.buttons.items() if b.isVisible()}
        assert shown <= visible and not hidden & visible, name
        for page in visible:
            load.show_page(page)
            assert load.current == page, (name, page)
        load.show_page("Duties")
        tow, towed = load.pages["Duties"].kinds.buttons["tow"], window.store.job.duty.towed
        tows = name.endswith("receiver")
        assert tow.isVisible() == (tows and not towed), name
        assert (load.pages["Duties"].trailer is not None) == towed, name


def test_every_family_is_shown_at_build_and_each_seventh_at_every_other_station(qtbot, window):
    for k, name in enumerate(families.families()):
        window.new_job(name)
        assert window.store.has_part, name
        for m, (n, station) in enumerate(window.stations.items()):
            if n == "Together" and k % 7:
                continue  # how it goes together is looked for in the background, which takes seconds each
            if n != "Build" and (k + m) % 7:
                continue  # every station has its seventh of them; pages by family are tried by themselves
            window.go(n)
            assert window.station == n and window.tabs[n].isVisible(), (name, station.name)
            station.refresh()
        if k % 2 == 0:
            window.scene.settle()
            window.scene.set_view(("rear", "top", "side")[k % 3])
            window.scene.grab()


def test_a_new_job_starts_from_what_is_done_and_on_what(qtbot, window):
    window.show_start()
    start = window.start
    qtbot.mouseClick(start.findChild(QPushButton, "does:hold"), Qt.MouseButton.LeftButton)
    assert start.kind == "trailer" and start.findChild(QPushButton, "new:rail-cradle") is not None
    qtbot.mouseClick(start.findChild(QPushButton, "does:carry"), Qt.MouseButton.LeftButton)
    qtbot.mouseClick(start.findChild(QPushButton, "host:van"), Qt.MouseButton.LeftButton)
    qtbot.wait(20)
    buttons = {b.objectName() for b in start.findChildren(QPushButton) if b.isVisible()}
    assert {"new:front-receiver", "new:flat-carrier"} <= buttons and "new:two-wheeler" not in buttons
    qtbot.mouseClick(start.findChild(QPushButton, "new:front-receiver"), Qt.MouseButton.LeftButton)
    assert window.store.job.vehicle.kind == "van" and stands(window) == ["front-receiver"]
    assert {"two-wheeler", "slot-frame"} <= {f.name for f, _ in new_parts("tow", "two-wheeler")}


def test_edits_of_another_kind_of_part_are_undone_whole(qtbot, window):
    window.new_job("rail-cradle")
    assert window.scene.camera.view == "rear"  # a J is seen from behind
    before = window.store.job
    window.store.put_job(edit.put(before, "stack.1.along_mm", 900.0), "stack.1.along_mm")
    assert window.store.verdict.job.stack[0].values.along_mm == 900.0
    window.undo_action.trigger()
    assert window.store.job == before


def test_an_edit_is_drawn_before_it_is_judged(qtbot, window, monkeypatch):
    proved, gate = asked.prove, threading.Event()
    monkeypatch.setattr(Store, "patience", 0.01)
    monkeypatch.setattr(asked, "prove", lambda job: (gate.wait(300), proved(job))[1])
    before = window.store.verdict
    window.store.put("stack.1.drop_mm", 150.0)
    qtbot.waitUntil(lambda: window.store.shape is not None, timeout=20_000)
    assert window.store.reckoning and window.store.verdict is before
    low = window.scene._mesh().points[:, 2].min()
    assert low < before.assembly.places["mouth"][2] - 40  # the receiver already hangs lower
    gate.set()
    qtbot.waitUntil(lambda: not window.store.reckoning, timeout=20_000)
    assert window.store.shape is None and window.store.verdict.job.stack[0].values.drop_mm == 150.0


def test_a_window_made_anew_has_its_open_places_still(qtbot, window, build):
    window.bench_size()
    qtbot.wait(30)
    window.go("Build")
    press(qtbot, window, "off:2")
    press(qtbot, window, "open:1/receiver")
    offered(qtbot, window.stations["Build"])
    window.bench_size()
    assert window.store.chosen.place is not None


def test_a_cradle_is_moved_along_its_rail_by_a_click(qtbot, window):
    window.new_job("rail-cradle")
    window.go("Build")
    qtbot.wait(20)
    press(qtbot, window, "move:2:rearward")
    assert window.store.job.stack[1].values.along_mm == 2150.0
    press(qtbot, window, "move:2:forward")
    assert window.store.job.stack[1].values.along_mm == 2100.0
    window.undo_action.trigger()
    assert window.store.job.stack[1].values.along_mm == 2150.0


def test_a_duty_is_put_on_one_socket_of_several(qtbot, window):
    window.new_job("rail-cradle")
    window.go("Load")
    load = window.stations["Load"]
    load.show_page("Duties")
    qtbot.wait(20)
    page = load.pages["Duties"]
    if page.chosen is None:
        page._choose(0)
    shared = window.store.verdict.cases[0].loads
    assert set(shared) == {"1/cradle", "2/cradle"}
    qtbot.mouseClick(page.findChild(QPushButton, "acts:2/cradle"), Qt.MouseButton.LeftButton)
    assert window.store.job.duties[0].socket == "2/cradle" and set(window.store.verdict.cases[0].loads) == {
        "2/cradle"
    }
    assert window.store.verdict.cases[0].loads["2/cradle"][2] == pytest.approx(
        2 * shared["2/cradle"][2], rel=1e-6
    )


def test_a_piece_that_is_off_already_is_neither_taken_off_nor_swapped(window):
    """The second half of a double click meets a row that is gone."""
    station = window.stations["Build"]
    station.take_off("2")
    job = window.store.job
    station.take_off("2")
    station.offer_swap("2")
    assert window.store.job is job and [p.id for p in job.stack] == ["1"]
