"""Outlines out of drawings and pictures: as they were drawn, to a hair or within a pixel; and strangers'
files refused in a sentence.
"""

import math
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from PIL import Image, ImageDraw
from shapely.geometry import Polygon

from urial.geometry.fitted import NoOutline
from urial.geometry.outline import area, flatten, rectangle
from urial.measure.outline_file import FINE, bridged, faults, moved, read, traced
from urial.measure.rings import rings_of
from urial.measure.taken import BackdropError

OVER = 4
"""Pictures are drawn so many times as fine and drawn together, as a scanner does."""


def drawn(path, metal, gone, size=(900, 600)):
    """A picture of what is dark and what is cut out of it, each a call on ImageDraw."""
    image = Image.new("L", (size[0] * OVER, size[1] * OVER), 255)
    pen = ImageDraw.Draw(image)
    for shapes, fill in ((metal, 0), (gone, 255)):
        for kind, box, *more in shapes:
            getattr(pen, kind)([v * OVER for v in box], *[m * OVER for m in more], fill=fill)
    image.resize(size, Image.LANCZOS).save(path)
    return path


@pytest.fixture
def picture(tmp_path):
    return drawn(
        tmp_path / "plate.png",
        [("rounded_rectangle", (100, 100, 800, 500), 60)],
        [("ellipse", (170, 270, 230, 330)), ("rectangle", (500, 250, 650, 350))],
    )


def test_a_picture_comes_out_within_a_pixel_its_arcs_as_arcs(picture):
    """700 × 400 px with corners of 60, a hole of 60 at (200, 300), an opening of 150 × 100: known to the
    pixel, for it was drawn so.
    """
    t = read(picture)
    assert t.unit == "px" and t.size == pytest.approx((700, 400), abs=1.0)
    assert len(t.rim) == 8 and [bool(b) for _, _, b in t.rim].count(True) == 4
    true = Polygon(flatten(rectangle(-350, -200, 350, 200, 60), math.radians(1)))
    mine = Polygon(flatten(t.rim, math.radians(1)))
    assert true.exterior.hausdorff_distance(mine.exterior) < 1.0
    assert area(t.rim) == pytest.approx(true.area, rel=3e-3)
    (hole,) = t.holes
    assert hole == pytest.approx((-250.0, 0.0, 60.0), abs=0.5)
    (window,) = t.windows
    assert len(window) == 4 and area(window) == pytest.approx(150 * 100, rel=0.01)


def test_a_grey_scan_a_photograph_s_format_and_a_transparent_ground_are_read_alike(picture, tmp_path):
    image = Image.open(picture).convert("L")
    grey = np.asarray(image).astype(float) * 0.5 + 70  # faded ink on grey paper
    grey += np.random.default_rng(3).normal(0, 6, grey.shape)
    Image.fromarray(grey.clip(0, 255).astype(np.uint8)).save(tmp_path / "scan.jpg", quality=85)
    clear = Image.new("RGBA", image.size, (0, 0, 0, 0))
    clear.paste((20, 20, 20, 255), mask=image.point(lambda v: 255 - v))
    clear.save(tmp_path / "clear.png")
    first = read(picture)
    for name in ("scan.jpg", "clear.png"):
        t = read(tmp_path / name)
        assert t.size == pytest.approx(first.size, abs=2.0), name
        assert t.holes[0] == pytest.approx(first.holes[0], abs=1.0)
        assert len(t.windows) == 1 and len(t.rim) <= 14


def test_a_dxf_of_loose_lines_and_arcs_is_joined_and_exact(tmp_path):
    doc = ezdxf.new()
    doc.header["$INSUNITS"] = 4
    space = doc.modelspace()
    space.add_line((100, 60), (0, 60))
    space.add_line((0, 0), (100, 0))
    space.add_arc((100, 30), 30, -90, 90)
    space.add_line((0, 60), (0, 0))
    space.add_circle((20, 30), 6)
    space.add_lwpolyline([(40, 20), (70, 20), (70, 40), (40, 40)], close=True)
    space.add_text("6 off", height=5)
    doc.saveas(tmp_path / "a.dxf")
    t = read(tmp_path / "a.dxf")
    assert t.size == pytest.approx((130.0, 60.0), abs=1e-3) and t.unit == "mm"
    assert area(t.rim) == pytest.approx(100 * 60 + math.pi * 30**2 / 2, rel=1e-5)
    assert t.holes == (pytest.approx((-45.0, 0.0, 12.0), abs=1e-3),)
    assert area(t.windows[0]) == pytest.approx(600.0)
    doc.header["$INSUNITS"] = 1
    doc.saveas(tmp_path / "inch.dxf")
    assert read(tmp_path / "inch.dxf").size == pytest.approx((130.0 * 25.4, 60.0 * 25.4), rel=1e-4)


def test_an_svg_s_shapes_are_in_millimetres_whatever_they_are_turned_by(tmp_path):
    path = tmp_path / "a.svg"
    path.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 240 160">'
        '<rect x="20" y="20" width="200" height="120" rx="20"/><circle cx="60" cy="80" r="13"/>'
        '<g transform="rotate(90 160 80)"><path d="M148 72 h24 v16 h-24 z"/></g>'
        '<path d="M100 60 C120 40 140 40 140 60 S120 100 100 60 z"/>'
        '<text x="9" y="9">no outline</text><line x1="0" y1="0" x2="9" y2="9"/></svg>'
    )
    t = read(path)
    assert t.size == pytest.approx((100.0, 60.0), abs=1e-3)
    assert t.holes == (pytest.approx((-30.0, 0.0, 13.0), abs=1e-3),)
    sizes = sorted(area(w) for w in t.windows)
    assert sizes[0] == pytest.approx(12 * 8, rel=1e-4) and len(sizes) == 2
    xs, ys = zip(*[(x, y) for x, y, _ in min(t.windows, key=area)], strict=True)
    assert (max(xs) - min(xs), max(ys) - min(ys)) == pytest.approx((8.0, 12.0), abs=1e-3)


