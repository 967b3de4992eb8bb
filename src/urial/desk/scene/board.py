"""What the halves of the drawing share: named here, filled in by :class:`urial.desk.scene.view.Scene`."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtWidgets import QLabel, QWidget

from urial.assembly import bodies
from urial.assembly.model import Assembly, Dimension
from urial.desk.scene.behind import Behinds
from urial.desk.scene.camera import Camera
from urial.desk.store import Store
from urial.desk.theme import Theme

if TYPE_CHECKING:
    from urial.desk.scene.hands import Grab
    from urial.desk.scene.typing_over import Typed

Stale = Literal["geometry", "paint", "image", "none"]


class Board(QWidget):
    """A job drawn under one camera, with sizes that can be picked."""

    store: Store
    theme: Theme
    camera: Camera
    sockets: bool
    findings: bool
    behind: Behinds
    editor: Typed | None
    problem: QLabel
    _labels: list[tuple[QRectF, Dimension]]
    _press: QPointF | None
    _grab: Grab | None
    grip: tuple[str, str] | None
    _moved: bool
    _hover: str | None

    @property
    def shown(self) -> Assembly:
        """The part as it is drawn."""
        raise NotImplementedError

    def fit(self) -> None:
        """Bring what the page is about into view."""
        raise NotImplementedError

    def open_editor(self, box: QRectF, d: Dimension) -> None:
        """Put an editor over a dimension."""
        raise NotImplementedError

    def tell(self, words: str) -> None:
        """Say something over the drawing for a moment."""
        raise NotImplementedError

    def close_editor(self) -> None:
        """Leave the editor without a change."""
        raise NotImplementedError

    def _mesh(self) -> bodies.Mesh:
        """What is drawn, as triangles."""
        raise NotImplementedError

    def _invalidate(self, what: Stale) -> None:
        """Draw anew from here on."""
        raise NotImplementedError
