"""The window's commands: menus, keys, finding, and what each of them does."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QMessageBox,
    QToolTip,
    QWhatsThis,
    QWidget,
)

from urial import units
from urial.desk.actions import ACTS, MENUS, keys_in_words, of_stations
from urial.desk.files import Files
from urial.desk.theme import DAY, NIGHT

if TYPE_CHECKING:
    from urial.desk.palette import Entry


class Commands(Files):
    """Menus, keys and what can be found."""

    def _actions(self) -> None:
        """Make menus and keys of what is declared."""
        self._menus = {name: self.menuBar().addMenu(name) for name in MENUS}
        self.acts = (*ACTS, *of_stations(s.name for s in self.kit.STATIONS))
        self.actions_by_name: dict[str, QAction] = {}
        for act in self.acts:
            action = QAction(act.words, self)
            action.setShortcuts([QKeySequence(k) for k in act.keys])
            action.triggered.connect(partial(self._do, act.do))
            self._menus[act.menu].addAction(action)
            if act.within:
                action.setShortcutContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            else:
                self.addAction(action)
            self.actions_by_name[act.name] = action
        self.undo_action, self.redo_action = self.actions_by_name["undo"], self.actions_by_name["redo"]

    def _keys_within(self) -> None:
        """Give keys that count in one place alone to that place."""
        for act in self.acts:
            for name in act.within:
                getattr(self, name).addAction(self.actions_by_name[act.name])

    def _do(self, what: str, checked: bool = False) -> None:
        """Carry out an action as it is declared."""
        way, _, given = what.partition(":")
        target: Any = self
        for part in way.split("."):
            target = getattr(target, part)
        target(*([int(given) if given.lstrip("-").isdigit() else given] if given else []))

    def _enable(self, opened: bool) -> None:
        """What needs a job is there with one; a station where it is of use."""
        history = self.store.document.history
        may = {"undo": history.undo_name is not None, "redo": history.redo_name is not None}
        for act in self.acts:
            station = self.stations.get(act.do.partition(":")[2]) if act.do.startswith("go:") else None
            useful = station is None or (opened and station.useful)
            action = self.actions_by_name[act.name]
            action.setEnabled(may.get(act.name, useful and (opened or not act.needs_job)))

    def open_check(self, check_id: str) -> None:
        """Open a check in Prove."""
        self.store.select_check(check_id)
        self.go("Prove")

    def switch_units(self) -> None:
        """Inches or millimetres; not an edit that undo should take back, but it is kept with the job."""
        self.store.put("units", "metric" if self.store.job.units == "inch" else "inch")
        self.kit.settings.remember("units", self.store.job.units)

    def switch_decimals(self) -> None:
        """A point or a comma before the decimals, in all that is shown and printed."""
        mark = "," if units.decimal_mark() == "." else "."
        units.write_decimals(mark)
        self.kit.settings.remember("decimals", mark)
        self._recompose()

    def job_card(self) -> None:
        """Name the job, say for whom, which revision, who signs."""
        self.kit.JobCard(self, self.store).exec()

    def switch_stock(self) -> None:
        """Pickers show bars and plates of both systems, or only those a shop of the job's units has."""
        both = self.kit.settings.remembered("stock") == "as the job"
        self.kit.settings.remember("stock", "both" if both else "as the job")
        self.store.answered.emit("rack")
        self.store.changed.emit()
        other = "inch" if self.store.job.units == "metric" else "metric"
        self.scene.tell(f"Pickers show {other} stock too." if both else f"Pickers show no {other} stock.")

    def shop_card(self) -> None:
        """The shop: its rack, its figures, its book."""
        self.kit.ShopCard(self, self.store).exec()

    def undo(self) -> None:
        """One step back, and say which."""
        name = self.store.document.history.undo_name
        self.store.undo()
        self.scene.tell(f"Undone: {name}" if name else "There is nothing to undo.")

    def redo(self) -> None:
        """One step forward, and say which."""
        name = self.store.document.history.redo_name
        self.store.redo()
        self.scene.tell(f"Done again: {name}" if name else "There is nothing to do again.")

    def toggle_bench(self) -> None:
        """One step of the work in the whole window, or back to the stations."""
        if self.pages.currentWidget() is self.bench:
            self.pages.setCurrentWidget(self.work)
            self.go(self.station)
            return
        if not self.store.has_part or self.store.refusal:
            self.scene.tell("There is nothing to make until there is a part whose sizes agree.")
            return
        self.pages.setCurrentWidget(self.bench)
        self.bench.open(self.stations[self.station].bench_at)
        self.bench.setFocus()

    def toggle_drawer(self) -> None:
        """Open the drawer of bench calculators, or put it away."""
        self.drawer.setVisible(not self.drawer.isVisible())
        self.slate.setVisible(
            not self.drawer.isVisible()
        )  # one of the two, so that the drawing keeps its room
        if self.drawer.isVisible():
            self.drawer.open(self.drawer.tool.name)
            next(iter(self.drawer.editors.values())).setFocus()

    def show_tool(self, name: str) -> None:
        """Open the drawer on one calculator."""
        if not self.drawer.isVisible():
            self.toggle_drawer()
        self.drawer.open(name)

    def bench_size(self) -> None:
        """Half as large again, or back."""
        self.theme.scale = 1.5 if self.theme.scale == 1.0 else 1.0
        self._recompose()

    def night(self) -> None:
        """Night or day."""
        self.theme.palette = NIGHT if self.theme.palette is DAY else DAY
        self._recompose()

    def look_up(self) -> None:
        """Ctrl+K."""
        self.kit.Finder(self, self.entries()).exec()

    def entries(self) -> list[Entry]:
        """Everything that can be found: checks, parts, sizes, calculators, pages, duties, keep-outs,
        commands.
        """
        job, verdict, entry = self.store.job, self.store.verdict, self.kit.Entry
        out = [
            entry(c.name, f"check, {100 * c.utilisation:.0f} %", partial(self.open_check, c.id))
            for c in verdict.checks
        ]
        out += [
            entry(f"{p.mark} {p.name}", "part", partial(self._show_part, p.mark))
            for p in verdict.assembly.parts
        ]
        out += [
            entry(spec.title, f"size, {self.kit.edit.shown(job, path)}", partial(self.show_field, path))
            for path, spec in self.kit.edit.all_specs(job).items()
        ]
        out += [
            entry(t.title, f"calculator: {t.question}", partial(self.show_tool, t.name))
            for t in self.kit.TOOLS
        ]
        out += [
            entry(
                p.name,
                f"page of {station.name}: {p.question}",
                partial(self._show_page, station.name, p.name),
            )
            for station in self.stations.values()
            for p in getattr(station, "PAGES", ())
            if p.fits(job)
        ]
        if job.duty.towed:
            out.append(entry("Trailer", "duty", partial(self.show_field, "duty.trailer_mass_kg")))
        out += [
            entry(d.title, "duty", partial(self.show_field, f"duties.{n}.title"))
            for n, d in enumerate(job.duties)
        ]
        out += [
            entry(k.name, "keep-out", partial(self._show_keep_out, n))
            for n, k in enumerate(job.survey.keep_outs)
        ]
        out += [
            entry(a.text(), "command", a.trigger)
            for menu in self._menus.values()
            for a in menu.actions()
            if a.isEnabled() and a.text()
        ]
        return out

    def _show_part(self, mark: str) -> None:
        """Go to Build with a part chosen."""
        self.go("Build")
        self.store.select_part(mark)

    def _show_page(self, station: str, name: str) -> None:
        """Go to a page of a station."""
        self.go(station)
        here = self.paged(station)
        assert here is not None  # only those with pages list any
        here.show_page(name)

    def _show_keep_out(self, number: int) -> None:
        """Open the page of what is in the way, on one of them."""
        measure = self.paged("Measure")
        assert measure is not None
        self._show_page("Measure", self.kit.KeepOutPage.name)
        measure.pages[measure.current].choose_for(f"survey.keep_outs.{number}.name")

    def show_field(self, path: str) -> None:
        """Go to the field of a parameter and put the cursor in it."""
        for name, station in self.stations.items():
            paged = self.paged(name)
            if paged is not None and (page := paged.page_of(path)):
                paged.show_page(page)
                paged.pages[paged.current].choose_for(path)
            if isinstance(station, self.kit.Build) and path.startswith("stack."):
                station.show_path(path)
            for field in station.findChildren(QWidget, f"field:{path}"):
                if isinstance(station, self.kit.Prove) and path.startswith("stack."):
                    continue
                self.go(name)
                editor = getattr(field, "combo", None) or getattr(field, "line", None)
                station.ensureWidgetVisible(field)
                if editor is not None:
                    editor.setFocus()
                return

    def explain(self) -> None:
        """F1: what is under the pointer, in words."""
        from PySide6.QtGui import QCursor

        widget = QApplication.widgetAt(QCursor.pos())
        while widget is not None:
            if widget.whatsThis() or widget.toolTip():
                QToolTip.showText(QCursor.pos(), widget.whatsThis() or widget.toolTip(), widget)
                return
            widget = widget.parentWidget()
        QWhatsThis.enterWhatsThisMode()

    def guide(self) -> None:
        """One job from tape to plate, in a window of its own that stays open beside the work."""
        self.kit.show_guide(self, self.theme)

    def about(self) -> None:
        """Keys and limits."""
        from urial import __version__

        words = f"Urial {__version__}\n\n{keys_in_words(self.acts)}\n\n{self.kit.CAUTION}"
        QMessageBox.information(self, "Urial", words)
