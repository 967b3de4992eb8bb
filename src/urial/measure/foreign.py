"""Bodies and outlines out of other programs' files: read in a process of its own, with limits, and kept in
one plain form.

A body becomes a binary STL in the file's own axes (STEP and IGES: in millimetres), an outline stays the DXF
it was.  STL, OBJ and PLY are read by trimesh, STEP and IGES by Open CASCADE through cascadio, DXF by
ezdxf.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import struct
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from urial.measure.rings import rings_of
from urial.measure.taken import FACES, FOLDER, LARGEST, BackdropError, outline_of
from urial.words import one_line

Array = NDArray[np.float64]
BODIES = {
    ".stl": "stl",
    ".obj": "obj",
    ".ply": "ply",
    ".step": "step",
    ".stp": "step",
    ".igs": "iges",
    ".iges": "iges",
}
OUTLINES = (".dxf",)
SECONDS, MEMORY = 150, 4 * 1024**3
"""What reading one file may take."""
KEPT_CPU, RINGS_CPU, KEPT_SECONDS, KEPT_MEMORY = 5, 20, 60, 2 * 1024**3
"""What reading an outline that a job has kept, or the rings of one, may take: seconds of a processor (of
each), seconds in all, bytes.
"""
CHORD, ANGLE = 0.2, 0.3
"""How far a face of a STEP body may lie off its curve, mm and radians."""
DXF_UNITS: dict[int, Literal["mm", "cm", "m", "inch"]] = {1: "inch", 4: "mm", 5: "cm", 6: "m"}
"""$INSUNITS of a DXF, as far as a shop meets them."""
HEADER = b"Urial backdrop, the file's own axes"


@dataclass(frozen=True)
class Taken:
    """A file ready to be attached: its name there, its bytes, what it is, its unit as far as it says one,
    and what was done to it, in words.
    """

    name: str
    data: bytes
    kind: Literal["body", "outline"]
    unit: Literal["mm", "cm", "m", "inch"]
    told: str = ""


def take(path: Path, stale: Callable[[], bool] = lambda: False) -> Taken:
    """Read a file; BackdropError in one sentence when it cannot stand behind, or when nobody waits."""
    ending = path.suffix.lower()
    if ending not in BODIES and ending not in OUTLINES:
        raise BackdropError(
            f"{path.name} ends in “{ending or 'nothing'}”; take a STEP, IGES, STL, OBJ or PLY body or "
            "a DXF outline."
        )
    try:
        _not_too_large(path, LARGEST, "coarser or in pieces")
        with tempfile.TemporaryDirectory(prefix="urial-") as room:
            out = Path(room) / "out"
            answer = _apart(path, BODIES.get(ending, "dxf"), out, stale)
            if "problem" in answer:
                raise BackdropError(f"{path.name} {answer['problem']}")
            data = out.read_bytes()
    except OSError as error:
        raise BackdropError(f"{path.name} cannot be read: {error.strerror or error}.") from None
    kind: Literal["body", "outline"] = "outline" if ending in OUTLINES else "body"
    tail = ".dxf" if kind == "outline" else ".stl"
    unit = DXF_UNITS.get(int(answer.get("insunits", 4)), "mm")
    return Taken(name_of(data, tail), data, kind, unit, str(answer.get("told", "")))


def _not_too_large(path: Path, largest: int, how: str) -> None:
    if not path.is_file():
        raise BackdropError(f"{path.name} is no file; choose another.")
    if path.stat().st_size > largest:
        raise BackdropError(f"{path.name} is larger than {largest // 1024**2} MB; save it {how}.")


def lines_of(data: bytes) -> list[NDArray[np.float64]]:
    """The lines of an outline that a job has kept, each (n, 3), read in another process; BackdropError, as
    the end of a sentence, when they cannot be.
    """
    with tempfile.TemporaryDirectory(prefix="urial-") as room:
        path, out = Path(room) / "kept.dxf", Path(room) / "out"
        path.write_bytes(data)
        answer = _apart(path, "lines", out, lambda: False, KEPT_SECONDS)
        if "problem" in answer:
            raise BackdropError(str(answer["problem"]))
        rows = np.frombuffer(out.read_bytes(), dtype="<f8").reshape(-1, 4)
    ends = np.flatnonzero(np.diff(rows[:, 3])) + 1
    return [line[:, :3].copy() for line in np.split(rows, ends)]


def rings(
    path: Path, kind: str, largest: int, stale: Callable[[], bool] = lambda: False
) -> tuple[list[NDArray[np.float64]], str]:
    """The closed rings of an outline's file, each (n, 2), and their unit; BackdropError in one sentence."""
    try:
        _not_too_large(path, largest, "simpler")
        with tempfile.TemporaryDirectory(prefix="urial-") as room:
            out = Path(room) / "out"
            answer = _apart(path, f"rings {kind}", out, stale, KEPT_SECONDS)
            if "problem" in answer:
                raise BackdropError(f"{path.name} {answer['problem']}")
            rows = np.frombuffer(out.read_bytes(), dtype="<f8").reshape(-1, 3)
    except OSError as error:
        raise BackdropError(f"{path.name} cannot be read: {error.strerror or error}.") from None
    ends = np.flatnonzero(np.diff(rows[:, 2])) + 1
    return [r[:, :2].copy() for r in np.split(rows, ends)], answer["unit"]


