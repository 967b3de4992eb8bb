"""Build: the part by its groups; a click on a part in the scene opens its group."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QWidget

from urial import units
from urial.assembly import bodies
from urial.desk.stations.base import Station
from urial.desk.widgets.fields import Field, label
from urial.desk.widgets.segments import Segments
from urial.job import edit


class Build(Station):
    """What is it made of, how far does it stick out."""

    name = "Build"
    view = "side"

    def fill(self) -> None:
        self.column.addWidget(label("What is it made of?", "title"))
        self.reach = label("", "mono", wrap=True)
        self.column.addWidget(self.reach)
        self.column.addWidget(label("Pick a group here, or click the part in the drawing. Sizes in boxes on the drawing can be typed over.", "quiet", wrap=True))
        table = edit.all_specs(self.store.job)
        self.groups: dict[str, list[str]] = {}
        for path, spec in table.items():
            if path.startswith(("stack.", "welding.")):
                self.groups.setdefault(spec.group, []).append(path)
        self.chooser = Segments([(g, g) for g in self.groups], 3, "group", self.show_group)
        self.column.addWidget(self.chooser)
        self.pages: dict[str, QWidget] = {}
        self.warnings = label("", "problem", wrap=True)
        self.current = next(iter(self.groups), "")
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
        self.chooser.choose(group)

    @property
    def useful(self) -> bool:
        """Also for sizes that make no part yet: here they are mended."""
        return self.store.has_part or self.store.has_sizes

    def _group_of(self, mark: str | None) -> str:
        """The group of sizes a part is made by."""
        part = next((p for p in self.store.verdict.assembly.parts if p.mark == mark), None)
        table = edit.all_specs(self.store.job)
        return next((table[p].group for p in (part.paths if part else ()) if p in table), "")

    def refresh(self) -> None:
        if self.store.part != self._followed:
            self._followed = self.store.part
            self.current = self._group_of(self.store.part) or self.current
        self.show_group(self.current)
        self._say()
        said = ([f"{self.store.refusal} The picture is the last shape that could be built."] if self.store.refusal else []) + list(self.store.verdict.warnings)
        self.warnings.setText("\n".join(said))
        self.warnings.setVisible(bool(said))

    def _say(self) -> None:
        v, job = self.store.verdict, self.store.job
        if v.forces is None:  # never built yet: there are only sizes
            self.reach.setText("")
            self.weight.setText("")
            return
        show = lambda mm: units.show(mm, "length", job.units, job.nearest)  # noqa: E731
        ends = [v.assembly.places[k] for k in ("ball", "mouth") if k in v.assembly.places] + [s.place.o for s in v.assembly.sockets]
        low = (bodies.lowest(v.assembly) or ends[0])[2]
        behind = -ends[0][0] - job.vehicle.rear_overhang_mm
        squat = job.vehicle.squat_mm_per_100kg * job.duty.tongue_mass_kg / 100 if job.duty.towed else 0.0
        self.reach.setText(f"sticks out  {show(behind)} past the bumper\nground      {show(low - squat)} clear, loaded")
        mark = self.store.part
        part = next((p for p in v.assembly.parts if p.mark == mark), None)
        worst = next((c for c in v.checks if c.part == mark), None)
        said = f"{part.mark}  {part.name}, {units.show(bodies.mass(part), 'mass', job.units)}. " if part else ""
        if worst:
            said += f"Its worst check: {worst.name}, {100 * worst.utilisation:.0f} % in “{worst.case}”. "
        self.weight.setText(said + f"The whole part weighs {units.show(bodies.total_mass(v.assembly), 'mass', job.units)}.")

    def open_words(self) -> tuple[str, bool]:
        n = len(self.store.verdict.warnings)
        if self.store.refusal:
            return "does not fit", True
        return (f"{n} to mind", True) if n else ("clear", False)
