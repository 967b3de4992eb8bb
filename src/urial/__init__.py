"""Urial: from tape measure to shop sheet for hitch and trailer fabricators."""

__version__ = "0.1.0"

import os

# the frames here are small: a second thread of the linear algebra waits longer than it works
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