def name_of(data: bytes, ending: str) -> str:
    """What an attachment is called: made from its contents, so the same file is kept once."""
    return FOLDER + hashlib.sha256(data).hexdigest()[:16] + ending


def _apart(
    path: Path, kind: str, out: Path, stale: Callable[[], bool], seconds: int = SECONDS
) -> dict[str, str]:
    """Have another process read it: a file that brings a library down, or to a halt, brings down only
    that.
    """
    told = out.with_suffix(".json")
    ours = str(Path(__file__).parents[2])
    env = {**os.environ, "PYTHONPATH": os.pathsep.join((ours, os.environ.get("PYTHONPATH", "")))}
    child = subprocess.Popen(
        [sys.executable, "-m", "urial.measure.foreign", kind, str(path.absolute()), str(out), str(told)],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        stdin=subprocess.DEVNULL,
        env=env,
    )
    end = time.monotonic() + seconds
    try:
        while child.poll() is None:
            if stale():
                raise BackdropError(f"{path.name} was not taken in: stopped.")
            if time.monotonic() > end:
                return {"problem": f"takes more than {seconds} s to read; save it simpler, or as STL."}
            time.sleep(0.02)
    finally:
        if child.poll() is None:
            child.kill()
        child.wait()
    try:
        answer: dict[str, str] = json.loads(told.read_text())
    except (OSError, ValueError):
        return {
            "problem": "cannot be read as what its name says; open it where it was made and save it anew."
        }
    return answer


# ---- in the other process


def _body(kind: str, path: Path) -> tuple[Array, NDArray[np.int64]]:
    """Corners and faces of a body, in its file's own axes."""
    import trimesh

    if kind in ("step", "iges"):
        import cascadio

        packed = cascadio.to_glb_bytes(
            path.read_bytes(),
            cascadio.STEP if kind == "step" else cascadio.IGES,
            tol_linear=CHORD,
            tol_angular=ANGLE,
        )
        scene = trimesh.load_scene(io.BytesIO(packed), file_type="glb")
    else:
        scene = trimesh.load_scene(io.BytesIO(path.read_bytes()), file_type=kind)
    made = scene.to_mesh()
    points = np.asarray(made.vertices, dtype=float)
    if kind == "step":  # written as glTF in metres; what was IGES stays in millimetres
        points = 1000.0 * points
    return points, np.asarray(made.faces, dtype=np.int64)


def drawn_together(
    points: Array, faces: NDArray[np.int64], most: int
) -> tuple[Array, NDArray[np.int64], float]:
    """At most so many faces: corners in one cell of a grid become their mean, ever coarser cells until it is
    enough.  The third value is the cell, 0 when nothing had to be done."""
    points, faces, cell = *_welded(points, faces, 0.0), 0.0
    if len(faces) <= most:
        return points, faces, 0.0
    span = float(np.linalg.norm(np.ptp(points, axis=0)))
    cell = span / 4000
    fine = points, faces
    while len(faces) > most:
        points, faces = _welded(*fine, cell)
        cell *= 1.4
    return points, faces, cell / 1.4


