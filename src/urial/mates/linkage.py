"""Three-point linkage: the pins of each category.

ISO 730 nominal sizes (mm); makers differ, so a part's own sizes may be typed over.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Category:
    """Diameters of upper and lower pins, width of the lower links' balls, inside width of the upper link's
    fork space, mm.
    """

    upper: float
    lower: float
    ball: float
    upper_ball: float


CATEGORIES = {
    "0": Category(16.0, 16.0, 30.0, 35.0),
    "1": Category(19.0, 22.0, 35.0, 44.0),
    "2": Category(25.4, 28.0, 45.0, 51.0),
    "3": Category(31.75, 36.6, 45.0, 51.0),
}
"""By the category's number."""
