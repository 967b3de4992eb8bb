"""A proof test outlasts the application: readings on disk, half a line is dropped, what is signed goes."""

import json
import os
import subprocess
import sys
import time

import pytest

from urial.prove.proof_record import Foretold, judged
from urial.session.pulls import KEPT_S, Pulls

WANTED = Foretold("Proof", 10.0, 4.0, "rearward", 0.2)


def pulled(tmp_path, n=3, **more):
    pulls = Pulls(tmp_path)
    for k in range(n):
        assert pulls.add("job", "proof", WANTED, (2.0 * k, 0.8 * k), more.get("simulated", False))
    return pulls


def test_another_start_finds_what_was_read_and_goes_on(tmp_path):
    first = pulled(tmp_path)
    again = Pulls(tmp_path)
    found = again.of("job", "proof")
    assert [(r.kN, r.mm) for r in found.readings] == [(0, 0), (2, 0.8), (4, 1.6)]
    assert found.wanted == WANTED and not found.simulated and ("job", "proof") in again.found
    assert again.add("job", "proof", WANTED, (10.0, 4.0), False)
    third = Pulls(tmp_path).of("job", "proof")
    assert len(third.readings) == 4 and judged(WANTED, third.readings).most_kN == 10.0
    at = [r.at for r in third.readings]
    assert at == sorted(at) and ("job", "proof") not in first.found


def test_the_time_between_counts(tmp_path, monkeypatch):
    """An hour later the next reading is an hour later, though another process's clock began anew."""
    pulled(tmp_path)
    later = time.time() + 3600
    monkeypatch.setattr(time, "time", lambda: later)
    again = Pulls(tmp_path)
    again.add("job", "proof", WANTED, (6.0, 2.4), False)
    rows = again.of("job", "proof").readings
    assert rows[-1].at - rows[-2].at == pytest.approx(3600, abs=5)


def test_what_a_stand_in_read_stays_so(tmp_path):
    pulled(tmp_path, simulated=True)
    assert Pulls(tmp_path).of("job", "proof").simulated


def test_begun_anew_or_signed_it_is_gone_from_disk(tmp_path):
    pulls = pulled(tmp_path)
    pulls.signed("job", "proof")
    assert not list(tmp_path.iterdir()) and len(pulls.of("job", "proof").readings) == 3  # still shown
    pulls = pulled(tmp_path)
    pulls.anew("job", "proof")
    assert not list(tmp_path.iterdir()) and not pulls.of("job", "proof").readings
    assert not Pulls(tmp_path).of("other", "proof").readings


@pytest.mark.parametrize("spoil", ["half a line", "no head", "another job", "not text", "empty"])
def test_a_spoiled_file_loses_no_more_than_what_is_spoiled(tmp_path, spoil):
    pulled(tmp_path)
    (path,) = tmp_path.iterdir()
    lines = path.read_text(encoding="utf-8").splitlines(keepends=True)
    if spoil == "half a line":
        path.write_text("".join(lines)[:-9], encoding="utf-8")
    elif spoil == "no head":
        path.write_text("".join(lines[1:]), encoding="utf-8")
    elif spoil == "another job":
        head = {**json.loads(lines[0]), "job": "x"}
        path.write_text(json.dumps(head) + "\n" + "".join(lines[1:]), encoding="utf-8")
    elif spoil == "not text":
        path.write_bytes(b"\xff\x00" * 50)
    else:
        path.write_text("", encoding="utf-8")
    pulls = Pulls(tmp_path)
    assert len(pulls.of("job", "proof").readings) == (2 if spoil == "half a line" else 0)
    assert pulls.add("job", "proof", WANTED, (8.0, 3.2), False)
    assert Pulls(tmp_path).of("job", "proof").readings[-1].kN == 8.0


def test_what_nobody_went_on_with_for_a_week_is_begun_anew(tmp_path):
    pulled(tmp_path)
    (path,) = tmp_path.iterdir()
    old = time.time() - KEPT_S - 60
    os.utime(path, (old, old))
    assert not Pulls(tmp_path).of("job", "proof").readings and not path.exists()


def test_where_nothing_can_be_written_the_window_keeps_it(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("", encoding="utf-8")
    pulls = Pulls(blocked)
    assert pulls.add("job", "proof", WANTED, (1.0, 0.4), False)
    assert len(pulls.of("job", "proof").readings) == 1


def test_killed_between_two_readings_nothing_of_what_showed_is_lost(tmp_path):
    code = (
        "import sys, itertools\nfrom pathlib import Path\nfrom urial.session.pulls import Pulls\n"
        "from urial.prove.proof_record import Foretold\n"
        "pulls = Pulls(Path(sys.argv[1]))\nw = Foretold('Proof', 10.0, 4.0, 'rearward', 0.2)\n"
        "for n in itertools.count():\n    pulls.add('job', 'proof', w, (float(n), 0.0), False)\n"
        "    print(n, flush=True)\n"
    )
    at_work = subprocess.Popen([sys.executable, "-c", code, str(tmp_path)], stdout=subprocess.PIPE, text=True)
    assert at_work.stdout is not None
    shown = [int(at_work.stdout.readline()) for _ in range(50)]
    at_work.kill()
    shown += [int(line) for line in at_work.stdout.read().splitlines() if line.strip().isdecimal()]
    at_work.wait()
    found = [r.kN for r in Pulls(tmp_path).of("job", "proof").readings]
    assert found[: len(shown)] == [float(n) for n in shown]
