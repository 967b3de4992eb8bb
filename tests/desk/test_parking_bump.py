"""What gives first when it is backed into stands at Prove without a click, in the job's units."""

from urial.prove.bump import bump


def test_it_stands_at_prove_and_follows_the_part_and_the_units(qtbot, window):
    window.new_job("ball-mount")
    window.go("Prove")
    told = window.stations["Prove"].backed
    qtbot.waitUntil(lambda: "First to give" in told.text(), timeout=30_000)
    hit = bump(window.store.verdict)
    assert told.text() == hit.briefly and told.isVisible()
    window.unit_button.click()
    qtbot.waitUntil(lambda: "lbf" in told.text() and "mph" in told.text(), timeout=30_000)
    assert "kN" not in told.text()
    window.undo_action.trigger()

    window.store.write("stack.2.pin_to_ball_mm", "260 mm")
    qtbot.waitUntil(lambda: told.text() not in ("", hit.briefly), timeout=30_000)
    assert told.text() == bump(window.store.verdict).briefly


def test_nothing_is_said_of_a_trailer_on_its_own_wheels(qtbot, window):
    window.new_job("flat-trailer")
    window.go("Prove")
    qtbot.waitUntil(
        lambda: (
            window.store.asking.about("parking bump") is not None
            and not window.store.asking.busy("parking bump")
        )
    )
    assert not window.stations["Prove"].backed.isVisible()
