"""``./run fuzz [SECONDS]``: spoiled texts, files, tables, pictures and questions until the time is over;
counts at the end.
"""

from __future__ import annotations

import io
import json
import random
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import ezdxf
import numpy as np
from PIL import Image

from urial import families, units
from urial.assembly.model import BuildError
from urial.calc.names import NAMES
from urial.calc.registry import CalcError, ask, find
from urial.commands import Refused, _prices
from urial.families import _shop as shop
from urial.geometry.fitted import NoOutline
from urial.geometry.place import Place
from urial.geometry.shape import Plate
from urial.job.file import Document, FileError, from_bytes, job_bytes, read_job, to_bytes
from urial.measure import backdrop, foreign
from urial.measure.outline_file import traced
from urial.measure.photo import store
from urial.measure.rectify import PictureError
from urial.measure.table import TableError, read_csv, write_csv
from urial.measure.taken import BackdropError, outline_of
from urial.papers.dxf import plate_dxf

SIGNS = "0123456789.,'\"/ -+eE()*^%°mMkKgNnlbsfti½×·²µ#{}[]\n\t\x00é漢\ud800"
_WEDGE = (
    np.array([(0.0, 0, 0), (90, 0, 0), (0, 60, 0), (0, 0, 30)]),
    np.array([(0, 2, 1), (0, 1, 3), (0, 3, 2), (1, 2, 3)]),
)
VALUES = [
    "true",
    '"5"',
    "null",
    "[]",
    "{}",
    "-1",
    "0",
    "1e308",
    "1e-308",
    "NaN",
    "Infinity",
    "1" + "0" * 5000,
    "[1,2]",
    "0.5",
    "100.0",
]


def _spoiled(rng: random.Random, data: bytes) -> bytes:
    out = bytearray(data)
    for _ in range(rng.randint(1, 12)):
        out[rng.randrange(len(out))] = rng.randrange(256)
    return bytes(out[: rng.randrange(len(out))] if rng.random() < 0.25 else out)


def _mutated(rng: random.Random, value: object) -> object:
    if rng.random() < 0.02:
        return rng.choice([None, True, -1, 1e308, "", "x" * 300, [], {}, "\ud800", 10**40])
    if isinstance(value, dict):
        return {(k + "z" if rng.random() < 0.01 else k): _mutated(rng, v) for k, v in value.items()}
    return [_mutated(rng, v) for v in value] if isinstance(value, list) else value


def _blocks() -> bytes:
    """A drawing of blocks in blocks, rows of copies and a circle."""
    drawing = ezdxf.new("R2010")
    drawing.blocks.new("b0").add_circle((0, 0), 5)
    for n in (1, 2):
        above = drawing.blocks.new(f"b{n}")
        for k in range(3):
            above.add_blockref(f"b{n - 1}", (k, n), dxfattribs={"row_count": 2, "column_count": 3})
    drawing.modelspace().add_blockref("b2", (0, 0))
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


ODD = (b"30000", b"-1", b"1e12", b"b2", b"b0", b"0", b"", b"9" * 400, b"1e308", b"nan")


SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 240 160">'
    b'<rect x="20" y="20" width="200" height="120" rx="20"/><circle cx="60" cy="80" r="13"/>'
    b'<g transform="rotate(90 160 80)"><path d="M148 72 h24 v16 C9 9 8 8 7 90 z"/></g></svg>'
)


def _tracing() -> Image.Image:
    image = Image.new("L", (120, 90), 255)
    image.paste(0, (20, 20, 100, 70))
    image.paste(255, (40, 30, 60, 50))
    return image


def _spoiled_text(rng: random.Random, data: bytes) -> bytes:
    """Some of its lines made into other figures: sizes, counts and names of what is placed."""
    lines = data.split(b"\n")
    for _ in range(rng.randint(1, 6)):
        n = rng.randrange(len(lines))
        lines[n] = rng.choice(
            [b"30000", b"-1", b"1e12", b"b2", b"b0", b"0", b"", b"9" * 400, b"1e308", b"nan"]
        )
    return b"\n".join(lines)


