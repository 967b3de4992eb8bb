"""The making from outside: plan, nests, bends, price, shop and book by command."""

import json
import math
from datetime import date, timedelta

import pytest
from icalendar import Calendar

from urial import families
from urial.cli import main
from urial.desk.start import demo_jobs
from urial.geometry.shape import Bar
from urial.job.file import load, save
from urial.job.log import Entry


@pytest.fixture
def shop(tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    return tmp_path


def made(tmp_path, name, *more):
    path = tmp_path / f"{name}.urial"
    assert main(["new", name, "-o", str(path), *more]) == 0
    return path


def answer(capsys, *words):
    capsys.readouterr()
    assert main([*map(str, words)]) == 0
    return json.loads(capsys.readouterr().out)


@pytest.mark.parametrize("name", ["rear-receiver", "flat-trailer", "two-wheeler", "three-point-carriage"])
def test_plan_nest_and_parts_speak_of_the_same_steel(shop, capsys, name):
    path = made(shop, name)
    parts = {r["mark"]: r for r in answer(capsys, "parts", path, "--json")}
    steps = answer(capsys, "plan", path, "--json")["steps"]
    seen = set()
    for s in steps:
        assert set(s["needs"]) <= seen and s["state"] == "open" and s["done"] == 0 and s["minutes"] > 0
        seen.add(s["key"])
    cut = {m: s["count"] for s in steps if s["kind"] in ("saw", "cut plate") for m in s["parts"]}
    assert cut == {m: r["qty"] for m, r in parts.items() if not r["hardware"]}
    nest = answer(capsys, "nest", path, "--json")
    bars = {
        p.mark for p in families.build(load(path).job).parts if isinstance(p.shape, Bar) and not p.hardware
    }
    out = [c for b in nest["bars"] for c in b["cuts"]]
    for c in out:
        assert c["length_mm"] == pytest.approx(parts[c["mark"]]["cut_length_mm"], abs=0.6)
        assert c["end_mm"] - c["start_mm"] == pytest.approx(c["length_mm"], abs=2e-3)
    assert len(out) == sum(r["qty"] for m, r in parts.items() if is_bar(m, bars))
    plates = [p["mark"] for s in nest["sheets"] for p in s["parts"]]
    for mark, r in parts.items():
        if not r["hardware"] and not is_bar(mark, bars) and mark not in nest["by_hand"]:
            assert plates.count(mark) == r["qty"], mark
    assert nest["bound"] <= nest["price"]


def is_bar(mark, bars):
    return mark in bars or f"{mark}L" in bars


def test_a_quote_adds_up(shop, capsys):
    path = made(shop, "flat-trailer")
    q = answer(capsys, "quote", path, "--json")
    assert q["total"] == pytest.approx(q["material"] + q["consumables"] + q["labour"], abs=0.02)
    assert sum(r["price"] for r in q["lines"]) == pytest.approx(q["total"], abs=0.2)
    hours = sum(s["minutes"] for s in answer(capsys, "plan", path, "--json")["steps"]) / 60
    assert q["hours"] == pytest.approx(hours, abs=0.01)
    assert main(["shop", "set", "rates.labour_h=116"]) == 0  # twice the usual
    twice = answer(capsys, "quote", path, "--json")
    assert twice["labour"] == pytest.approx(2 * q["labour"], abs=0.02) and twice["material"] == q["material"]


def test_a_quote_for_two_has_twice_of_everything_that_is_bought_by_the_piece(shop, capsys):
    path = made(shop, "flat-trailer")
    one = {r["what"]: r["amount"] for r in answer(capsys, "quote", path, "--json")["lines"]}
    document = load(path)
    two = document.job.model_copy(update={"making": document.job.making.model_copy(update={"sets": 2.0})})
    save(path, document.__class__(two, (), document.attachments))
    both = {r["what"]: r["amount"] for r in answer(capsys, "quote", path, "--json")["lines"]}
    for what in ("coupler", "wheel with hub, two alike", "wire", "gas", "paint, three coats"):
        assert both[what] == pytest.approx(2 * one[what], rel=2e-3), what


def test_what_is_ticked_is_done_in_the_plan_and_out_of_the_nest(shop, capsys):
    path = made(shop, "rear-receiver")
    steps = answer(capsys, "plan", path, "--json")["steps"]
    saw = next(s for s in steps if s["kind"] == "saw")
    document = load(path)
    entry = Entry(id="e1", step=saw["key"], at="2026-12-01T09:00:00+01:00", figures=saw["figures"])
    save(path, document.__class__(document.job, (entry,), document.attachments))
    after = {s["key"]: s for s in answer(capsys, "plan", path, "--json")["steps"]}
    assert after[saw["key"]]["state"] == "done" and after[saw["key"]]["done"] == 1
    nest = answer(capsys, "nest", path, "--json")
    assert saw["parts"][0] not in [c["mark"] for b in nest["bars"] for c in b["cuts"]]


def test_the_rack_by_command_reaches_the_nest(shop, capsys):
    path = made(shop, "rail-cradle")
    stock = answer(capsys, "nest", path, "--json")["bars"][0]
    assert main(["shop", "add", "bar", stock["stock"], stock["material"], "5.2 m", "--remnant"]) == 0
    ident = capsys.readouterr().out.strip()
    again = answer(capsys, "nest", path, "--json")
    assert ident in [b["rack"] for b in again["bars"]]
    rack = answer(capsys, "shop", "list", "--json")
    assert rack["bars"][0]["length_mm"] == 5200.0 and not rack["usual"]


def test_bends_are_those_of_the_calculator(shop, capsys, tmp_path):
    path = made(shop, "two-wheeler")
    rows = answer(capsys, "bends", path, "--json")
    assert rows
    for r in rows:
        question = {"points_mm": r["points_mm"], "od_mm": r["od_mm"], "wall_mm": 3.0, "clr_mm": r["clr_mm"]}
        asked = tmp_path / "q.json"
        asked.write_text(json.dumps({**question, "clamp_mm": 60.0, "min_tail_mm": 100.0}))
        told = answer(capsys, "calc", "bend_layout", asked)
        assert told["cut_length_mm"] == pytest.approx(r["cut_length_mm"], abs=0.01)
        for a, b in zip(told["bends"], r["bends"], strict=True):
            assert a == pytest.approx(b, abs=0.01)


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["shop", "add", "bar", "nonsense", "S235", "3 m"], "No bar called"),
        (["shop", "add", "bar", "40x40x3", "S235", "long"], "long"),
        (["shop", "add", "bar", "40x40x3"], "Write: urial shop add"),
        (["shop", "set", "saw.blade=2"], "no figure “saw.blade”"),
        (["shop", "set", "saw.kerf_mm=-1"], "saw.kerf_mm"),
        (["shop", "drop", "b77"], "no “b77”"),
        (["shop", "import", "none.csv"], "cannot be read"),
        (["shop", "restore", "none.db"], "There is no none.db"),
        (["shop", "paint"], "invalid choice"),
        (["book", "forget", "x"], "knows no job"),
        (["plan", "none.urial"], "none.urial"),
    ],
)
def test_wrong_words_get_one_sentence(shop, capsys, words, said):
    assert main(words) == 2
    err = capsys.readouterr().err
    assert said in err and err.count("\n") == 1


