"""Build: the part by its groups; a click on a part in the scene opens its group."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from urial.desk.stations.base import Station
from urial.desk.widgets.fields import Field, label
from urial.job import edit

GROUP_OF_MARK = {"A": "Cross tube", "BL": "Side plates", "BR": "Side plates", "C": "Receiver", "D": "Chain plate", "E": "Chain plate", "F": "Gussets",
                 "G": "Ball mount", "H": "Ball mount", "J": "Ball mount", "X1": "Bolts", "X2": "Pin", "X3": "Ball mount", "X4": "Bolts", "X5": "Bolts"}  # fmt: skip


class Build(Station):
    """What is it made of, how far does it stick out."""

    name = "Build"
    view = "side"

    def fill(self) -> None:
        self.column.addWidget(label("What is it made of?", "title"))
        self.column.addWidget(label("Pick a group here, or click the part in the drawing. Sizes in boxes on the drawing can be typed over.", "quiet", wrap=True))
        table = edit.all_specs(self.store.job)
        self.groups: dict[str, list[str]] = {}
        for path, spec in table.items():
            if path.startswith("design."):
                self.groups.setdefault(spec.group, []).append(path)
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 4, 0, 4)
        grid.setSpacing(0)
        self.buttons: dict[str, QPushButton] = {}
        self.pages: dict[str, QWidget] = {}
        for n, group in enumerate(self.groups):
            button = QPushButton(group)
            button.setCheckable(True)
            button.setProperty("segment", True)
            button.setObjectName(f"group:{group}")
            button.clicked.connect(lambda _=False, g=group: self.show_group(g))
            grid.addWidget(button, n // 3, n % 3)
            self.buttons[group] = button
        self.column.addWidget(holder)
        self.warnings = label("", "problem", wrap=True)
        self.current = "Cross tube"
        for group, paths in self.groups.items():
            page = QWidget()
            inner = QGridLayout(page)
            inner.setContentsMargins(0, 0, 0, 0)
            for n, path in enumerate(paths):
                inner.addWidget(Field(self.store, path), n, 0)
            page.setVisible(False)
            self.column.addWidget(page)
            self.pages[group] = page
        self.column.addWidget(self.warnings)
        self.weight = label("", "quiet", wrap=True)
        self.column.addWidget(self.weight)
        self._followed: str | None = None

    def show_group(self, group: str) -> None:
        """Open one group."""
        self.current = group
        for name, page in self.pages.items():
            page.setVisible(name == group)
            self.buttons[name].setChecked(name == group)

    def refresh(self) -> None:
        if self.store.part != self._followed:
            self._followed = self.store.part
            self.current = GROUP_OF_MARK.get(self.store.part or "", self.current)
        self.show_group(self.current)
        self.warnings.setText("\n".join(self.store.verdict.warnings))
        self.warnings.setVisible(bool(self.store.verdict.warnings))

    def open_words(self) -> tuple[str, bool]:
        n = len(self.store.verdict.warnings)
        return (f"{n} to mind", True) if n else ("clear", False)
