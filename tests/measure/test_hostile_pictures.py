"""Pictures made to fill the memory: refused before they are unpacked, or unpacked no larger than they are
used.
"""

import io
import subprocess
import sys

import numpy as np
import pytest
from PIL import Image

from urial.measure import photo
from urial.measure.rectify import PictureError

UNPACKS = """
import resource, sys
from urial.measure import photo
from urial.measure.rectify import PictureError
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
try:
    photo.store(open(sys.argv[1], "rb").read())
except PictureError as refusal:
    print(refusal)
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before)
"""


def packed(mode, size, kind="PNG"):
    out = io.BytesIO()
    Image.new(mode, size).save(out, kind, **({"compress_level": 9} if kind == "PNG" else {}))
    return out.getvalue()


@pytest.mark.parametrize(
    ("mode", "size", "kind"),
    [("I;16", (6000, 6000), "PNG"), ("RGB", (9900, 9900), "PNG"), ("RGB", (9900, 9900), "JPEG")],
)
def test_none_takes_more_than_half_a_gigabyte(tmp_path, mode, size, kind):
    """In a process of its own, by what the system says it took most."""
    path = tmp_path / "huge"
    path.write_bytes(packed(mode, size, kind))
    assert path.stat().st_size < 3_000_000
    done = subprocess.run(
        [sys.executable, "-c", UNPACKS, str(path)], capture_output=True, text=True, check=True
    )
    assert int(done.stdout.split()[-1]) < 500_000, done.stdout  # kB


@pytest.mark.parametrize(("mode", "size"), [("I;16", (9000, 9000)), ("L", (20_000, 6000))])
def test_one_that_is_too_large_is_refused_before_it_is_unpacked(mode, size):
    with pytest.raises(PictureError, match="million that are taken; scale it down first"):
        photo.store(packed(mode, size))


@pytest.mark.parametrize("size", [(1, 1_000_000), (1_000_000, 1), (40_000, 20), (15, 15)])
def test_a_strip_is_refused(size):
    with pytest.raises(PictureError, match="nothing to measure in it"):
        photo.store(packed("L", size))


def test_a_deep_picture_keeps_its_greys():
    """Sixteen bits from a third to two thirds of the scale, twice as large as is kept."""
    rows = np.linspace(20_000, 40_000, 4000).astype(np.uint16)
    picture = Image.fromarray(np.tile(rows, (64, 1)))
    out = io.BytesIO()
    picture.save(out, "PNG")
    kept = photo.store(out.getvalue())
    assert kept.size[0] <= photo.LONGEST
    grey = photo.grey(kept.data)
    assert grey[:, 0].mean() == pytest.approx(20_000 / 65_535, abs=0.02)
    assert grey[:, -1].mean() == pytest.approx(40_000 / 65_535, abs=0.02)


def test_one_kept_in_a_job_is_no_larger_than_a_job_keeps():
    with pytest.raises(PictureError, match="24 million pixels"):
        photo.grey(packed("L", (6000, 6000)))