def test_a_survey_has_nothing_to_make(shop, capsys):
    path = made(shop, "survey:van")
    for name in ("plan", "nest", "bends", "quote"):
        assert main([name, str(path)]) == 2
        assert "nothing to make" in capsys.readouterr().err


def test_a_handed_over_job_is_due_a_fortnight_later(shop, capsys):
    path = made(shop, "rear-receiver")
    document = load(path)
    entry = Entry(id="e1", step="job|hand over|", at="2026-12-01T09:00:00+01:00", minutes=30.0)
    save(path, document.__class__(document.job, (entry,), document.attachments))
    assert main(["book", "add", str(path)]) == 0
    row = answer(capsys, "book", "--json")[0]
    assert row["title"] and row["hours"] == 0.5 and row["due"] == "2026-12-15"
    assert answer(capsys, "due", "--json")[0]["what"].startswith("every bolt")
    file = shop / "due.ics"
    assert main(["due", "--calendar", str(file)]) == 0
    (event,) = Calendar.from_ical(file.read_bytes()).walk("VEVENT")
    assert event.decoded("dtstart") == date(2026, 12, 15) and event.decoded("dtend") == date(2026, 12, 16)
    assert str(event["summary"]).endswith(": due") and str(event["description"]).startswith("every bolt")
    (alarm,) = event.walk("VALARM")
    assert alarm.decoded("trigger") == timedelta(days=-7)
    first = str(event["uid"])
    assert main(["due", "--calendar", str(file)]) == 2 and "--over" in capsys.readouterr().err
    assert main(["due", "--calendar", str(file), "--over"]) == 0
    (again,) = Calendar.from_ical(file.read_bytes()).walk("VEVENT")
    assert str(again["uid"]) == first  # taken in twice it stands once
    assert main(["due", "--calendar", str(shop / "due.txt")]) == 2


