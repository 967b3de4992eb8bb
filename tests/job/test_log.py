"""What was done to the steel: entries are only added, taken back by entries, and two copies keep both."""

import itertools
import json
import zipfile
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from urial import families
from urial.families import _stack as stack
from urial.job import file
from urial.job.file import Document, FileError, load, save
from urial.job.log import Entry, lines, read_lines, standing, union


def entry(ident, takes_back="", at="2026-09-18T14:05:00+02:00", **more):
    return Entry(id=ident, step="A|saw|ends", at=at, takes_back=takes_back, **more)


def test_an_entry_is_taken_back_by_an_entry_and_that_by_another():
    cut, back, again = entry("1"), entry("2", "1", what="undone"), entry("3", "2", what="undone")
    assert standing([cut]) == (cut,)
    assert standing([cut, back]) == ()
    assert standing([cut, back, again]) == (cut,)
    assert standing([cut, back, again, entry("4", "1", what="undone")]) == ()


@given(st.permutations([entry("1"), entry("2", "1"), entry("3", "2"), entry("4"), entry("5", "9")]))
def test_what_stands_does_not_hang_on_the_order(rows):
    assert {e.id for e in standing(rows)} == {"1", "4"}


def test_two_that_take_each_other_back_hang_nobody():
    assert standing([entry("1", "2"), entry("2", "1"), entry("3")]) == (entry("3"),)


def test_two_copies_keep_the_union_by_the_clock_whatever_the_zone():
    early = entry("b", at="2026-09-18T14:05:00+02:00")  # 12:05 in Greenwich
    late = entry("a", at="2026-09-18T12:30:00+00:00")
    third = entry("c", at="2026-09-18T23:00:00+12:00")  # 11:00
    for one, other in itertools.permutations(([early, third], [late, early])):
        assert [e.id for e in union(one, other)] == ["c", "b", "a"]


def test_a_torn_last_line_is_ignored_and_any_other_is_named():
    data = lines([entry("1", figures={"long": 223.9}, minutes=4.0, note="grün"), entry("2")])
    assert read_lines(data) == (
        entry("1", figures={"long": 223.9}, minutes=4.0, note="grün"),
        entry("2"),
    )
    for cut in range(2, 40):
        assert [e.id for e in read_lines(data[:-cut])] == ["1"]
    with pytest.raises(ValueError, match="line 1 of its log"):
        read_lines(b"{}\n" + data)
    assert [e.id for e in read_lines(data + data)] == ["1", "2"]


@pytest.mark.parametrize("at", ["2026-09-18T14:05:00", "yesterday", ""])
def test_an_entry_says_when(at):
    with pytest.raises(ValidationError):
        entry("1", at=at)


def test_the_log_is_a_member_of_the_file_by_itself_and_no_part_of_the_job(tmp_path):
    job = families.new_job("rear-receiver")
    save(tmp_path / "bare.urial", Document(job))
    save(tmp_path / "done.urial", Document(job, (entry("1"),)))
    with zipfile.ZipFile(tmp_path / "bare.urial") as bare, zipfile.ZipFile(tmp_path / "done.urial") as done:
        assert "log.jsonl" not in bare.namelist() and b'"A|saw|ends"' in done.read("log.jsonl")
        assert bare.read("job.json") == done.read("job.json")
    opened = load(tmp_path / "done.urial")
    assert opened.log == (entry("1"),)
    data = (tmp_path / "done.urial").read_bytes()
    assert file.to_bytes(opened) == data


def test_a_damaged_log_is_said_and_left(tmp_path):
    path = tmp_path / "job.urial"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("job.json", file.job_bytes(families.new_job("pintle")))
        archive.writestr("log.jsonl", "sawn\n" + json.dumps({"id": "1"}) + "\n")
    with pytest.raises(FileError, match="line 1 of its log is no entry"):
        load(path)


def test_a_job_keeps_its_number_and_a_duplicate_gets_another(tmp_path):
    job = families.new_job("rear-receiver")
    save(tmp_path / "a.urial", Document(job).numbered())
    first = load(tmp_path / "a.urial")
    assert len(first.job.id) == 32 and load(tmp_path / "a.urial").job.id == first.job.id
    save(tmp_path / "b.urial", first)
    assert load(tmp_path / "b.urial").job.id == first.job.id  # under another name it is the same
    again = replace(first, log=(entry("1"),)).duplicate()
    assert again.job.id not in ("", first.job.id) and again.log == ()
    assert Document(job).numbered().job.id and first.numbered() is first


def test_two_copies_of_an_old_file_are_one_job():
    raw = {"format": 3, "title": "x", "stack": []}
    one, other = (file.upgraded(dict(raw), "x")["id"] for _ in range(2))
    assert one == other and len(one) == 32
    assert file.upgraded({**raw, "title": "y"}, "x")["id"] != one


def test_no_piece_gets_a_number_that_another_had():
    job = families.new_job("rear-receiver")
    socket = job.stack[-1].socket
    for number in ("3", "4", "5"):
        job = stack.put_on(stack.take_off(job, job.stack[-1].id), "ball-mount", "1", socket)
        assert [p.id for p in job.stack] == ["1", number]
    assert stack.take_off(job, "5").next_free == 6
