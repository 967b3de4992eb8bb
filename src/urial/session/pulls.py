"""Proof tests while they are pulled: every reading is on disk when it shows, so that an hour under load
outlasts whatever ends the application.  What is signed is in the log, and goes from here.
"""

from __future__ import annotations

import contextlib
import json
import logging
import time
from dataclasses import asdict
from hashlib import sha256
from pathlib import Path
from typing import Any

from urial.journal import state_dir
from urial.prove.proof_record import Foretold, Pull, Reading

log = logging.getLogger("urial")

KEPT_S = 7 * 24 * 3600.0
"""A test nobody has gone on with for so long is begun anew, s."""


class Pulls:
    """Of all jobs, by job and test.  What cannot be written is kept in the window alone, and logged."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder
        self._known: dict[tuple[str, str], Pull] = {}
        self.found: set[tuple[str, str]] = set()
        """Tests that were begun before the application was started, and are neither signed nor begun anew."""

    def _path(self, job: str, test: str) -> Path:
        name = sha256(f"{job}|{test}".encode()).hexdigest()[:24]
        return (self._folder or state_dir() / "pulls") / f"{name}.jsonl"

    def of(self, job: str, test: str) -> Pull:
        """A test as far as it was pulled, here or before the application ended."""
        key = job, test
        if key not in self._known:
            before = self._read(job, test) if job and test else None
            self._known[key] = before or Pull()
            if before is not None:
                self.found.add(key)
        return self._known[key]

    def add(
        self, job: str, test: str, wanted: Foretold, reading: tuple[float, float], simulated: bool
    ) -> bool:
        """One more reading (kN, mm), now; False where no more are kept."""
        pull = self.of(job, test)
        first = not pull.readings
        if not pull.add(wanted, *reading, simulated):
            return False
        if job and test:
            rows: list[dict[str, Any]] = []
            if first:
                began = time.time() - pull.readings[-1].at
                rows.append({"job": job, "test": test, "began": began, "wanted": asdict(wanted)})
            rows.append({**asdict(pull.readings[-1]), "simulated": simulated})
            self._write(self._path(job, test), rows, first)
        return True

    def anew(self, job: str, test: str) -> None:
        """Drop what was read of a test."""
        self._known.pop((job, test), None)
        self.signed(job, test)

    def signed(self, job: str, test: str) -> None:
        """What was read is in the log: it need not be here; the window may still show it."""
        self.found.discard((job, test))
        with contextlib.suppress(OSError):
            self._path(job, test).unlink(missing_ok=True)

    def _write(self, path: Path, rows: list[dict[str, Any]], first: bool) -> None:
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            with path.open("w" if first else "a", encoding="utf-8") as out:
                lines = "\n".join(json.dumps(r) for r in rows)
                out.write(lines if first else f"\n{lines}")  # a line that was torn off stays alone
        except OSError:
            log.exception("a reading of a proof test could not be kept in %s", path)

    def _read(self, job: str, test: str) -> Pull | None:
        path = self._path(job, test)
        try:
            if time.time() - path.stat().st_mtime > KEPT_S:
                path.unlink()
                return None
            head, *rows = path.read_text(encoding="utf-8", errors="replace").splitlines()
            known = json.loads(head)
            if (known["job"], known["test"]) != (job, test):
                return None
            pull = Pull(wanted=Foretold(**known["wanted"]))
            pull.begun = time.monotonic() - max(time.time() - float(known["began"]), 0.0)
        except (OSError, ValueError, KeyError, TypeError):
            return None
        for row in rows:
            with contextlib.suppress(ValueError, KeyError, TypeError):  # the last line may be half a line
                one = json.loads(row)
                pull.readings.append(Reading(float(one["at"]), float(one["kN"]), float(one["mm"])))
                pull.simulated |= bool(one["simulated"])
        return pull if pull.readings else None


__all__ = ["KEPT_S", "Pulls"]
