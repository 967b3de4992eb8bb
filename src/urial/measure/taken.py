"""What is taken of a stranger's file: its limits, how a refusal is said, and the lines of a drawing.

Nothing of the job is known here, so that the process that reads such a file starts at once.
"""

from __future__ import annotations

import io
import logging

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
FLATNESS = 0.05
"""How far a drawn arc may lie off its circle, of the file's units."""


class BackdropError(Complaint):
    """The file is no body or outline that can stand behind; the message says why and what to do."""


def outline_of(data: bytes) -> tuple[list[Array], int]:
    """The lines of a DXF's model space, each (n, 3), and what unit its header names ($INSUNITS).

    BackdropError, as the end of a sentence, when there are none."""
    from ezdxf import recover  # takes longer to import than the window to open
    from ezdxf.disassemble import make_primitive, recursive_decompose
    from ezdxf.lldxf.const import DXFError

    try:
        drawing, _ = recover.read(io.BytesIO(data))
        lines: list[Array] = []
        total = 0
        for entity in recursive_decompose(drawing.modelspace()):
            if entity.dxftype() in ("TEXT", "MTEXT", "ATTRIB", "DIMENSION", "HATCH", "IMAGE", "POINT"):
                continue
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
    if not lines or not all(np.isfinite(line).all() and np.abs(line).max() < 1e7 for line in lines):
        raise BackdropError("holds no lines that can be shown; save its outline as lines or arcs.")
    return lines, insunits
