"""A stand-in instrument on a pseudo-terminal: it sends lines as the real one does, and can drift, drop out
and talk nonsense.
"""

from __future__ import annotations

import os
import pty
import random
import threading
import time
import tty
from collections.abc import Callable
from dataclasses import dataclass, field
from types import TracebackType
from typing import Literal

Fault = Literal["none", "dropout", "garbage"]


def angle_line(value: float) -> str:
    """A line of the angle gauge."""
    return f"A {value:+.2f} deg"


def scale_line(value: float) -> str:
    """A line of the scale."""
    return f"W {value:+.1f} kg"


def load_line(value: float) -> str:
    """A line of the load cell."""
    return f"L {value:+.3f} kN"


def gauge_line(value: float) -> str:
    """A line of the dial gauge."""
    return f"D {value:+.3f} mm"


@dataclass
class Simulated:
    """An instrument that reads ``value`` plus ``drift_per_s`` and ``noise``, ``rate_hz`` lines a second.

    ``course`` gives what it reads by the seconds since it began, in place of ``value``.
    As a context manager it opens a pseudo-terminal; ``port`` is what a reader opens. ``value``,
    ``drift_per_s`` and ``fault`` may be changed while it runs.
    """

    value: float = 0.0
    line: Callable[[float], str] = angle_line
    noise: float = 0.01
    drift_per_s: float = 0.0
    rate_hz: float = 10.0
    fault: Fault = "none"
    seed: int = 1
    course: Callable[[float], float] | None = None
    port: str = field(default="", init=False)

    def __post_init__(self) -> None:
        self._stop = threading.Event()
        self._random = random.Random(self.seed)
        self._master = self._slave = -1
        self._thread: threading.Thread | None = None

    def start(self) -> str:
        """Open the terminal and begin to send; returns the port."""
        self._master, self._slave = pty.openpty()
        tty.setraw(self._slave)
        os.set_blocking(self._master, False)
        self.port = os.ttyname(self._slave)
        self._thread = threading.Thread(target=self._run, daemon=True, name="simulated instrument")
        self._thread.start()
        return self.port

    def stop(self) -> None:
        """Pull the plug."""
        self._stop.set()
        if self._thread:
            self._thread.join(2)
        for handle in (self._master, self._slave):
            if handle >= 0:
                os.close(handle)
        self._master = self._slave = -1

    def _run(self) -> None:
        begun = time.monotonic()
        while not self._stop.wait(1 / self.rate_hz):
            gone = time.monotonic() - begun
            value = self.course(gone) if self.course is not None else self.value
            reading = value + self.drift_per_s * gone + self._random.gauss(0, self.noise)
            if self.fault == "dropout":
                continue
            text = (
                self.line(reading)
                if self.fault == "none"
                else "".join(chr(self._random.randint(33, 126)) for _ in range(9))
            )
            try:
                os.write(self._master, (text + "\r\n").encode())
            except BlockingIOError:
                continue  # nobody reads; a real instrument goes on sending too
            except OSError:
                return

    def __enter__(self) -> Simulated:
        self.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.stop()


def pulled(
    full: float, steps: int = 3, climb_s: float = 4.0, hold_s: float = 3.0, last_s: float = 62.0
) -> Callable[[float], float]:
    """The course of a load in steps to its full height, held, the last the longest, and let off again."""

    def load(t: float) -> float:
        for n in range(1, steps + 1):
            if t < climb_s:
                return full * (n - 1 + t / climb_s) / steps
            t -= climb_s
            hold = last_s if n == steps else hold_s
            if t < hold:
                return full * n / steps
            t -= hold
        return max(full * (1 - t / climb_s), 0.0)

    return load
