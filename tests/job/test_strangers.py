"""Files, texts, tables and pictures from a stranger: refused in one line, in bounded time and memory, or
understood.
"""

from __future__ import annotations

import io
import os
import random
import resource
import time
import zipfile

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from PIL import Image

from urial import families, units
from urial.calc.registry import CalcError, ask, calculators
from urial.job.file import Document, FileError, from_bytes, job_bytes, load, read_job, to_bytes
from urial.measure.photo import grey, store
from urial.measure.rectify import PictureError
from urial.measure.table import TableError, read_csv, write_csv
from urial.words import one_line

JOB = families.new_job("rear-receiver")
WHOLE = to_bytes(Document(JOB))
TABLE = write_csv(JOB)
ODD = st.text(st.sampled_from("0123456789.,'\"/ -+eE()*^%°mMkKgNnlbsfti½×·²µ#{}\n\t\x00é漢"), max_size=16)


def plain(error: BaseException) -> bool:
    words = str(error)
    return (
        bool(words)
        and len(words) <= 701
        and not any(ord(c) < 32 or 0xD800 <= ord(c) <= 0xDFFF for c in words)
    )


@given(ODD, st.sampled_from(units.kinds()), st.sampled_from(["inch", "metric"]))
@example("1 m*9**9**9", "length", "metric")
@example("1 m)", "length", "inch")
@example("9" * 5000, "length", "metric")
@example("1e999 mm", "mass", "metric")
@settings(max_examples=200)
def test_any_text_is_a_quantity_or_refused_in_one_line(text, kind, system):
    start = time.thread_time()  # what it works, however loaded the machine
    try:
        value = units.parse(text, kind, system)
    except units.UnitError as error:
        assert plain(error)
    else:
        assert value == value and abs(value) < float("inf")
    assert time.thread_time() - start < 5  # the unit library loads once; nothing is worked out


@given(st.integers(0, 2**32 - 1), st.floats(0, 1))
def test_a_file_with_spoiled_bytes_opens_or_is_refused_in_one_line(seed, cut):
    rng = random.Random(seed)
    data = bytearray(WHOLE)
    for _ in range(rng.randint(1, 10)):
        data[rng.randrange(len(data))] = rng.randrange(256)
    try:
        from_bytes(bytes(data[: int(len(data) * cut)] if rng.random() < 0.3 else data), "odd\nname")
    except FileError as error:
        assert plain(error)


@pytest.mark.parametrize(
    "text",
    [
        b"[" * 100_000,
        b'{"a":' * 50_000,
        b"\xff\xfe",
        b"",
        b"null",
        b'{"format":4,"title":"\\ud800"}',
        b'{"format":' + b"9" * 5000 + b"}",
        b'{"format":4,"origins":{"a":{"how":"sworn"}}}',
    ],
)
def test_a_document_that_is_none_is_refused_in_one_line(text):
    with pytest.raises(FileError) as error:
        read_job(text, "x")
    assert plain(error.value)


