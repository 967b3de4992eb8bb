"""Drawings made to keep a reader busy for ever: refused in a sentence at once, taken in or kept in a job."""

import io

import ezdxf
import numpy as np
import pytest

from urial.measure import backdrop, taken
from urial.measure.foreign import lines_of
from urial.measure.taken import BackdropError, outline_of


def bytes_of(drawing):
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def nested(depth, each, line=True):
    """A block in a block in a block, each so many times."""
    drawing = ezdxf.new("R2010")
    block = drawing.blocks.new("b0")
    if line:
        block.add_line((0, 0), (10, 0))
    for n in range(1, depth):
        above = drawing.blocks.new(f"b{n}")
        for k in range(each):
            above.add_blockref(f"b{n - 1}", (k, n))
    drawing.modelspace().add_blockref(f"b{depth - 1}", (0, 0))
    return drawing


def rows(columns, count, line):
    drawing = ezdxf.new("R2010")
    block = drawing.blocks.new("b")
    if line:
        block.add_line((0, 0), (10, 0))
    drawing.modelspace().add_line((0, 0), (5, 5))
    drawing.modelspace().add_blockref(
        "b",
        (0, 0),
        dxfattribs={"row_count": count, "column_count": columns, "row_spacing": 1, "column_spacing": 1},
    )
    return drawing


def circle(radius):
    drawing = ezdxf.new("R2010")
    drawing.modelspace().add_circle((0, 0), radius)
    return drawing


def own_block():
    drawing = ezdxf.new("R2010")
    block = drawing.blocks.new("b")
    block.add_line((0, 0), (1, 1))
    block.add_blockref("b", (1, 0))
    drawing.modelspace().add_blockref("b", (0, 0))
    return drawing


HOSTILE = {
    "nested": (nested(12, 12), "blocks within blocks"),
    "nested and empty": (nested(12, 12, line=False), "blocks within blocks"),
    "rows": (rows(30_000, 30_000, line=True), "blocks within blocks"),
    "rows of nothing": (rows(30_000, 30_000, line=False), "blocks within blocks"),
    "itself": (own_block(), "blocks within blocks"),
    "a huge circle": (circle(1e12), "10 km"),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_it_is_refused_before_it_is_gone_through(name):
    drawing, words = HOSTILE[name]
    with pytest.raises(BackdropError, match=words):
        outline_of(bytes_of(drawing))


@pytest.mark.parametrize("name", ["nested", "rows of nothing", "a huge circle"])
def test_one_that_a_job_has_kept_is_refused_too(name):
    drawing, words = HOSTILE[name]
    with pytest.raises(BackdropError, match=f"The backdrop kept in the job .*{words}"):
        backdrop.load(bytes_of(drawing), "backdrops/x.dxf")


def test_what_is_no_drawing_at_all_is_refused_by_the_other_process():
    with pytest.raises(BackdropError, match="kept in the job"):
        backdrop.load(b"\x00" * 1000, "backdrops/y.dxf")


def test_an_honest_one_comes_through_the_other_process_as_it_is():
    drawing = rows(3, 2, line=True)
    drawing.modelspace().add_circle((50, 50), 20)
    data = bytes_of(drawing)
    here, _ = outline_of(data)
    there = lines_of(data)
    assert len(here) == len(there) == 8
    for a, b in zip(here, there, strict=True):
        assert np.array_equal(a, b)


def test_blocks_are_counted_as_they_are_placed():
    count = lambda d: taken._placed(d)  # noqa: E731
    assert count(rows(3, 2, line=True)) == 1 + 6 * 2
    assert count(nested(3, 4)) == 1 * (1 + 4 * (1 + 4 * (1 + 1)))
    assert count(circle(5)) == 1
