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


@dataclass
class Simulated:
    """An instrument that reads ``value`` plus ``drift_per_s`` and ``noise``, ``rate_hz`` lines a second.

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
            reading = (
                self.value + self.drift_per_s * (time.monotonic() - begun) + self._random.gauss(0, self.noise)
            )
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