def test_weld_keeps_its_contract_for_every_family(tmp_path, capsys):
    for family in ("rear-receiver", "slot-frame", "front-rail", "hook-plate", "ring-backing"):
        made = tmp_path / f"{family}.urial"
        assert main(["new", family, "-o", str(made)]) == 0
        capsys.readouterr()
        assert main(["weld", str(made), "--json"]) == 0
        got = json.loads(capsys.readouterr().out)
        assert set(got) == {"seams", "order", "pull"} and set(got["pull"]) == {"as_listed", "in_order"}
        long = {}
        for s in got["seams"]:
            assert {
                "number",
                "joint",
                "type",
                "leg_mm",
                "length_mm",
                "prep",
                "process",
                "amps",
                "passes",
                "reached",
            } <= set(s)
            assert (
                len(s["joint"]) == 2 and isinstance(s["reached"], bool) and s["passes"] >= 1 and s["amps"] > 0
            )
            assert s["prep"] is None or s["prep"]
            long[s["number"]] = 0.0
        for x in got["order"]:
            assert x["wait_s"] >= 0
            long[x["seam"]] += math.dist(x["from_mm"], x["to_mm"])
        for s in got["seams"]:
            assert long[s["number"]] == pytest.approx(s["length_mm"], abs=0.2)
        for name in ("camber_mm", "angular_deg", "twist_deg"):
            assert got["pull"]["in_order"][name] <= got["pull"]["as_listed"][name] + 1e-9
        assert main(["weld", str(made)]) == 0
        said = capsys.readouterr().out
        assert "run a coupon first" in said or not got["seams"]


def test_a_plate_is_refused_and_written_with_a_reason(shop, capsys):
    path = made(shop, "ball-mount")
    target = shop / "plate.dxf"
    capsys.readouterr()
    assert main(["plate", str(path), "-o", str(target)]) == 1 and not target.exists()
    told = capsys.readouterr().out
    assert "Not proven" in told and "are assumed" in told and "--anyway" in told
    assert main(["plate", str(path), "-o", str(target), "--anyway", "to try the engraver"]) == 0
    assert "to try the engraver" in target.read_text(encoding="utf-8")
    before = target.read_bytes()
    capsys.readouterr()
    assert main(["plate", str(path), "-o", str(target), "--anyway", "again"]) == 2
    assert "is there already" in capsys.readouterr().err and target.read_bytes() == before
    assert main(["plate", str(path), "-o", str(shop / "plate.txt"), "--anyway", "x"]) == 2
    assert ".pdf, .svg, .dxf" in capsys.readouterr().err
    assert main(["plate", str(path), "-o", str(target), "--over", "--anyway", "y" * 201]) == 2
    assert "longer than 200" in capsys.readouterr().err and target.read_bytes() == before


def said(capsys, *words):
    capsys.readouterr()
    code = main([*map(str, words)])
    out = capsys.readouterr()
    return code, out.out, out.err


