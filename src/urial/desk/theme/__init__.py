"""Colours, type and sizes: day and night, with the same roles, and a bench size half as large again."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from itertools import pairwise

from PySide6.QtGui import QColor, QFont, QFontDatabase


@dataclass(frozen=True)
class Palette:
    """Roles, not colours."""

    paper: str
    card: str
    well: str
    ink: str
    quiet: str
    line: str
    touch: str
    on_touch: str
    steel: str
    slate: str
    ochre: str
    brick: str
    dark: str
    on_dark: str


DAY = Palette(
    "#F4F1EA",
    "#FCFAF5",
    "#EDE9DF",
    "#20292E",
    "#4A5458",
    "#CFC9BC",
    "#2A4B9B",
    "#FFFFFF",
    "#B4C2CC",
    "#54697A",
    "#9A6510",
    "#A4372A",
    "#20292E",
    "#F4F1EA",
)
NIGHT = Palette(
    "#181D20",
    "#21282C",
    "#2B3337",
    "#ECE7DB",
    "#A3ADB0",
    "#3F494E",
    "#93B4F5",
    "#10151C",
    "#6F8292",
    "#A3B9C9",
    "#E3AC4E",
    "#EF8C78",
    "#ECE7DB",
    "#181D20",
)


def rgb(name: str) -> tuple[float, float, float]:
    """A colour's red, green and blue, 0–1."""
    colour = QColor(name)
    return colour.redF(), colour.greenF(), colour.blueF()


def blend(low: str, high: str, share: float) -> tuple[float, float, float]:
    """The colour at a share of the way from one to another, RGB 0–1."""
    (r0, g0, b0), (r1, g1, b1) = rgb(low), rgb(high)
    return r0 + share * (r1 - r0), g0 + share * (g1 - g0), b0 + share * (b1 - b0)


@dataclass
class Theme:
    """The present palette and scale (1.0, or 1.5 at bench size)."""

    palette: Palette = DAY
    scale: float = 1.0

    def px(self, size: float) -> int:
        """A size in pixels at this scale."""
        return round(size * self.scale)

    def tone(self, utilisation: float) -> QColor:
        """Slate, ochre or brick."""
        p = self.palette
        return QColor(p.brick if utilisation >= 1 else p.ochre if utilisation >= 0.7 else p.slate)

    def ramp(self, utilisation: float) -> tuple[float, float, float]:
        """Paint for a part: the three tones as a smooth ramp, lightened, RGB 0–1."""
        stops = [
            (0.0, self.palette.steel),
            (0.65, self.palette.steel),
            (0.85, "#D9B25F"),
            (1.0, "#CF7E62"),
            (1.3, "#B4452F"),
        ]
        u = min(max(utilisation, 0.0), 1.3)
        for (a, low), (b, high) in pairwise(stops):
            if u <= b:
                return blend(low, high, (u - a) / (b - a))
        return rgb(stops[-1][1])


@cache
def load_fonts() -> None:
    """Register the fonts that ship with the application."""
    folder = files("urial.desk.theme") / "fonts"
    for name in ("B612-Regular", "B612-Bold", "B612Mono-Regular", "B612Mono-Bold"):
        QFontDatabase.addApplicationFontFromData((folder / f"{name}.otf").read_bytes())


def font(theme: Theme, size: float = 13, bold: bool = False, mono: bool = False) -> QFont:
    """B612 at a size in pixels; mono for figures."""
    f = QFont("B612 Mono" if mono else "B612")
    f.setPixelSize(theme.px(size))
    f.setBold(bold)
    return f


