"""A photo of the survey, squared up: where its picks are on the face and on the host, and how sure that
is.
"""

from __future__ import annotations

from dataclasses import dataclass

from urial.geometry.place import Vec
from urial.job.host import HardPoint, Host
from urial.job.survey import Photo
from urial.measure.rectify import Squared, square_up


def rectangle(photo: Photo) -> list[tuple[float, float]]:
    """The known rectangle's corners on its plane, lower left first, counter-clockwise, mm."""
    w, h = photo.width_mm, photo.height_mm
    return [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)]


def squared(photo: Photo, tape_sigma_mm: float, corner_sigma_px: float = 0.5) -> Squared:
    """The photo's picks on its plane.  PictureError while the corners cannot be used."""
    known = [(c.along_mm, c.up_mm) for c in photo.corners]
    picks = [(p.px, p.py) for p in photo.picks]
    return square_up(
        [(c.px, c.py) for c in photo.corners],
        known,
        picks,
        corner_sigma_px,
        [p.sigma_px for p in photo.picks],
        tape_sigma_mm,
    )


def on_host(photo: Photo, along: float, up: float, host: Host) -> Vec:
    """A place of the plane in the host's axes. In a picture of the left side rearward is to the right; of
    the right side it is to the left; a picture of the rear shows the left side on the left."""
    if photo.face == "rear":
        return -photo.at_behind_mm, photo.at_across_mm - along, photo.at_height_mm + up
    behind = photo.at_behind_mm + (along if photo.face == "left" else -along)
    return -behind, host.face("left") * (1 if photo.face == "left" else -1), photo.at_height_mm + up


@dataclass(frozen=True)
class Found:
    """A pick on the host: its place, standard deviation along and up, and the hole it fits."""

    name: str
    place: Vec
    sigma: tuple[float, float]
    hole_mm: float | None


def picks_on_host(photo: Photo, tape_sigma_mm: float, host: Host) -> list[Found]:
    """Every pick of a photo on the host."""
    found = squared(photo, tape_sigma_mm)
    return [
        Found(p.name, on_host(photo, float(uv[0]), float(uv[1]), host), (float(s[0]), float(s[1])), p.hole_mm)
        for p, uv, s in zip(photo.picks, found.points, found.sigma, strict=True)
    ]


def as_hard_point(found: Found) -> HardPoint:
    """A pick as a hard point of the side it was taken on, to the nearest 0.1 mm."""
    return HardPoint(
        behind_mm=round(-found.place[0], 1),
        height_mm=round(found.place[2], 1),
        hole_mm=round(found.hole_mm, 1) if found.hole_mm else 14.0,
    )
