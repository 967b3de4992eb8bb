"""An instrument read live: its port, a simulated stand-in, and what it reads now or what is wrong."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial.desk.widgets.fields import label
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.plain import plain
from urial.job.origin import Origin
from urial.services.lines import SPEEDS, InstrumentError, LineFormat, LineReader, own_format, shapes
from urial.services.simulated import Simulated

QUIET = 15  # polls without a line before it is said


def _let_go(open_ends: list[Simulated | LineReader]) -> None:
    """Close port and stand-in, whichever are open, reader first."""
    while open_ends:
        end = open_ends.pop()
        end.stop() if isinstance(end, Simulated) else end.close()


class LiveReading(QWidget):
    """``value`` is the newest reading or None; ``describe`` puts it into words; ``stand_in`` makes the
    simulated instrument.
    """

    came = Signal()

    def __init__(
        self,
        name: str,
        how: LineFormat,
        stand_in: Callable[[], Simulated],
        describe: Callable[[float], str],
        pattern: bool = False,
    ) -> None:
        super().__init__()
        self.how, self.stand_in, self.describe, self.name = how, stand_in, describe, name
        self.value: float | None = None
        self.simulated: Simulated | None = None
        self._reader: LineReader | None = None
        self._quiet = 0
        self._open: list[Simulated | LineReader] = []
        self.destroyed.connect(
            partial(_let_go, self._open)
        )  # a window made anew leaves no thread or port behind
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        column.addLayout(row)
        self.port = QLineEdit("/dev/ttyUSB0")
        self.port.setObjectName(f"{name} port")
        self.port.setAccessibleName(f"port of the {how.name}")
        row.addWidget(self.port, 1)
        self.buttons: dict[str, QPushButton] = {}
        for words, tip, slot in (
            ("Read", f"Read the {how.name} on this port", self.toggle),
            ("Simulated", f"A simulated {how.name}, to try it out", self.start_simulated),
        ):
            button = QPushButton(words)
            button.setObjectName(f"{name} {words.lower()}")
            button.setToolTip(plain(tip))
            button.setProperty("segment", True)
            button.clicked.connect(slot)
            row.addWidget(button)
            self.buttons[words] = button
        self.sends, self.baud = Picker(), Picker()
        for words, shape in shapes(how).items():
            self.sends.addItem(words, shape)
        for speed in SPEEDS:
            self.baud.addItem(f"{speed} baud", speed)
        self.baud.setCurrentIndex(SPEEDS.index(how.baud))
        if pattern:
            for box, words, tip in (
                (self.sends, "sends", "What a line of the instrument looks like"),
                (self.baud, "baud", "Speed of the port; its handbook says it"),
            ):
                box.setObjectName(f"{name} {words}")
                box.setAccessibleName(f"{words}, {how.name}")
                box.setToolTip(plain(tip))
                box.setMinimumContentsLength(8)
                box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            second = QHBoxLayout()
            second.addWidget(self.sends, 3)
            second.addWidget(self.baud, 2)
            column.addLayout(second)
        self.live = label(f"{how.name.capitalize()} not connected.", "quiet", wrap=True)
        self.live.setObjectName(f"{name} live")
        column.addWidget(self.live)
        self._timer = QTimer(self)
        self._timer.setInterval(100)
        self._timer.timeout.connect(self.poll)

    def origin(self) -> Origin:
        """Where a reading taken now comes from; one from the stand-in is labelled for good."""
        return Origin(
            how="simulated" if self.simulated is not None else "read",
            by=f"the {self.how.name}",
            on=date.today().isoformat(),
        )

    def start_simulated(self) -> None:
        """The stand-in on its own port."""
        self.stop()
        self.simulated = self.stand_in()
        self._open.append(self.simulated)
        self.port.setText(self.simulated.start())
        self.toggle()

    def toggle(self) -> None:
        """Begin to read, or stop."""
        if self._reader is not None:
            self.stop()
            return
        try:
            self._reader = LineReader(
                self.port.text().strip(),
                own_format(self.how, str(self.sends.currentData()), int(self.baud.currentData())),
                wait_s=0.005,
            )
        except InstrumentError as error:
            self.live.setText(str(error))
            return
        self._open.append(self._reader)
        self._quiet = 0
        self.buttons["Read"].setText("Stop")
        self.live.setText("Listening…")
        self._timer.start()

    def stop(self) -> None:
        """Let go of the port."""
        self._timer.stop()
        _let_go(self._open)
        self._reader = self.simulated = self.value = None
        self.buttons["Read"].setText("Read")
        self.live.setText(f"{self.how.name.capitalize()} not connected.")

    def poll(self) -> None:
        """Take the newest reading; say what is wrong and go on."""
        if self._reader is None:
            return
        try:
            value = self._reader.latest()
        except InstrumentError as error:
            self.value = None
            self.live.setText(str(error))
            return
        self._quiet = 0 if value is not None else self._quiet + 1
        if value is not None:
            self.value = value
            self.live.setText(
                ("SIMULATED, no real instrument. " if self.simulated is not None else "")
                + self.describe(value)
            )
            self.came.emit()
        elif self._quiet > QUIET:
            self.value = None
            self.live.setText(f"The {self.how.name} has gone quiet; wake it or check the plug.")
