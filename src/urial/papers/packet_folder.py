"""A packet in a folder: written whole or not at all, over nothing of somebody else's."""

from __future__ import annotations

import contextlib
import ctypes
import os
import shutil
import tempfile
import time
from pathlib import Path

from urial.job.file import FileError, os_words, write_atomically
from urial.papers.packet import Packet

OURS = (
    "packet.pdf",
    "templates.pdf",
    "labels.pdf",
    "parts.csv",
    "pieces.csv",
    "bends.csv",
    "results.json",
)

PLATES = (".dxf", ".svg")
"""How a plate's own drawings end."""


def earlier(folder: Path) -> list[Path]:
    """The files of a packet that lies in a folder; none where no packet does."""
    try:
        there = [folder / name for name in OURS if (folder / name).is_file()]
        plates = sorted(p for kind in PLATES for p in folder.glob(f"plate-*{kind}"))
        return [*there, *plates] if len(there) >= 2 else []
    except OSError:
        return []


def somebody_elses(p: Packet, folder: Path) -> list[str]:
    """Names of files a packet would be written over that are none of an earlier packet's, which can be made
    again from its job at any time.
    """
    return [] if earlier(folder) else sorted(name for name in p.files if (folder / name).exists())


def _exchange(one: Path, other: Path) -> bool:
    """Let two folders change names in one step of the system; False where it has no such step."""
    try:
        swap = ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError):
        return False
    here, exchange = -100, 2  # AT_FDCWD and RENAME_EXCHANGE of renameat2(2)
    return bool(swap(here, os.fsencode(one), here, os.fsencode(other), exchange) == 0)


def _ours(path: Path) -> bool:
    """Is it a file that packets are made of?"""
    return path.name in OURS or (path.name.startswith("plate-") and path.suffix in PLATES)


def _sweep(place: Path, prefix: str) -> None:
    """Take away what a write that was killed an hour ago or more has left, and nothing else."""
    with contextlib.suppress(OSError):
        for path in place.iterdir():
            if path.name.startswith(prefix) and time.time() - path.stat().st_mtime > 3600:
                _discard(path)


def _discard(aside: Path) -> None:
    """Take away a folder of packet files; one that holds something else stays, with that in it."""
    with contextlib.suppress(OSError):
        for path in aside.iterdir():
            half = Path(path.name[1:].rpartition(".")[0])  # what a write calls its file until it is whole
            if _ours(path) or (path.name.startswith(".") and _ours(half)):
                path.unlink()
        aside.rmdir()


def _alone(folder: Path) -> bool:
    """Is the folder empty, or does it hold a packet and nothing else?  Never the one somebody stands in."""
    return folder != Path.cwd() and set(folder.iterdir()) == set(earlier(folder))


def write_packet(p: Packet, folder: Path) -> list[Path]:
    """Write the files into a folder: all of them aside first, so that a full disk leaves the earlier packet
    as it was.  An empty folder, or one that holds an earlier packet and nothing else, is changed for
    the new one in one step, so that not even a kill mixes the two; beside other files each is put in its
    place in turn.
    FileError with one sentence when the place will not take them.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        real = folder.resolve()
        whole = _alone(real) and os.access(real.parent, os.W_OK)
        place, prefix = (real.parent, f".{real.name}.packet-") if whole else (real, ".packet-")
        _sweep(place, prefix)
        aside = Path(tempfile.mkdtemp(prefix=prefix, dir=place))
    except OSError as error:
        raise FileError(f"The folder {folder} cannot be made or written in: {os_words(error)}.") from None
    try:
        for name, data in p.files.items():
            write_atomically(aside / name, data)
        if whole:
            shutil.copymode(real, aside)
        if whole and _exchange(aside, real):
            for path in aside.iterdir():  # what somebody has put there while this was written
                if not _ours(path):
                    os.replace(path, real / path.name)
        else:
            old = [path for path in earlier(real) if path.name not in p.files]
            for name in p.files:
                os.replace(aside / name, real / name)
            for path in old:  # plates that the part no longer has
                path.unlink(missing_ok=True)
    except OSError as error:
        raise FileError(f"The packet could not be written to {folder}: {os_words(error)}.") from None
    finally:
        _discard(aside)
    return [folder / name for name in p.files]
