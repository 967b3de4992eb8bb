"""Bolts in the real window: a group is chosen, its holes are numbered, its part is shown."""

from tests.desk.hands import click


def test_a_group_is_chosen_and_its_first_hole_is_the_middle_one(qtbot, window):
    window.activateWindow()
    window.go("Finish")
    click(qtbot, window, "page:Bolts")
    qtbot.waitUntil(lambda: window.store.making.work is not None)
    page = window.stations["Finish"].pages["Bolts"]
    qtbot.waitUntil(lambda: len(page.groups) == 2)
    assert page.picture.row.order[0] == "left hole 2" and "N·m dry" in page.about.text()
    click(qtbot, window, "bolts:1")
    assert page.picture.row.name == "right rail bolts" and page.part.about
    assert not page.bad.isVisible()
    window.switch_units()
    qtbot.waitUntil(lambda: "ft·lb" in page.about.text())
