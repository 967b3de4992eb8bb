"""Instruments over the real serial code path: a pseudo-terminal, pyserial, and everything that can go
wrong.
"""

import signal
import subprocess
import sys
import time

import pytest

from urial.services.lines import (
    ANGLE_GAUGE,
    DIAL_GAUGE,
    LOAD_CELL,
    InstrumentError,
    LineReader,
    parse_line,
)
from urial.services.simulated import Simulated, load_line, pulled

HANGS = 300.0
"""What takes so long hangs, however loaded the machine, s."""


def reading(reader, seconds=HANGS):
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        value = reader.latest()
        if value is not None:
            return value
    return None


@pytest.mark.parametrize(
    ("line", "value"),
    [("A +1.25 deg", 1.25), ("-12.3", -12.3), ("  A 90.0°", 90.0), ("A -0.05 deg\r", -0.05)],
)
def test_lines_of_a_gauge_are_understood(line, value):
    assert parse_line(line, ANGLE_GAUGE) == value


@pytest.mark.parametrize("line", ["", "W 12.5 kg", "A +1.2.3 deg", "A 400.0 deg", "ÿþý"])
def test_other_lines_are_refused(line):
    with pytest.raises(InstrumentError):
        parse_line(line, ANGLE_GAUGE)


def test_a_reading_comes_through_the_port_and_follows_the_gauge():
    with Simulated(value=2.5, noise=0.0, rate_hz=50) as gauge, LineReader(gauge.port, ANGLE_GAUGE) as reader:
        assert reading(reader) == 2.5
        gauge.value = -7.25
        end = time.monotonic() + HANGS
        while reader.latest() != -7.25:
            assert time.monotonic() < end


def test_a_drifting_gauge_drifts():
    with (
        Simulated(value=0.0, noise=0.0, drift_per_s=20.0, rate_hz=50) as gauge,
        LineReader(gauge.port, ANGLE_GAUGE) as reader,
    ):
        first, end = reading(reader), time.monotonic() + HANGS
        while reading(reader) <= first + 4:
            assert time.monotonic() < end


def test_silence_is_no_reading_and_garbage_is_said():
    with Simulated(rate_hz=50, fault="dropout") as gauge, LineReader(gauge.port, ANGLE_GAUGE) as reader:
        assert reading(reader, 0.3) is None
        gauge.fault = "garbage"
        with pytest.raises(InstrumentError, match="not a reading"):
            reading(reader)
        gauge.fault = "none"
        while True:  # the garbage still in the pipe is said, then readings come again
            try:
                assert reading(reader) is not None
                break
            except InstrumentError:
                continue


def test_a_port_that_is_not_there_is_said_in_a_sentence():
    with pytest.raises(InstrumentError, match="/dev/no-such-port cannot be opened") as refusal:
        LineReader("/dev/no-such-port", ANGLE_GAUGE)
    assert "\n" not in str(refusal.value) and "Errno" not in str(refusal.value)


def test_a_pulled_plug_is_said():
    gauge = Simulated(rate_hz=50)
    reader = LineReader(gauge.start(), ANGLE_GAUGE)
    assert reading(reader) is not None
    gauge.stop()
    with pytest.raises(InstrumentError, match="has gone"):
        for _ in range(100):
            reader.latest()
    reader.close()


@pytest.mark.parametrize("ignored", [False, True], ids=["in front", "in the background"])
def test_the_simulated_gauge_ships_with_the_command(ignored):
    done = subprocess.Popen(
        [sys.executable, "-m", "urial.cli", "bench", "gauge", "--value", "3.5", "--seconds", "600"],
        stdout=subprocess.PIPE,
        text=True,
        # a shell has what it starts in the background ignore Ctrl+C
        preexec_fn=(lambda: signal.signal(signal.SIGINT, signal.SIG_IGN)) if ignored else None,
    )
    try:
        words = done.stdout.readline()
        port = next(w.rstrip(".") for w in words.split() if w.startswith("/dev/"))
        with LineReader(port, ANGLE_GAUGE) as reader:
            assert reading(reader) == pytest.approx(3.5, abs=0.1)
        done.send_signal(signal.SIGINT)  # Ctrl+C stops it, as it says
        assert done.wait(HANGS) in (0, 130)
    finally:
        done.kill()


@pytest.mark.parametrize(
    ("line", "how", "value"),
    [
        ("L +12.500 kN", LOAD_CELL, 12.5),
        ("12500 N", LOAD_CELL, 12.5),
        ("1274.6 kgf", LOAD_CELL, 12.49955),
        ("2810 lbf", LOAD_CELL, 12.49955),
        ("D +0.430 mm", DIAL_GAUGE, 0.43),
        ("-0.0170 in", DIAL_GAUGE, -0.4318),
    ],
)
def test_load_cell_and_dial_gauge_are_read_in_kn_and_mm(line, how, value):
    assert parse_line(line, how) == pytest.approx(value, rel=1e-5)


def test_what_they_cannot_measure_is_refused():
    for line, how in (("L 9999 kN", LOAD_CELL), ("300 mm", DIAL_GAUGE), ("12 mm", LOAD_CELL)):
        with pytest.raises(InstrumentError):
            parse_line(line, how)


def test_a_stand_in_pulls_in_steps_holds_and_lets_off_over_the_real_protocol():
    """By hand: thirds of 9 kN, four seconds up and three held each, 62 s at the top, then down."""
    course = pulled(9.0)
    times = (0, 2, 4, 6.9, 9, 11, 13.9, 16, 18, 79.9, 82, 84, 200)
    assert [course(t) for t in times] == [0, 1.5, 3, 3, 4.5, 6, 6, 7.5, 9, 9, 4.5, 0, 0]
    with (
        Simulated(line=load_line, noise=0.0, rate_hz=50, course=lambda _: 4.25) as cell,
        LineReader(cell.port, LOAD_CELL) as reader,
    ):
        assert reading(reader) == 4.25
        cell.course = lambda _: 0.0  # let off
        end = time.monotonic() + HANGS
        while reader.latest() != 0.0:
            assert time.monotonic() < end
