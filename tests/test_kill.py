"""Killed at any moment: nothing is lost, nothing is mixed."""

import os
import re
import subprocess
import sys
from pathlib import Path

from tests.kill import _packet
from urial.papers import packet_folder
from urial.papers.packet_folder import write_packet

ROOT = Path(__file__).parent.parent


def test_a_short_run_of_kills_loses_nothing():
    env = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    run = subprocess.run(
        [sys.executable, "-m", "tests.kill", "3"], cwd=ROOT, env=env, capture_output=True, text=True
    )
    assert run.returncode == 0, run.stdout + run.stderr
    counts = [int(n) for n in re.findall(r"(\d+) (?:edit|save|take up|packet)", run.stdout)]
    assert len(counts) == 4 and min(counts) >= 5 and "0 losses" in run.stdout


def test_a_window_killed_while_somebody_types_loses_nothing():
    env = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    run = subprocess.run(
        [sys.executable, "-m", "tests.kill", "3", "window"], cwd=ROOT, env=env, capture_output=True, text=True
    )
    assert run.returncode == 0, run.stdout + run.stderr
    assert re.search(r"[1-9]\d* window; 0 losses", run.stdout)


def test_a_packet_leaves_what_else_lies_in_the_folder_and_nothing_beside_it(tmp_path):
    folder = tmp_path / "shop"
    write_packet(_packet(7), folder)
    (folder / "notes.txt").write_text("mine")
    write_packet(_packet(3), folder)
    assert {p.name for p in folder.iterdir()} == {"notes.txt", *_packet(3).files}
    assert (folder / "notes.txt").read_text() == "mine"
    assert [p.name for p in tmp_path.iterdir()] == ["shop"]


def test_a_packet_keeps_the_folders_rights_and_follows_a_link(tmp_path):
    folder, link = tmp_path / "shop", tmp_path / "link"
    write_packet(_packet(7), folder)
    folder.chmod(0o750)
    link.symlink_to(folder)
    write_packet(_packet(3), link)
    assert link.is_symlink() and folder.stat().st_mode & 0o777 == 0o750
    assert {p.name for p in folder.iterdir()} == set(_packet(3).files)


def test_the_folder_somebody_stands_in_stays_the_same_folder(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    before = tmp_path.stat().st_ino
    write_packet(_packet(7), Path("."))
    write_packet(_packet(3), Path("."))
    assert tmp_path.stat().st_ino == before and {p.name for p in tmp_path.iterdir()} == set(_packet(3).files)


def test_what_somebody_puts_into_the_folder_while_a_packet_is_written_stays(tmp_path, monkeypatch):
    folder = tmp_path / "shop [1]"
    write_packet(_packet(7), folder)
    real = packet_folder._exchange

    def meanwhile(one, other):
        (folder / "notes.txt").write_text("mine")
        return real(one, other)

    monkeypatch.setattr(packet_folder, "_exchange", meanwhile)
    write_packet(_packet(3), folder)
    assert (folder / "notes.txt").read_text() == "mine"
    assert {p.name for p in folder.iterdir()} == {"notes.txt", *_packet(3).files}
    assert [p.name for p in tmp_path.iterdir()] == ["shop [1]"]


def test_what_a_killed_write_left_is_swept_and_no_more(tmp_path):
    old, mine = tmp_path / ".shop.packet-abc", tmp_path / ".shop.packet-def"
    for left in (old, mine):
        left.mkdir()
        (left / "packet.pdf").write_text("old")
    (mine / "notes.txt").write_text("mine")
    for left in (old, mine):
        os.utime(left, (0, 0))
    write_packet(_packet(3), tmp_path / "shop")
    assert not old.exists() and [p.name for p in mine.iterdir()] == ["notes.txt"]
