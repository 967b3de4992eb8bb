"""Buttons side by side in a grid, of which one may be the chosen one."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from urial.desk.widgets.plain import plain


class Segments(QWidget):
    """``options`` are ids and words; a click calls ``pick`` with the id.  Buttons are named ``prefix:id``."""

    def __init__(
        self,
        options: Iterable[tuple[str, str]],
        columns: int,
        prefix: str,
        pick: Callable[[str], object],
        tips: dict[str, str] | None = None,
        checkable: bool = True,
        look: str = "segment",
    ) -> None:
        super().__init__()
        self.grid = grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 4)
        grid.setSpacing(0)
        self.columns = columns
        self.buttons: dict[str, QPushButton] = {}
        for n, (key, words) in enumerate(options):
            button = QPushButton(words)
            button.setCheckable(checkable)
            button.setProperty(look, True)
            button.setObjectName(f"{prefix}:{key}")
            button.setToolTip(plain((tips or {}).get(key, "")))
            button.clicked.connect(lambda _=False, k=key: pick(k))
            grid.addWidget(button, n // columns, n % columns)
            self.buttons[key] = button

    def offer(self, keys: Iterable[str]) -> None:
        """Show only some of them, close up."""
        wanted = [k for k in self.buttons if k in set(keys)]
        if wanted == [k for k, b in self.buttons.items() if not b.isHidden()]:
            return
        for button in self.buttons.values():
            self.grid.removeWidget(button)
            button.hide()
        for n, key in enumerate(wanted):
            self.grid.addWidget(self.buttons[key], n // self.columns, n % self.columns)
            self.buttons[key].show()

    def choose(self, key: str) -> None:
        """Show which one is chosen."""
        for other, button in self.buttons.items():
            button.setChecked(other == key)
