"""Instruments that send a reading a line: open the port, take what the line pattern finds, say what is
wrong.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import TracebackType

import serial

LONGEST = 200  # bytes without an end of line: no instrument sends such a line


class InstrumentError(ValueError):
    """The instrument cannot be read; the message says why and what to do."""


@dataclass(frozen=True)
class LineFormat:
    """How an instrument writes: ``pattern`` with a group ``value`` and perhaps ``unit``, at ``baud``, within
    ``low`` to ``high``.

    ``factors`` turns the units it may send into the one wanted; a line without a unit is taken as it is.
    """

    name: str
    pattern: str
    baud: int = 9600
    low: float = -1e9
    high: float = 1e9
    factors: Mapping[str, float] = field(default_factory=dict)


ANGLE_GAUGE = LineFormat(
    "angle gauge", r"^\s*A?\s*(?P<value>[+-]?\d{1,3}(?:\.\d+)?)\s*(?P<unit>deg|°)?\s*$", 9600, -180.0, 180.0
)
SCALE = LineFormat(
    "scale",
    r"^\s*W?\s*(?P<value>[+-]?\d+(?:\.\d+)?)\s*(?P<unit>kg|lb|t)?\s*$",
    9600,
    -100.0,
    60_000.0,
    {"kg": 1.0, "lb": 0.45359237, "t": 1000.0},
)


LOAD_CELL = LineFormat(
    "load cell",
    r"^\s*L?\s*(?P<value>[+-]?\d+(?:\.\d+)?)\s*(?P<unit>kN|N|kgf|lbf)?\s*$",
    9600,
    -5.0,
    2000.0,
    {"kN": 1.0, "N": 0.001, "kgf": 0.00980665, "lbf": 0.0044482216},
)
"""In kN."""
DIAL_GAUGE = LineFormat(
    "dial gauge",
    r"^\s*D?\s*(?P<value>[+-]?\d+(?:\.\d+)?)\s*(?P<unit>mm|in)?\s*$",
    9600,
    -200.0,
    200.0,
    {"mm": 1.0, "in": 25.4},
)
"""In mm."""
SPEEDS = (1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200)
"""Speeds of a serial port that instruments are built with, baud."""


def shapes(how: LineFormat) -> dict[str, str]:
    """How a line may look, in words, and the pattern that reads it: the instrument's own way first."""
    figure = r"(?P<value>[+-]?\d{1,9}(?:\.\d{1,9})?)"
    unit = r"\s{0,3}(?P<unit>" + "|".join(how.factors or ("deg", "°")) + ")?"
    return {
        "one figure a line": how.pattern,
        "first figure in a line": rf"^[^\d+-]{{0,60}}{figure}{unit}",
        "last figure in a line": rf"^.{{0,120}}?(?<![\d.]){figure}{unit}[^\d]{{0,20}}$",
    }


def own_format(how: LineFormat, pattern: str, baud: int) -> LineFormat:
    """The same instrument with a line pattern and speed of one's own.  InstrumentError when the pattern
    cannot be used.
    """
    try:
        compiled = re.compile(pattern)
    except re.error as error:
        raise InstrumentError(
            f"The line pattern cannot be read ({error}); it is a regular expression with a group "
            "called value."
        ) from None
    if "value" not in compiled.groupindex:
        raise InstrumentError(
            "The line pattern has no group called value; write (?P<value>…) round the figure."
        )
    return LineFormat(how.name, pattern, baud, how.low, how.high, how.factors)


def parse_line(line: str, how: LineFormat) -> float:
    """The value of one line.  InstrumentError when it is not a reading."""
    found = re.match(how.pattern, line)
    if found is None:
        raise InstrumentError(
            f"The {how.name} sent “{line.strip()[:40]}”, which is not a reading; choose another way "
            "its lines look, or another speed."
        )
    try:
        value = float(found["value"])
    except (TypeError, ValueError):
        raise InstrumentError(
            f"The {how.name} sent “{line.strip()[:40]}”, in which there is no figure; choose another "
            "way its lines look."
        ) from None
    value *= how.factors.get((found.groupdict().get("unit") or ""), 1.0)
    if not how.low <= value <= how.high:
        raise InstrumentError(f"The {how.name} sent {value:g}, which it cannot measure; check its unit.")
    return value


class LineReader:
    """An open port.  ``latest`` never blocks longer than ``wait_s``."""

    def __init__(self, port: str, how: LineFormat, wait_s: float = 0.05, baud: int | None = None) -> None:
        self.how, self.port = how, port
        self._rest = b""
        try:
            self._serial = serial.serial_for_url(port, baudrate=baud or how.baud, timeout=wait_s)
        except (serial.SerialException, ValueError, OSError) as error:
            reason = getattr(error, "strerror", None) or str(error).split(":")[-1].strip()
            raise InstrumentError(
                f"The port {port} cannot be opened: {reason.lower()}; plug the {how.name} in and name "
                "its port."
            ) from None

    def latest(self) -> float | None:
        """The newest whole line's value; None when nothing new has come.  InstrumentError for garbage or a
        pulled plug.
        """
        try:
            waiting = self._serial.in_waiting
            self._rest += self._serial.read(max(waiting, 1))
        except (serial.SerialException, OSError):
            raise InstrumentError(f"The {self.how.name} on {self.port} has gone; plug it in again.") from None
        *lines, self._rest = self._rest.replace(b"\r", b"\n").split(b"\n")
        if len(self._rest) > LONGEST:
            self._rest = b""
            raise InstrumentError(f"The {self.how.name} sends without line ends; check the baud rate.")
        whole = [line for line in lines if line.strip()]
        if not whole:
            return None
        return parse_line(whole[-1].decode("ascii", "replace"), self.how)

    def close(self) -> None:
        """Let go of the port."""
        self._serial.close()

    def __enter__(self) -> LineReader:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()