def packed(members: dict[str, bytes], how: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", how) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return out.getvalue()


def test_what_unpacks_to_more_than_a_job_is_never_unpacked():
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    bombs = [
        packed({"job.json": b" " * (9 * 2**20)}),
        packed({"job.json": job_bytes(JOB), "attachments/a.jpg": b"\0" * (65 * 2**20)}),
    ]
    room = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for bomb in bombs:
        assert len(bomb) < 200_000
        with pytest.raises(FileError, match="more than"):
            from_bytes(bomb, "bomb")
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss <= room + 20_000  # kB: nothing was unpacked
    assert before


def test_names_that_lead_out_of_their_folder_are_dropped():
    data = packed(
        {
            "job.json": job_bytes(JOB),
            "attachments/../../evil": b"x",
            "attachments/ok.jpg": b"y",
            "attachments/a\\b": b"z",
        }
    )
    assert dict(from_bytes(data).attachments) == {"ok.jpg": b"y"}


@pytest.mark.parametrize("path", ["/dev/zero", "/dev", "fifo"])
def test_devices_folders_and_pipes_are_no_job_files(path, tmp_path):
    if path == "fifo":
        path = str(tmp_path / "pipe")
        os.mkfifo(path)
    from pathlib import Path

    with pytest.raises(FileError, match=r"folder|device or pipe"):
        load(Path(path))


# ---- tables


def test_a_line_changes_what_it_names_and_nothing_else():
    new = read_csv(JOB, "path,value\nvehicle.left.1.height_mm,611\n")
    assert [h.height_mm for h in new.vehicle.left] == [
        JOB.vehicle.left[0].height_mm,
        611,
        JOB.vehicle.left[2].height_mm,
    ]
    assert (
        new.vehicle.left[1].behind_mm == JOB.vehicle.left[1].behind_mm
        and new.vehicle.right == JOB.vehicle.right
    )


@pytest.mark.parametrize(
    ("lines", "says"),
    [
        ("vehicle.left.7.height_mm,611", "Line 2: there are 3 rows"),
        ("vehicle.left.01.height_mm,611", "Line 2: “01” is no row number"),
        ("vehicle.left.³.height_mm,611", "Line 2"),
        (
            "vehicle.left.3.height_mm,611",
            "Line 2: row 3 of vehicle.left is new, so it needs its behind_mm, hole_mm",
        ),
        ("vehicle.left.count,9", "Line 2: vehicle.left has 3 rows"),
        ("vehicle.left.-1.height_mm,611", "Line 2"),
    ],
)
def test_odd_row_numbers_are_refused_with_their_line(lines, says):
    with pytest.raises(TableError) as error:
        read_csv(JOB, f"path,value\n{lines}\n")
    assert says in str(error.value)


def test_rows_are_added_whole_and_taken_away_by_their_count():
    more = read_csv(
        JOB,
        "path,value\nvehicle.left.3.behind_mm,1145\nvehicle.left.3.height_mm,607\nvehicle.left.3.hole_mm,14\n",
    )
    assert len(more.vehicle.left) == 4 and more.vehicle.left[3].behind_mm == 1145
    assert read_csv(more, "path,value\nvehicle.left.count,2\n").vehicle.left == JOB.vehicle.left[:2]
    assert read_csv(more, TABLE) == JOB  # a whole table says how many there are


@given(st.integers(0, 2**32 - 1))
def test_a_spoiled_table_is_read_or_refused_with_a_line(seed):
    rng = random.Random(seed)
    text = list(TABLE)
    for _ in range(rng.randint(1, 12)):
        text[rng.randrange(len(text))] = rng.choice("0123456789.,'\"\n-+³x[]{}\x00é")
    try:
        read_csv(JOB, "".join(text))
    except TableError as error:
        assert plain(error)


# ---- pictures, calculators


def as_bytes(picture: Image.Image, kind: str) -> bytes:
    out = io.BytesIO()
    picture.save(out, kind)
    return out.getvalue()


def test_only_what_a_camera_or_scanner_writes_is_taken():
    for kind in ("JPEG", "PNG", "TIFF", "WEBP"):
        assert store(as_bytes(Image.new("RGB", (64, 48), "grey"), kind)).size == (64, 48)
    for data in (
        as_bytes(Image.new("RGB", (64, 48)), "BMP"),
        as_bytes(Image.new("L", (64, 48)), "EPS"),
        b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 64 48\n",
        b"",
        b"GIF89a",
    ):
        with pytest.raises(PictureError) as error:
            store(data, "drawing.jpg")
        assert plain(error.value)


def test_sixteen_bits_are_scaled_and_not_cut_off():
    import numpy as np

    ramp = Image.fromarray(np.linspace(0, 65535, 64 * 48).reshape(48, 64).astype(np.uint16))
    dark = grey(store(as_bytes(ramp, "PNG")).data)
    assert dark[0, 0] < 0.05 and dark[-1, -1] > 0.95 and 0.4 < dark[24, 32] < 0.6


def test_too_many_pixels_are_refused_before_they_are_unpacked():
    with pytest.raises(PictureError, match="100 million"):
        store(as_bytes(Image.new("1", (12_000, 9_000)), "PNG"))


@pytest.mark.parametrize("name", list(calculators()))
def test_calculators_answer_or_refuse_in_one_line(name):
    rng = random.Random(name)
    keys = list(calculators()[name].question.model_fields)
    values = [
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
        "1" + "0" * 5000,
        "[1,2]",
        "0.5",
        "100.0",
    ]
    for _ in range(60):
        text = "{" + ",".join(f'"{k}":{rng.choice(values)}' for k in keys if rng.random() < 0.9) + "}"
        try:
            ask(name, text)
        except CalcError as error:
            assert plain(error), text[:200]


@pytest.mark.parametrize(
    ("key", "value"),
    [("receiver_mm", "true"), ("receiver_mm", '"500"'), ("coupler_mm", "NaN"), ("ball_mm", "1" + "0" * 400)],
)
def test_a_figure_that_is_none_is_named_by_its_key(key, value):
    question = {"receiver_mm": "500", "coupler_mm": "450", "ball_mm": "54", "squat_mm": "20", key: value}
    with pytest.raises(CalcError) as error:
        ask("hitch_height", "{" + ",".join(f'"{k}":{v}' for k, v in question.items()) + "}")
    assert key in str(error.value)


@given(st.text(max_size=300))
def test_a_message_is_one_line_whatever_it_quotes(text):
    said = one_line(text)
    assert not any(ord(c) < 32 or 0xD800 <= ord(c) <= 0xDFFF for c in said) and one_line(said) == said


def test_a_short_run_of_the_fuzzer_finds_no_fault():
    from tests.fuzz import fuzz

    done, faults = fuzz(3.0, 1)
    assert not faults, faults[:5]
    assert min(done.values()) > 5