def checks() -> dict[str, Callable[[random.Random], object]]:
    """One try of each entry from outside; a refusal is one of these errors, anything else is a fault."""
    job = families.new_job("rear-receiver")
    whole, table, raw = to_bytes(Document(job)), write_csv(job), json.loads(job_bytes(job))
    picture = io.BytesIO()
    Image.effect_noise((160, 120), 60).convert("RGB").save(picture, "PNG")

    def spoiled_table(rng: random.Random) -> object:
        text = list(table)
        for _ in range(rng.randint(1, 12)):
            text[rng.randrange(len(text))] = rng.choice(SIGNS)
        return read_csv(job, "".join(text))

    def question(rng: random.Random) -> object:
        name = rng.choice(list(NAMES))
        keys = list(find(name).question.model_fields)
        return ask(
            name, "{" + ",".join(f'"{k}":{rng.choice(VALUES)}' for k in keys if rng.random() < 0.9) + "}"
        )

    bodies = {
        "stl": foreign.stl(*_WEDGE),
        "obj": "".join(
            [
                *(f"v {x} {y} {z}\n" for x, y, z in _WEDGE[0]),
                *(f"f {a} {b} {c}\n" for a, b, c in _WEDGE[1] + 1),
            ]
        ).encode(),
        "dxf": plate_dxf(
            Plate(((0, 0, 0), (90, 0, 0.2), (90, 60, 0)), 6.0, Place(), holes=((40, 20, 9),)), ["x"]
        ),
    }

    def body(rng: random.Random) -> object:
        """Answers, whatever it is given: it runs in a process whose fault is its parent's answer."""
        kind = rng.choice(sorted(bodies))
        with tempfile.TemporaryDirectory() as room:
            path = Path(room) / "body"
            path.write_bytes(_spoiled(rng, bodies[kind]))
            answer = foreign.answer(kind, path, path.with_suffix(".out"))
            if "problem" not in answer:
                data = path.with_suffix(".out").read_bytes()
                # what a job keeps of an outline is read in a process of its own, with the same reader
                return outline_of(data) if kind == "dxf" else backdrop.load(data, "x.stl")
            raise BackdropError(answer["problem"])

    drawn = io.BytesIO()
    _tracing().save(drawn, "PNG")
    outlines = {"picture": drawn.getvalue(), "svg": SVG, "dxf": bodies["dxf"]}

    def traced_file(rng: random.Random) -> object:
        """As the other process reads it, and as this one makes an outline of what it read."""
        kind = rng.choice(sorted(outlines))
        spoil = _spoiled_text if kind == "svg" and rng.random() < 0.7 else _spoiled
        with tempfile.TemporaryDirectory() as room:
            path = Path(room) / "outline"
            path.write_bytes(spoil(rng, outlines[kind]))
            answer = foreign.answer(f"rings {kind}", path, path.with_suffix(".out"))
            if "problem" in answer:
                raise BackdropError(answer["problem"])
            rows = np.frombuffer(path.with_suffix(".out").read_bytes(), dtype="<f8").reshape(-1, 3)
        ends = np.flatnonzero(np.diff(rows[:, 2])) + 1
        return traced([r[:, :2] for r in np.split(rows, ends)], 0.1)

    kind = shop.as_bytes(shop.kind_of(job, "1", "Fuzzed"))
    deep = io.BytesIO()
    Image.fromarray(np.arange(160 * 120, dtype=np.uint16).reshape(120, 160)).save(deep, "PNG")
    blocks = _blocks()

    def shelf(rng: random.Random) -> object:
        data = (
            _spoiled(rng, kind)
            if rng.random() < 0.5
            else json.dumps(_mutated(rng, json.loads(kind))).encode()
        )
        return shop.read(data.replace(b'"format": 1', f'"format": {rng.choice(VALUES)}'.encode()))

    def prices(rng: random.Random) -> object:
        with tempfile.TemporaryDirectory() as room:
            path = Path(room) / "prices.csv"
            path.write_bytes("".join(rng.choice(SIGNS) for _ in range(60)).encode("utf-8", "surrogatepass"))
            return _prices(path)

    def built(rng: random.Random) -> object:
        """What still opens is built, or refused in a sentence."""
        return families.build(read_job(json.dumps(_mutated(rng, raw)).encode(), "x"))

    return {
        "bodies": body,
        "outlines": lambda rng: outline_of(_spoiled_text(rng, blocks)),
        "traced": traced_file,
        "shop kinds": shelf,
        "prices": prices,
        "built": built,
        "deep pictures": lambda rng: store(_spoiled(rng, deep.getvalue())),
        "texts": lambda rng: units.parse(
            "".join(rng.choice(SIGNS) for _ in range(rng.randint(0, 16))),
            rng.choice(units.kinds()),
            rng.choice(["inch", "metric"]),
        ),  # type: ignore[arg-type]
        "files": lambda rng: from_bytes(_spoiled(rng, whole), "x"),
        "documents": lambda rng: read_job(json.dumps(_mutated(rng, raw)).encode(), "x"),
        "tables": spoiled_table,
        "pictures": lambda rng: store(_spoiled(rng, picture.getvalue())),
        "questions": question,
    }


REFUSALS = (
    NoOutline,
    BackdropError,
    units.UnitError,
    FileError,
    TableError,
    PictureError,
    CalcError,
    shop.ShopError,
    Refused,
    BuildError,
)
SLOW_S = 5.0


def fuzz(seconds: float, seed: int) -> tuple[Counter[str], list[str]]:
    """Tries by kind, and every fault: kind, seed and what came."""
    done: Counter[str] = Counter()
    faults: list[str] = []
    every, end, number = checks(), time.monotonic() + seconds, seed
    while time.monotonic() < end:
        for kind, attempt in every.items():
            number += 1
            start = time.monotonic()
            try:
                attempt(random.Random(number))
            except REFUSALS as error:
                if any(ord(c) < 32 for c in str(error)):
                    faults.append(f"{kind} {number}: more than one line: {str(error)[:80]!r}")
            except Exception as error:
                faults.append(f"{kind} {number}: {type(error).__name__}: {str(error)[:120]}")
            if time.monotonic() - start > SLOW_S:
                faults.append(f"{kind} {number}: took {time.monotonic() - start:.1f} s")
            done[kind] += 1
    return done, faults


if __name__ == "__main__":
    asked = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    first = random.SystemRandom().randrange(2**31)
    count, found = fuzz(asked, first)
    print(
        f"seed {first}: " + ", ".join(f"{n} {kind}" for kind, n in count.items()) + f"; {len(found)} faults"
    )
    print("\n".join(found[:40]))
    sys.exit(bool(found))
