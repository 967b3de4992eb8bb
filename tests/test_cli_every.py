"""Every command for every family and demo job, in one process: its output is whole, its figures agree with
each other, and whatever is wrong with the words is one sentence.
"""

from __future__ import annotations

import csv
import io
import json

import pytest

from urial import families
from urial.calc.registry import calculators
from urial.cli import main
from urial.desk.start import demo_jobs
from urial.job.fields import specs
from urial.job.file import load

NAMES = sorted(families.families())
JOBS = [path for path, *_ in demo_jobs()]


def said(capsys, *words: object) -> tuple[int, str, str]:
    capsys.readouterr()
    code = main([str(w) for w in words])
    out = capsys.readouterr()
    return code, out.out, out.err


@pytest.fixture(scope="module")
def jobs(tmp_path_factory):
    folder = tmp_path_factory.mktemp("families")
    for name in NAMES:
        assert main(["new", name, "-o", str(folder / f"{name}.urial")]) == 0
    return folder


UNITS = ("N", "N/mm", "MPa", "1", "kg", "N·mm", "mm")


@pytest.mark.parametrize("name", NAMES)
def test_check_parts_and_frame_tell_of_one_and_the_same_part(jobs, capsys, name):
    path = jobs / f"{name}.urial"
    code, out, err = said(capsys, "check", path, "--json")
    verdict = json.loads(out)
    assert code in (0, 1) and not err
    assert (code == 0) == (verdict["verdict"] == "holds")
    used = [c["utilisation"] for c in verdict["checks"]]
    assert all(u >= 0 for u in used)
    assert (max(used) < 1) == (verdict["verdict"] == "holds")
    for c in verdict["checks"]:
        assert c["id"] and c["part"] and c["clause"] and c["unit"] in UNITS
        if c["unit"] != "1" and c["available"]:
            assert c["demand"] / c["available"] == pytest.approx(c["utilisation"], rel=0.02, abs=0.02)
    code, out, err = said(capsys, "parts", path, "--json")
    parts = json.loads(out)
    rows = parts["parts"] if isinstance(parts, dict) else parts
    mass = next(k for k in rows[0] if k.startswith("mass"))
    assert sum(r[mass] for r in rows) == pytest.approx(verdict["mass_kg"], rel=1e-3)
    code, out, err = said(capsys, "frame", path)
    frame = json.loads(out)
    assert code == 0 and set(frame["loads"]) and frame["members"]
    assert all(line.startswith("Mind: ") and line.endswith(".") for line in err.splitlines())


@pytest.mark.parametrize("name", NAMES)
def test_the_frame_that_is_written_stands_and_holds_its_loads(jobs, capsys, name, tmp_path, monkeypatch):
    _, out, _ = said(capsys, "frame", jobs / f"{name}.urial")
    frame = json.loads(out)
    monkeypatch.setattr("sys.stdin", io.StringIO(out))
    code, answer, err = said(capsys, "calc", "frame")
    assert code == 0 and not err
    solved = json.loads(answer)
    assert set(solved) == set(frame["loads"])
    for case, loads in frame["loads"].items():
        asked = [sum(load[k] for load in loads.values()) for k in range(3)]
        held = [sum(r[k] for r in solved[case]["reactions"].values()) for k in range(3)]
        size = max(map(abs, asked))
        assert all(abs(a + h) < 1e-4 * size + 0.5 for a, h in zip(asked, held, strict=True)), case


@pytest.mark.parametrize("name", NAMES)
def test_sockets_and_keys_name_what_there_is(jobs, capsys, name):
    code, out, err = said(capsys, "sockets", jobs / f"{name}.urial")
    assert code == 0 and not err and json.loads(out)
    code, out, err = said(capsys, "keys", name)
    assert code == 0 and not err
    sizes = set(specs(families.families()[name].design))
    assert sizes and all(f".{field} = " in out for field in sizes)


