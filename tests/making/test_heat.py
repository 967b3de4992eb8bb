"""Where a machine starts, and how far a bead pulls."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.calc import registry
from urial.making.heat import camber, processes, setting


def test_twelve_millimetres_on_a_machine_of_140_wants_a_bevel_and_passes():
    """140 A fuse 3.5 mm: four passes; a coupon first, and said that another machine would do it in fewer."""
    found = setting(12.0, 140.0, "short_circuit")
    assert (found.amps, found.passes, found.bevel) == (140.0, 4, True)
    assert "coupon" in found.note and "another process" in found.note


def test_the_process_caps_what_a_strong_machine_reaches():
    """Short circuit laps cold over 5 mm however strong the machine: 6 mm are two passes of 200 A."""
    found = setting(6.0, 400.0, "short_circuit")
    assert (found.amps, found.passes, found.bevel) == (200.0, 2, True) and "another process" not in found.note
    thin = setting(2.0, 400.0, "short_circuit")
    assert (thin.amps, thin.passes, thin.bevel) == (pytest.approx(80.0), 1, False)
    assert setting(5.0, 400.0, "short_circuit").bevel is False


@given(st.sampled_from(sorted(processes())), st.floats(0.5, 60), st.floats(0.0, 20), st.floats(20, 600))
def test_amps_and_passes_never_fall_with_thickness_and_never_pass_the_machine(process, thick, more, machine):
    one, two = setting(thick, machine, process), setting(thick + more, machine, process)
    assert one.amps <= two.amps <= machine + 1e-9 and one.passes <= two.passes
    assert one.bevel == (one.passes > 1)
    assert processes()[process].source


def test_the_camber_of_a_metre_by_hand():
    """A 6 mm leg is 18 mm²: 0.005 · 18 · 30 · 1000² / 10⁶ = 2.7 mm; twice as long bows four times as far."""
    assert camber(6.0, 1000.0, 1e6, 30.0) == pytest.approx(2.7)
    assert camber(6.0, 2000.0, 1e6, 30.0) == pytest.approx(10.8)
    asked = {"leg_mm": 6, "length_mm": 1000, "I_mm4": 1e6, "offset_mm": 30}
    assert registry.ask("distortion", json.dumps(asked)) == {"camber_mm": pytest.approx(2.7)}
    found = registry.ask(
        "weld_settings", json.dumps({"thickness_mm": 12, "machine_A": 140, "process": "stick"})
    )
    assert set(found) == {"amps", "passes", "bevel", "note"} and found["passes"] == 4
    for wrong in ({"process": "glue"}, {"machine_A": 0}, {"thickness_mm": -1}):
        with pytest.raises(registry.CalcError):
            registry.ask(
                "weld_settings",
                json.dumps({"thickness_mm": 12, "machine_A": 140, "process": "stick", **wrong}),
            )