def test_a_plate_is_cut_to_a_drawing_and_the_job_written(tmp_path, capsys):
    job = next(path for path, *_ in demo_jobs() if path.stem == "rescue-winch")
    code, out, err = said(capsys, "sheet", job, "-o", tmp_path / "packet", "--pages", "parts")
    drawing = tmp_path / "packet" / "plate-D.dxf"
    code, out, err = said(capsys, "outline", job, "D", drawing, "--json", "-o", tmp_path / "with.urial")
    assert code == 0 and not err
    found = json.loads(out)
    assert found["part"] == "D" and len(found["holes"]) == 2 and found["faults"] == []
    assert found["size_mm"] == pytest.approx([90.0, 190.0], abs=0.05)
    (change,) = load(tmp_path / "with.urial").job.stack[0].changes
    assert change.kind == "outline" and change.name == "plate-D"
    (tmp_path / "note.txt").write_text("mine")
    code, out, err = said(capsys, "outline", job, "D", drawing, "-o", tmp_path / "note.txt")
    assert code == 2 and (tmp_path / "note.txt").read_text() == "mine"
    code, out, err = said(capsys, "outline", job, "D", drawing)
    assert code == 0 and "8 edges, 4 of them arcs, 2 holes" in out
    for words, what in (
        (("Q", drawing), "no plate called “Q”; there are BL, BR, D"),
        (("D", tmp_path / "gone.dxf"), "is no file"),
        (("D", drawing, "--wide", "wide"), "wide"),
        (("D", drawing, "--wide", "20mm"), "left out"),
    ):
        code, out, err = said(capsys, "outline", job, *words)
        assert code == 2 and what in err and err.count("\n") == 1, (words, err)


def test_wiring_by_command(tmp_path, capsys):
    """6 m at 1.75 A in 1.5 mm² is 0.147 V of its own, and the earth's 0.131 V."""
    path = made(
        tmp_path, "flat-trailer", "--set", "making.wiring.run_mm=6000", "--set", "making.wiring.plug=7-round"
    )
    assert answer(capsys, "wiring", path, "--json")["wires"] == []
    found = answer(capsys, "wiring", path, "--what", "lamps on it", "--json")
    turn = next(w for w in found["wires"] if w["does"] == "left turn")
    assert turn["drop_V"] == pytest.approx(0.27825, abs=1e-5) and turn["cable"] == "1.5 mm²"
    assert found["length_guessed"] is False and found["worst_drop_V"] <= 0.4
    assert main(["wiring", str(path), "--what", "lamps on it"]) == 0
    assert "10 mm²" in capsys.readouterr().out
    assert main(["wiring", str(path), "--what", "a socket on the host", "--plug", "7-blade"]) == 0
    assert main(["wiring", str(made(tmp_path, "front-rail"))]) == 0
    assert "Nothing is wired" in capsys.readouterr().out


def test_a_cable_by_calculator(tmp_path, capsys):
    question = tmp_path / "q.json"
    question.write_text(json.dumps({"current_A": 3.5, "length_m": 6}), encoding="utf-8")
    found = answer(capsys, "calc", "cable", question)
    assert (
        found["needed_mm2"] == pytest.approx(2.205) and found["cable"] == "2.5 mm²" and found["fuse_A"] == 5
    )
    question.write_text(json.dumps({"current_A": 300, "length_m": 6}), encoding="utf-8")
    assert main(["calc", "cable", str(question)]) == 2
    assert "share it between two" in capsys.readouterr().err


def test_bolts_by_command(tmp_path, capsys):
    path = made(tmp_path, "two-wheeler")
    found = answer(capsys, "bolts", path, "--json")["groups"]
    assert len(found) == 4 and found[0]["torque_dry_Nm"] == pytest.approx(8.686, abs=2e-3)
    assert found[0]["in_thread_mm"] == pytest.approx(4.0) and "strip" in found[0]["limit"]
    assert main(["bolts", str(path)]) == 0 and "9 N·m dry" in capsys.readouterr().out
    assert main(["bolts", str(made(tmp_path, "flat-trailer"))]) == 0
    assert "Nothing is bolted" in capsys.readouterr().out


def test_a_plan_set_by_command(tmp_path, capsys):
    path = made(tmp_path, "front-rail", "--set", "customer=the post on the ridge")
    assert main(["sheet", str(path), "-o", str(tmp_path / "set"), "--hand-on", "Front rail"]) == 0
    names = {p.name for p in (tmp_path / "set").iterdir()}
    assert {"packet.pdf", "templates.pdf", "parts.csv"} <= names and "labels.pdf" not in names
    capsys.readouterr()
    assert main(["sheet", str(path), "-o", str(tmp_path / "no"), "--hand-on", "--pages", "parts"]) == 2
    assert "not both" in capsys.readouterr().err and not (tmp_path / "no").exists()