def _welded(points: Array, faces: NDArray[np.int64], cell: float) -> tuple[Array, NDArray[np.int64]]:
    """Corners that are one place made one; faces without an area and the same face twice left out."""
    span = float(np.abs(points).max(initial=1.0))
    key = np.floor(points / cell) if cell else np.round(points / (span * 1e-7))
    index, _ = _numbered(key.astype(np.int64))
    count = np.bincount(index)
    mean = np.stack([np.bincount(index, weights=points[:, k]) / count for k in range(3)], axis=1)
    faces = index[faces]
    distinct = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 0] != faces[:, 2])
    faces = faces[distinct]
    _, first = _numbered(np.sort(faces, axis=1))
    return mean, faces[np.sort(first)]


def _numbered(rows: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """For each row (n, 3) the number of its value, and where each value stands first."""
    order = np.lexsort(rows.T)
    ranked = rows[order]
    new = np.r_[True, (ranked[1:] != ranked[:-1]).any(axis=1)][: len(rows)]
    index = np.empty(len(rows), dtype=np.int64)
    index[order] = np.cumsum(new) - 1
    return index, order[new].astype(np.int64)


def stl(points: Array, faces: NDArray[np.int64]) -> bytes:
    """A binary STL."""
    corners = points[faces].astype("<f4")
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(normal, axis=1, keepdims=True)
    rows = np.zeros(len(faces), dtype=[("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")])
    rows["n"], rows["c"] = normal / np.where(size > 0, size, 1), corners
    return HEADER.ljust(80, b" ") + struct.pack("<I", len(faces)) + rows.tobytes()


def _read(kind: str, path: Path) -> tuple[bytes, dict[str, object]]:
    if kind == "lines":
        lines, _ = outline_of(path.read_bytes())
        rows = [np.c_[line, np.full(len(line), float(n))] for n, line in enumerate(lines)]
        return np.concatenate(rows).astype("<f8").tobytes(), {}
    if kind.startswith("rings "):
        found, unit = rings_of(kind.removeprefix("rings "), path)
        table = [np.c_[ring, np.full(len(ring), float(n))] for n, ring in enumerate(found)]
        return np.concatenate(table).astype("<f8").tobytes(), {"unit": unit}
    if kind == "dxf":
        data = path.read_bytes()
        lines, insunits = outline_of(data)
        return data, {"insunits": insunits, "told": f"{len(lines)} lines"}
    points, faces = _body(kind, path)
    if not len(faces):
        raise BackdropError("holds no faces, so there is nothing to show; export it as a body.")
    if not np.isfinite(points).all() or np.abs(points).max() > 1e7:
        raise BackdropError("has corners that are no numbers, or further away than 10 km; export it anew.")
    points, faces, cell = drawn_together(points, faces, FACES)
    if not len(faces):
        raise BackdropError("holds only faces without an area; export it as a body.")
    told = f", drawn together on a grid of {cell:.2g} of its units" if cell else ""
    return stl(points, faces), {"told": f"{len(faces)} faces{told}"}


def answer(kind: str, path: Path, out: Path) -> dict[str, object]:
    """Read a file of a kind and write what is kept of it to ``out``; what was found, or the problem as the
    end of a sentence.
    """
    try:
        data, found = _read(kind, path)
        out.write_bytes(data)
        return found
    except BackdropError as words:
        return {"problem": str(words)}
    except MemoryError:
        return {"problem": "takes more than 4 GB to read; save it simpler, or as STL."}
    except Exception as error:  # whatever a stranger's file does to a library
        why = one_line(str(error), 90) or type(error).__name__
        return {
            "problem": f"cannot be read as what its name says ({why}); open it where it was made and save it "
            "anew."
        }


def main() -> None:
    """Read one file for the parent: kind, path, where the result goes, where the answer goes."""
    import resource

    kind, path, out, told = sys.argv[1:5]
    ours = kind == "lines" or kind.startswith("rings ")
    memory, seconds = (KEPT_MEMORY, RINGS_CPU if kind != "lines" else KEPT_CPU) if ours else (MEMORY, SECONDS)
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    Path(told).write_text(json.dumps(answer(kind, Path(path), Path(out))))


if __name__ == "__main__":
    main()
