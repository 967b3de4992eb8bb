"""What the halves of the window share: named here, filled in by :class:`urial.desk.window.Window`."""

from __future__ import annotations

from types import ModuleType
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFrame, QMainWindow, QStackedWidget, QWidget

if TYPE_CHECKING:
    from urial.desk.bench import BenchView
    from urial.desk.drawer import Drawer
    from urial.desk.scene.view import Scene
    from urial.desk.start import StartPage
    from urial.desk.stations.base import Station
    from urial.desk.stations.page import PagedStation
    from urial.desk.store import Store
    from urial.desk.theme import Theme
    from urial.desk.widgets.chain import LoadChain


class Shell(QMainWindow):
    """A window with a job, its stations and its drawing."""

    kit: ModuleType
    """Everything the window is furnished with, imported after its first paint."""
    theme: Theme
    store: Store
    scene: Scene
    chain: LoadChain
    drawer: Drawer
    slate: QFrame
    pages: QStackedWidget
    bench: BenchView
    start: StartPage
    work: QWidget
    stations: dict[str, Station]
    """By name, in the order of the work."""
    station: str

    def paged(self, station: str) -> PagedStation | None:
        """A station that has pages."""
        from urial.desk.stations.page import PagedStation  # late: it brings the engineering core with it

        here = self.stations[station]
        return here if isinstance(here, PagedStation) else None

    def go(self, station: str) -> None:
        """Show a station, by its name."""
        raise NotImplementedError

    def _head(self) -> None:
        """Write the header anew."""
        raise NotImplementedError

    def _recompose(self) -> None:
        """Make everything anew that depends on the theme."""
        raise NotImplementedError
