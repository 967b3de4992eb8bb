"""Commands write over nothing of somebody's unasked: a job is kept beside, anything else stays."""

import json

import pytest

from urial.cli import main
from urial.job.file import load


def run(*args):
    return main([str(a) for a in args])


@pytest.fixture
def job(tmp_path):
    path = tmp_path / "one.urial"
    assert run("new", "recovery-point", "-o", path) == 0
    return path


def test_a_new_job_over_an_old_one_keeps_that_beside_it(job, capsys):
    before = load(job).job
    assert run("new", "ring-backing", "-o", job) == 0
    assert "is kept as one.urial~" in capsys.readouterr().err
    assert load(job).job.stack[0].family == "ring-backing"
    assert load(job.with_name("one.urial~")).job == before


def test_the_very_same_job_leaves_no_copy(job, capsys):
    assert run("new", "recovery-point", "-o", job) == 0
    assert not job.with_name("one.urial~").exists() and capsys.readouterr().err == ""


def test_what_is_no_job_is_left_alone_unless_said(tmp_path, capsys):
    notes = tmp_path / "notes.txt"
    notes.write_text("measured on Tuesday")
    assert run("new", "recovery-point", "-o", notes) == 2
    assert notes.read_text() == "measured on Tuesday" and "--over" in capsys.readouterr().err
    assert run("new", "recovery-point", "-o", notes, "--over") == 0
    assert load(notes).job.has_part


def test_a_packet_is_not_written_over_somebodys_files(job, tmp_path, capsys):
    out = tmp_path / "out"
    out.mkdir()
    (out / "parts.csv").write_text("mine")
    assert run("sheet", job, "-o", out) == 2
    said = capsys.readouterr().err
    assert "parts.csv" in said and "--over" in said and (out / "parts.csv").read_text() == "mine"
    assert [p.name for p in out.iterdir()] == ["parts.csv"]
    assert run("sheet", job, "-o", out, "--over") == 0
    assert run("sheet", job, "-o", out) == 0  # an earlier packet is made anew


def test_sizes_that_hold_go_beside_what_was_there(job, tmp_path, capsys):
    assert run("size", job, "-o", job, "--json") in (0, 1)
    json.loads(capsys.readouterr().out)


@pytest.mark.parametrize("device", ["/dev/zero", "/dev/full"])
def test_a_list_of_prices_that_never_ends_is_refused(job, device, capsys):
    assert run("size", job, "--prices", device) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_a_long_list_of_prices_is_refused_before_it_is_read(job, tmp_path, capsys):
    long = tmp_path / "prices.csv"
    long.write_text("bar,1.90\n" * 200_000)
    assert run("size", job, "--prices", long) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_looking_whether_it_goes_together_has_an_end(job, capsys):
    assert run("fit", job, "--seconds", "0") == 2
    assert run("fit", job, "--seconds", "1e-9") == 2
    assert "not looked at to the end" in capsys.readouterr().err
    assert run("fit", job, "--json") in (0, 1)
