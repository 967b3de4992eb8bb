"""A toe that lies under the foot of another bar: the load goes over from face to face there, so that a
millimetre more or less decides nothing.
"""

import re

import numpy as np
import pytest

from urial.desk.start import demo_jobs
from urial.job import edit
from urial.job.file import load
from urial.prove.verdict import prove

JOBS = {path.stem: path for path, *_ in demo_jobs()}
TOE = "1/chain plate weld: toe on 1/receiver"


def toe(mouth_to_tube_mm):
    """The rescue post's receiver behind a heavy trailer, its cross tube (4 in wide) so far from the mouth:
    the chain plate under it ends 130 mm from the mouth.
    """
    job = edit.put(load(JOBS["rescue-receiver"]).job, "duty.trailer_mass_kg", 4082.0)
    checks = prove(edit.put(job, "stack.1.mouth_to_tube_mm", mouth_to_tube_mm)).checks
    return next(c for c in checks if c.id == TOE)


def force(check):
    """N and My of its ranges, as its working has them."""
    said = next(line.numbers for line in check.working() if line.what == "ranges of force").replace(
        "\u202f", ""
    )
    found = re.search(r"N ([\d.]+),.* My ([\d.]+)", said)
    return float(found[1]), float(found[2])


def test_a_millimetre_decides_nothing():
    """Joined in a line, 129 gave 0.87 and 130 2.66: the toe had passed the line."""
    used = [toe(float(s)).utilisation for s in np.arange(120.0, 140.0, 1.0)]
    steps = np.diff(used)
    assert (steps >= -1e-9).all() and steps.max() < 0.04


def test_under_the_middle_of_the_foot_half_of_the_load_has_gone_over():
    """Ahead of the foot (its face 50.8 mm from its middle) the whole pull passes the toe, under its middle
    half of it; of the moment half of what a whole pull has there.
    """
    ahead, middle = force(toe(130.0 + 51.0)), force(toe(130.0))
    assert middle[0] == pytest.approx(ahead[0] / 2, rel=1e-3)
    assert middle[1] == pytest.approx(ahead[1] / 2, rel=1e-3)
