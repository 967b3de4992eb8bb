"""Shared by all tests: a private state folder, a job, its verdict; Qt without a screen unless one is asked
for.
"""

from __future__ import annotations

import ctypes
import gc
import os
import sys
import tempfile
from pathlib import Path

# before anything of Qt or the application is imported
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["PYTHONPATH"] = str(Path(__file__).parents[1] / "src")  # for commands run in their own process
os.environ["URIAL_STATE_DIR"] = tempfile.mkdtemp(prefix="urial-tests-")

import pytest
from hypothesis import HealthCheck, settings

from urial import families
from urial.job.model import Job
from urial.prove.verdict import Verdict, prove

# every run repeats the same examples, so that a red one is the change's own doing;
# ./run explore tries new ones
settings.register_profile(
    "house",
    deadline=None,
    derandomize=not os.environ.get("URIAL_EXPLORE"),
    max_examples=int(os.environ.get("URIAL_EXPLORE") or 25),
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("house")


def pytest_collection_finish(session: pytest.Session) -> None:
    """What is imported stays: a collection need not look at it again, and comes less often."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 100)


@pytest.fixture(scope="session")
def job() -> Job:
    return families.new_job("rear-receiver")


@pytest.fixture(scope="session")
def verdict(job: Job) -> Verdict:
    return prove(job)


ENOUGH = 1_200_000
"""Resident memory of a test process, kB, from which on remembered shapes are forgotten after a module."""


@pytest.fixture(autouse=True, scope="module")
def forgetful():
    """Random sizes make thousands of shapes that no other module asks for again."""
    yield
    status = Path("/proc/self/status")
    if status.exists():
        kept = next(
            (line for line in status.read_text().splitlines() if line.startswith("VmRSS")), "VmRSS: 0 kB"
        )
        if int(kept.split()[1]) > ENOUGH:
            ours = [m for name, m in list(sys.modules.items()) if name.startswith("urial.")]
            found = {id(v): v for m in ours for v in vars(m).values() if hasattr(v, "cache_info")}
            for kept_by in found.values():
                if kept_by.cache_info().maxsize is not None:  # tables that are read once stay
                    kept_by.cache_clear()
            gc.collect()
            give_back = getattr(ctypes.CDLL(None), "malloc_trim", None)
            if give_back is not None:  # else what was freed still counts, and all is forgotten after each
                give_back(0)