def stylesheet(t: Theme) -> str:
    """The application's style sheet."""
    p, px = t.palette, t.px
    chevron = files("urial.desk.theme") / f"chevron-{'day' if p is DAY else 'night'}.png"
    return f"""
    * {{ font-family: "B612"; font-size: {px(13)}px; color: {p.ink}; }}
    QMainWindow, QWidget#page, QDialog {{ background: {p.paper}; }}
    QFrame#card {{ background: {p.card}; border: 1px solid {p.line}; border-radius: {px(3)}px; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    QLabel {{ background: transparent; }}
    QLabel[role="title"] {{ font-size: {px(17)}px; font-weight: bold; }}
    QLabel[role="head"] {{ font-size: {px(13)}px; font-weight: bold; padding-top: {px(8)}px; }}
    QLabel[role="strong"] {{ font-weight: bold; padding: {px(3)}px {px(5)}px; }}
    QLabel[role="big"] {{ font-size: {px(26)}px; font-weight: bold; }}
    QLabel[role="quiet"] {{ color: {p.quiet}; font-size: {px(13)}px; }}
    QLabel[role="problem"] {{ color: {p.brick}; font-size: {px(12)}px; }}
    QLabel[role="told"] {{ background: {p.dark}; color: {p.on_dark}; padding: {px(6)}px {px(14)}px;
        border-radius: {px(3)}px; }}
    QLabel[role="mono"] {{ font-family: "B612 Mono"; }}
    QLineEdit, QComboBox {{ background: {p.well}; border: 1px solid {p.line}; border-radius: {px(2)}px;
        padding: {px(4)}px {px(7)}px;
        font-family: "B612 Mono"; min-height: {px(20)}px; selection-background-color: {p.touch};
        selection-color: {p.on_touch}; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {p.touch}; background: {p.card}; }}
    QLineEdit[tight="true"] {{ padding: {px(4)}px {px(3)}px; }}
    QLineEdit[origin="assumed"], QComboBox[origin="assumed"],
    QWidget[role="choices"][origin="assumed"] {{ border-left: {px(4)}px solid {p.ochre}; }}
    QLineEdit[origin="simulated"], QComboBox[origin="simulated"] {{ border-left: {px(4)}px solid {p.brick}; }}
    QLineEdit[wrong="true"], QComboBox[wrong="true"] {{ border: 2px solid {p.brick}; }}
    QComboBox QLineEdit, QComboBox QLineEdit:focus {{ border: none; padding: 0; min-height: 0;
        background: transparent; }}
    QComboBox::drop-down {{ border: none; width: {px(18)}px; }}
    QComboBox::down-arrow {{ image: url("{chevron}"); width: {px(14)}px; height: {px(14)}px; }}
    QMenuBar {{ background: {p.paper}; }}
    QMenuBar::item {{ background: transparent; padding: {px(4)}px {px(9)}px; }}
    QMenuBar::item:selected {{ background: {p.well}; }}
    QComboBox QAbstractItemView {{ background: {p.card}; border: 1px solid {p.line};
        selection-background-color: {p.touch}; selection-color: {p.on_touch}; }}
    QPushButton {{ background: {p.card}; border: 1px solid {p.line}; border-radius: {px(3)}px;
        padding: {px(6)}px {px(12)}px; color: {p.ink}; font-weight: bold; }}
    QPushButton:hover {{ background: {p.well}; }}
    QPushButton:focus {{ border: 2px solid {p.touch}; }}
    QPushButton:checked, QPushButton[main="true"] {{ background: {p.touch}; color: {p.on_touch};
        border-color: {p.touch}; }}
    QPushButton:disabled {{ color: {p.quiet}; border-color: {p.line}; }}
    QPushButton[main="true"]:disabled {{ background: {p.well}; color: {p.quiet}; }}
    QPushButton[flat="true"] {{ border: none; background: transparent; padding: {px(3)}px {px(4)}px;
        text-align: left; }}
    QPushButton[words="true"] {{ font-weight: normal; color: {p.ink}; }}
    QPushButton[tree="true"] {{ font-weight: normal; font-size: {px(12)}px; padding: {px(4)}px {px(5)}px; }}
    QPushButton[tree="true"]:checked {{ background: {p.well}; color: {p.touch}; font-weight: bold;
        border-left: {px(3)}px solid {p.touch}; border-radius: 0; }}
    QPushButton[offer="true"] {{ text-align: left; border-color: {p.line}; padding: {px(5)}px;
        font-weight: normal; color: {p.ink}; }}
    QPushButton[page="true"] {{ border: none; border-bottom: {px(2)}px solid transparent; border-radius: 0;
        background: transparent; padding: {px(3)}px {px(4)}px; text-align: left;
        font-weight: normal; font-size: {px(13)}px; color: {p.ink}; }}
    QPushButton[page="true"]:hover, QPushButton[page="true"]:focus {{ background: {p.well}; border: none;
        border-bottom: {px(2)}px solid {p.line}; }}
    QPushButton[page="true"]:checked {{ background: transparent; color: {p.touch}; font-weight: bold;
        border-bottom: {px(2)}px solid {p.touch}; }}
    QPushButton[page="true"]:disabled {{ color: {p.quiet}; }}
    QPushButton[segment="true"] {{ border-radius: 0; padding: {px(4)}px {px(7)}px; font-weight: normal;
        font-size: {px(12)}px; }}
    QToolTip {{ background: {p.dark}; color: {p.on_dark}; border: none; padding: {px(5)}px; }}
    QListWidget, QListView#checks, QTableWidget {{ background: {p.card}; border: 1px solid {p.line}; }}
    QListWidget::item {{ padding: {px(4)}px; }}
    QListWidget::item:selected, QTableWidget::item:selected {{ background: {p.touch}; color: {p.on_touch}; }}
    QHeaderView::section {{ background: {p.well}; border: none; border-bottom: 1px solid {p.line};
        padding: {px(4)}px; font-weight: bold; }}
    QScrollBar:vertical {{ background: transparent; width: {px(10)}px; }}
    QScrollBar::handle:vertical {{ background: {p.line}; border-radius: {px(4)}px; min-height: {px(30)}px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; }}
    QMenu {{ background: {p.card}; border: 1px solid {p.line}; }}
    QMenu::item {{ padding: {px(5)}px {px(18)}px; }}
    QMenu::item:selected {{ background: {p.touch}; color: {p.on_touch}; }}
    QProgressBar {{ border: 1px solid {p.line}; background: {p.well}; text-align: center; }}
    QProgressBar::chunk {{ background: {p.touch}; }}
    """
