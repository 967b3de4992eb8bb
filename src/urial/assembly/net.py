"""What is left of a bar or tube at a cross hole or an opening: area and elastic moduli."""

from __future__ import annotations

from urial.stock.sections import Section

Net = tuple[float, float, float]  # area mm², Wy mm³, Wz mm³
Rect = tuple[float, float, float, float]  # y0, y1, z0, z1


def cross_hole(section: Section, d: float) -> Net:
    """A horizontal hole of diameter d at mid-height, through both side walls of a tube or through a solid bar."""
    b, h, t = section.width, section.height, section.wall
    if section.shape == "rect_tube":
        lost_y = 2 * t * d**3 / 12
        lost_z = 2 * d * t * ((b - t) / 2) ** 2 + 2 * d * t**3 / 12
        return section.area - 2 * d * t, (section.Iy - lost_y) / (h / 2), (section.Iz - lost_z) / (b / 2)
    return b * (h - d), b * (h**3 - d**3) / 12 / (h / 2), (h - d) * b**2 / 6


def strips(rects: list[Rect]) -> Net:
    """Rectangles taken together, elastic moduli the lesser of both sides."""
    areas = [(y1 - y0) * (z1 - z0) for y0, y1, z0, z1 in rects]
    area = sum(areas)
    cy = sum(a * (r[0] + r[1]) / 2 for a, r in zip(areas, rects, strict=True)) / area
    cz = sum(a * (r[2] + r[3]) / 2 for a, r in zip(areas, rects, strict=True)) / area
    iy = sum(a * ((r[3] - r[2]) ** 2 / 12 + ((r[2] + r[3]) / 2 - cz) ** 2) for a, r in zip(areas, rects, strict=True))
    iz = sum(a * ((r[1] - r[0]) ** 2 / 12 + ((r[0] + r[1]) / 2 - cy) ** 2) for a, r in zip(areas, rects, strict=True))
    reach_y = max(abs(v - cy) for r in rects for v in r[:2])
    reach_z = max(abs(v - cz) for r in rects for v in r[2:])
    return area, iy / reach_z, iz / reach_y


def opened_tube(section: Section, low: float, high: float) -> Net:
    """A rectangular tube whose walls are cut away between two heights (from its middle); the filling is not counted.

    An opening that reaches the bottom wall takes that wall away too (a notch); one in the middle leaves two channels.
    """
    b, h, t = section.width / 2, section.height / 2, section.wall
    rects: list[Rect] = [(-b, b, h - t, h)]
    if high < h - t:
        rects += [(y, y + t, high, h - t) for y in (-b, b - t)]
    if low > -h + t:
        rects.append((-b, b, -h, -h + t))
        rects += [(y, y + t, -h + t, low) for y in (-b, b - t)]
    return strips(rects)
