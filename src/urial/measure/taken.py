"""What is taken of a stranger's file: its limits, how a refusal is said, and the lines of a drawing.

Nothing of the job is known here, so that the process that reads such a file starts at once.
"""

from __future__ import annotations

import io
import logging
from typing import Any

import numpy as np
from numpy.typing import NDArray

from urial.words import Complaint

Array = NDArray[np.float64]
logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # what it mends in a stranger's drawing is told nobody
FOLDER = "backdrops/"
LARGEST = 64 * 1024 * 1024
"""A file that is taken, bytes."""
FACES = 150_000
"""Triangles that are kept; a finer body is drawn together on a grid until it has no more."""
MOST_LINES = 200_000
MOST_PLACED = 100_000
"""Things that blocks within blocks come to when each is put where it is placed."""
FARTHEST = 1e7
"""No place and no radius is larger, of the file's units."""
FLATNESS = 0.05
"""How far a drawn arc may lie off its circle, of the file's units."""


class BackdropError(Complaint):
    """The file is no body or outline that can stand behind; the message says why and what to do."""


def _placed(drawing: Any) -> int:
    """How many things a drawing comes to once every block is put where it is placed, blocks in them too; one
    in a row of copies that is empty counts as one, for it is gone through as well.
    """
    known: dict[str, int] = {}
    endless = MOST_PLACED + 1

    def of(layout: Any, within: tuple[str, ...]) -> int:
        total = 0
        for entity in layout:
            total += of_insert(entity, within) if entity.dxftype() == "INSERT" else 1
            if total > MOST_PLACED:
                return endless
        return total

    def of_insert(insert: Any, within: tuple[str, ...]) -> int:
        name = str(insert.dxf.name).lower()
        if name in within or len(within) > 30:
            return endless  # a block that holds itself
        if name not in known:
            block = drawing.blocks.get(insert.dxf.name)
            known[name] = 0 if block is None else of(block, (*within, name))
        return min(abs(int(insert.mcount)) * (1 + known[name]), endless)

    return of(drawing.modelspace(), ())


def _radius(entity: Any) -> float:
    """The largest radius of a curve, or 0."""
    kind = entity.dxftype()
    if kind in ("CIRCLE", "ARC"):
        return abs(float(entity.dxf.radius))
    return float(entity.dxf.major_axis.magnitude) if kind == "ELLIPSE" else 0.0


def outline_of(data: bytes) -> tuple[list[Array], int]:
    """The lines of a DXF's model space, each (n, 3), and what unit its header names ($INSUNITS).

    BackdropError, as the end of a sentence, when there are none."""
    from ezdxf import recover  # takes longer to import than the window to open
    from ezdxf.disassemble import make_primitive, recursive_decompose
    from ezdxf.lldxf.const import DXFError

    try:
        drawing, _ = recover.read(io.BytesIO(data))
        if _placed(drawing) > MOST_PLACED:
            raise BackdropError(
                f"holds blocks within blocks that come to more than {MOST_PLACED} things; save only its "
                "outline."
            )
        lines: list[Array] = []
        total = 0
        for entity in recursive_decompose(drawing.modelspace()):
            if entity.dxftype() in ("TEXT", "MTEXT", "ATTRIB", "DIMENSION", "HATCH", "IMAGE", "POINT"):
                continue
            if _radius(entity) > FARTHEST:
                raise BackdropError("holds a circle of more than 10 km; save only its outline.")
            primitive = make_primitive(entity, max_flattening_distance=FLATNESS)
            if primitive.path is None:
                continue
            line = np.array([tuple(v) for v in primitive.vertices()], dtype=float).reshape(-1, 3)
            total += len(line)
            if total > MOST_LINES:
                raise BackdropError(f"holds more than {MOST_LINES} corners; save only its outline.")
            if len(line) > 1:
                lines.append(line)
        insunits = int(drawing.header.get("$INSUNITS", 4))
    except BackdropError:
        raise
    except (DXFError, OSError, ValueError, TypeError, KeyError, IndexError, AttributeError, RecursionError):
        raise BackdropError("is no drawing that can be read; save it as DXF (R2010) again.") from None
    except (OverflowError, ZeroDivisionError, MemoryError, AssertionError):
        raise BackdropError("holds figures that make no lines; save it as DXF (R2010) again.") from None
    if not lines or not all(np.isfinite(line).all() and np.abs(line).max() < FARTHEST for line in lines):
        raise BackdropError("holds no lines that can be shown; save its outline as lines or arcs.")
    return lines, insunits
