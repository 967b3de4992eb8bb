"""A kind of part drawn small: its own silhouettes, from its starting sizes."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from urial import families
from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.desk.scene.canvas import polygon
from urial.desk.theme import Theme
from urial.families import _shop as shop
from urial.families._shop import ShopKind
from urial.families.registry import Family

_kept: dict[tuple[str, str, int, int], QPixmap] = {}


def sketch(family: Family, theme: Theme, wide: int, high: int) -> QPixmap:
    """The part in the view that shows it best; an empty picture where its starting sizes make none."""
    key = (family.name, theme.palette.paper, wide, high)
    if key not in _kept:
        _kept[key] = _drawn(lambda: families.sketch(family.name), family, theme, wide, high)
    return _kept[key]


def sketch_shop(kind: ShopKind, theme: Theme, wide: int, high: int) -> QPixmap:
    """One of the shop's own kinds, as it starts."""
    return _drawn(lambda: shop.sketch(kind), kind.family, theme, wide, high)


def _drawn(make: Callable[[], Assembly], family: Family, theme: Theme, wide: int, high: int) -> QPixmap:
    out = QPixmap(wide, high)
    out.fill(Qt.GlobalColor.transparent)
    try:
        rows = bodies.elevation(make(), family.seen)
    except ValueError:
        return out
    every = np.concatenate([p for r in rows for p in r.polygons])
    low, high_ = every.min(axis=0), every.max(axis=0)
    room = QRectF(3, 3, wide - 6, high - 6)
    scale = min(room.width() / max(high_[0] - low[0], 1.0), room.height() / max(high_[1] - low[1], 1.0))
    middle = (low + high_) / 2
    p = QPainter(out)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(QColor(theme.palette.ink), 1.1))
    p.setBrush(QColor(theme.palette.steel))
    for row in rows:
        for ring in row.polygons:
            p.drawPolygon(polygon((ring - middle) * scale * [1, -1] + [room.center().x(), room.center().y()]))
    p.end()
    return out
