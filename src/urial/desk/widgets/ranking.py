"""Every check of a verdict as a row, most used first: mark, percent, name, case."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import (
    QAbstractListModel,
    QModelIndex,
    QPersistentModelIndex,
    QPointF,
    QRectF,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from urial.desk.theme import Theme, font
from urial.desk.widgets.marks import paint_mark
from urial.desk.widgets.plain import plain

Index = QModelIndex | QPersistentModelIndex
ROW = Qt.ItemDataRole.UserRole
NOWHERE = QModelIndex()


@dataclass(frozen=True)
class Row:
    """A check in the list: share used, name, load case, clause."""

    used: float
    name: str
    case: str
    clause: str


class _Checks(QAbstractListModel):
    """The rows; they come and go all at once."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[Row, ...] = ()

    def take(self, rows: tuple[Row, ...]) -> None:
        """Other rows."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: Index = NOWHERE) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not 0 <= index.row() < len(self.rows):
            return None
        row = self.rows[index.row()]
        return {
            ROW: row,
            Qt.ItemDataRole.DisplayRole: row.name,
            Qt.ItemDataRole.ToolTipRole: plain(f"{row.name}\n{row.clause}"),
        }.get(role)  # type: ignore[call-overload]


class _Rows(QStyledItemDelegate):
    """A check as a row: mark, percent, name, case."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(100, self.theme.px(40))

    def paint(
        self, p: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        t, px, pal = self.theme, self.theme.px, self.theme.palette
        row: Row = index.data(ROW)
        box = QRectF(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        if chosen:
            p.fillRect(box, QColor(pal.well))
            p.fillRect(QRectF(box.left(), box.top(), px(4), box.height()), QColor(pal.touch))
        paint_mark(p, t, row.used, QPointF(box.left() + px(17), box.center().y()), px(14))
        p.setPen(t.tone(row.used) if row.used >= 0.7 else QColor(pal.ink))
        p.setFont(font(t, 13, bold=row.used >= 1, mono=True))
        p.drawText(
            QRectF(box.left() + px(28), box.top(), px(48), box.height()),
            Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
            f"{100 * row.used:.0f} %",
        )
        left, wide = box.left() + px(86), box.width() - px(90)
        p.setPen(QColor(pal.ink))
        p.setFont(font(t, 12.5))
        p.drawText(
            QRectF(left, box.top() + px(4), wide, px(18)),
            Qt.AlignmentFlag.AlignLeft,
            p.fontMetrics().elidedText(row.name, Qt.TextElideMode.ElideRight, int(wide)),
        )
        p.setPen(QColor(pal.quiet))
        p.setFont(font(t, 11))
        p.drawText(QRectF(left, box.top() + px(21), wide, px(16)), Qt.AlignmentFlag.AlignLeft, row.case)


class Ranking(QListView):
    """The list; ``picked`` when somebody goes to another row."""

    picked = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("checks")
        self.setAccessibleName("checks, most used first")
        self.setUniformItemSizes(True)
        self._filling = False
        self.checks = _Checks()
        self.rows = _Rows(theme)
        self.setModel(self.checks)
        self.setItemDelegate(self.rows)

    def show_rows(self, rows: tuple[Row, ...], chosen: int) -> None:
        """Show these, one of them chosen; the same ones stay as they are."""
        self._filling = True
        try:
            if rows != self.checks.rows:
                self.checks.take(rows)
            if chosen != self.currentIndex().row():
                self.setCurrentIndex(self.checks.index(chosen))
        finally:
            self._filling = False

    def currentChanged(self, current: Index, previous: Index) -> None:
        super().currentChanged(current, previous)
        if not self._filling and current.isValid():
            self.picked.emit(current.row())


__all__ = ["Ranking", "Row"]