def test_what_falls_out_is_an_island_and_a_bridge_holds_it(tmp_path):
    """A gauge: an island of 80 in an opening of 200 × 200; two bridges of 12 across 60 on either side."""
    path = drawn(
        tmp_path / "o.png",
        [("rectangle", (100, 100, 500, 500))],
        [("rectangle", (200, 200, 400, 400))],
    )
    image = Image.open(path)
    ImageDraw.Draw(image).rectangle((260, 260, 340, 340), fill=0)
    image.save(path)
    t = read(path)
    assert len(t.islands) == 1 and t.metal.area == pytest.approx(400**2 - 200**2, rel=0.01)
    assert any("falls out" in f.words for f in faults(t, 8.0, 1.5))
    held = bridged(t, 12.0)
    assert not held.islands and len(held.windows) == 2
    both = 400**2 - 200**2 + 80**2 + 2 * 12 * 60
    assert held.metal.area == pytest.approx(both, rel=0.01)
    assert held.size == pytest.approx(t.size, abs=0.1)
    with pytest.raises(NoOutline, match="narrower than that bridge"):
        bridged(t, 90.0)


def test_moved_is_scaled_turned_then_shifted(picture):
    t = read(picture)
    half = moved(t, (10.0, 20.0), math.pi / 2, 0.5)
    x, y, d = t.holes[0]
    assert half.holes[0] == pytest.approx((10.0 - 0.5 * y, 20.0 + 0.5 * x, 0.5 * d))
    assert area(half.rim) == pytest.approx(area(t.rim) / 4)


def rings(*outlines):
    return [np.array(flatten(o, math.radians(2))) for o in outlines]


def test_faults_by_hand():
    """Of an 8 mm plate: a web of 7 is too thin and of 9 is not; a hole of 7 is drilled, of 8.5 is cut."""
    rim = rectangle(0, 0, 200, 100)
    for left, thin in ((7.0, True), (9.0, False)):
        t = traced(rings(rim, rectangle(left, 20, 60, 80)), FINE)
        assert any("web" in f.words for f in faults(t, 8.0, 1.5)) == thin, left
    for d, small in ((7.0, True), (8.5, False)):
        t = traced(rings(rim, ((100 + d / 2, 50, 1.0), (100 - d / 2, 50, 1.0))), FINE)
        assert t.holes[0][2] == pytest.approx(d, abs=0.01)
        assert any("drill" in f.words for f in faults(t, 8.0, 1.5)) == small, d
    slot = traced(rings(rim, rectangle(90, 40, 150, 46)), FINE)
    assert any("narrower than 8" in f.words for f in faults(slot, 8.0, 1.5))
    assert not faults(traced(rings(rim, rectangle(60, 30, 120, 70, 5)), FINE), 8.0, 1.5)


def test_outlines_that_cross_and_pieces_beside_are_said():
    with pytest.raises(NoOutline, match="cross each other"):
        traced(rings(rectangle(0, 0, 100, 100), rectangle(90, 20, 130, 60)), FINE)
    t = traced(rings(rectangle(0, 0, 100, 100), rectangle(200, 0, 230, 30)), FINE)
    assert t.others == 1 and t.size == pytest.approx((100, 100))
    with pytest.raises(NoOutline, match="no outline with an area"):
        traced([np.zeros((4, 2))], FINE)


BAD = {
    "text.svg": (b"hello", "cannot be read|closed outline"),
    "empty.svg": (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no closed outline"),
    "open.svg": (
        b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0 L90 0 L90 90'/></svg>",
        "no closed outline",
    ),
    "entity.svg": (
        b"<!DOCTYPE s [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg'/>",
        "entities of its own",
    ),
    "bow.svg": (
        b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0 L90 90 L90 0 L0 80 z'/></svg>",
        "crosses itself",
    ),
    "huge.svg": (
        b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0 L1e300 0 L0 1e300 z'/></svg>",
        "no closed outline|cannot be read",
    ),
    "nothing.dxf": (b"0\nEOF\n", "no drawing|no lines"),
    "noise.png": (b"\x89PNG\r\n\x1a\nxxxx", "cannot be read"),
    "a.exe": (b"MZ", "take a DXF, an SVG"),
}


@pytest.mark.parametrize("name", BAD)
def test_a_stranger_s_file_is_refused_in_one_sentence(tmp_path, name):
    data, said = BAD[name]
    (tmp_path / name).write_bytes(data)
    with pytest.raises(BackdropError, match=said) as found:
        read(tmp_path / name)
    assert str(found.value).startswith(name) and str(found.value).count("\n") == 0


def test_a_file_that_is_not_there_and_pictures_of_nothing_or_too_large(tmp_path):
    with pytest.raises(BackdropError, match="is no file"):
        read(tmp_path / "gone.dxf")
    Image.new("L", (300, 200), 255).save(tmp_path / "white.png")
    with pytest.raises(BackdropError, match="shows nothing"):
        read(tmp_path / "white.png")
    Image.new("1", (7000, 40)).save(tmp_path / "strip.png")
    with pytest.raises(BackdropError, match="7000 × 40 pixels"):
        read(tmp_path / "strip.png")
    Image.new("1", (20000, 20000)).save(tmp_path / "bomb.png")
    with pytest.raises(BackdropError, match=r"bomb.png"):
        read(tmp_path / "bomb.png")


def test_rings_are_read_the_same_in_this_process(picture):
    found, unit = rings_of("picture", Path(picture))
    assert unit == "px" and len(found) == 3