@pytest.mark.parametrize("path", JOBS, ids=lambda p: p.stem)
def test_every_demo_job_answers_every_question(path, capsys, tmp_path):
    code, out, err = said(capsys, "check", path)
    if load(path).job.has_part:
        assert code in (0, 1) and not err and out.strip()
    else:
        assert code == 2 and "survey without a part" in err
    code, out, err = said(capsys, "survey", path)
    rows = list(csv.reader(io.StringIO(out)))
    assert code == 0 and not err and rows[0][0] == "path" and "value" in rows[0] and len(rows) > 5
    for row in rows:
        assert not any(cell[:1] in ("=", "@") for cell in row)


WRONG = [
    ["check"],
    ["check", "no/such/file.urial"],
    ["check", "/dev/zero"],
    ["check", "."],
    ["new"],
    ["new", "no-such-family", "-o", "x.urial"],
    ["new", "rear-receiver", "-o", "x.urial", "--set", "drop"],
    ["new", "rear-receiver", "-o", "x.urial", "--set", "drop=-5 m"],
    ["new", "rear-receiver", "-o", "x.urial", "--set", "no_such_key=5"],
    ["new", "rear-receiver", "-o", "x.urial", "--set", "drop=1,234"],
    ["new", "rear-receiver", "-o", "x.urial", "--host", "submarine"],
    ["new", "rear-receiver", "-o", "no/such/folder/x.urial"],
    ["keys", "nothing"],
    ["parts", "no.urial"],
    ["sockets", "no.urial"],
    ["frame", "no.urial"],
    ["sheet", "no.urial", "-o", "out"],
    ["calc", "nothing"],
    ["schema", "extra"],
    ["fly"],
    ["--nonsense"],
]


@pytest.mark.parametrize("words", WRONG, ids=lambda w: " ".join(w) or "nothing")
def test_wrong_words_are_answered_in_a_sentence_and_leave_nothing(words, capsys, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    try:
        code, out, err = said(capsys, *words)
    except SystemExit as stop:  # the parser's own
        code, err = stop.code, capsys.readouterr().err
        out = ""
    assert code == 2 and not out.strip()
    assert err.strip() and "Traceback" not in err and "Error" not in err
    last = err.strip().splitlines()[-1]
    assert len(last) < 600 and last.isprintable()
    assert not list(tmp_path.iterdir())


HOSTILE = [
    "",
    "[]",
    "null",
    "true",
    '"5"',
    "{",
    '{"a":',
    "{}",
    '{"x": NaN}',
    "[" * 5000,
    '{"a": 1e999}',
    "\x00",
]


@pytest.mark.parametrize("name", sorted(calculators()))
def test_a_calculator_answers_hostile_input_in_one_line(name, capsys, monkeypatch):
    for text in HOSTILE:
        monkeypatch.setattr("sys.stdin", io.StringIO(text))
        code, out, err = said(capsys, "calc", name)
        assert code == 2 and not out and len(err.strip().splitlines()) == 1, (text[:20], err[:200])
        assert err.strip().isprintable() and "Traceback" not in err


@pytest.mark.parametrize("name", sorted(calculators()))
def test_a_calculator_names_the_first_thing_it_misses(name, capsys, monkeypatch):
    monkeypatch.setattr("sys.stdin", io.StringIO("{}"))
    code, _, err = said(capsys, "calc", name)
    assert code == 2 and err.startswith(f"{name}: ") and "is missing; add it." in err


@pytest.mark.parametrize("name", sorted(calculators()))
def test_a_calculators_schema_allows_no_other_keys(name, capsys, monkeypatch):
    code, out, err = said(capsys, "calc", name, "--schema")
    schema = json.loads(out)
    assert code == 0 and not err and schema["additionalProperties"] is False and schema["required"]
    monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps({"surprise": 1})))
    code, _, err = said(capsys, "calc", name)
    assert code == 2 and ("surprise" in err or "missing" in err)
