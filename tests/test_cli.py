"""The command from outside, in its own process or through main()."""

import csv
import json
import subprocess
import sys

import jsonschema
import pytest

from urial import cli, families
from urial.cli import main
from urial.job.file import load


def run(*args, **more):
    return subprocess.run(
        [sys.executable, "-m", "urial.cli", *map(str, args)],
        capture_output=True,
        text=True,
        timeout=120,
        **more,
    )


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    path = tmp_path_factory.mktemp("jobs") / "a.urial"
    assert (
        main(
            [
                "new",
                "rear-receiver",
                "-o",
                str(path),
                "--set",
                "drop=5in",
                "--set",
                "trailer_mass=2000lb",
                "--set",
                "tongue_mass=100 kg",
                "--set",
                "receiver_length=2'",
            ]
        )
        == 0
    )
    return path


def test_families_print_name_two_spaces_title(capsys):
    assert main(["families"]) == 0
    for line in capsys.readouterr().out.splitlines():
        name, title = line.split("  ", 1)
        assert name == name.strip() and title


def test_set_takes_units(made):
    from urial.job.file import load

    job = load(made).job
    assert (
        job.piece("rear-receiver").values.drop_mm == 127
        and job.duty.trailer_mass_kg == pytest.approx(907.18474)
        and job.piece("rear-receiver").values.receiver_length_mm == pytest.approx(609.6)
    )


def test_check_answers_with_its_exit_code(made, tmp_path, capsys):
    assert main(["check", str(made), "--json"]) == 0
    r = json.loads(capsys.readouterr().out)
    assert r["verdict"] == "holds" and r["basis"] == "ASD" and r["governing"] == r["checks"][0]["id"]
    used = [c["utilisation"] for c in r["checks"]]
    assert used == sorted(used, reverse=True)
    assert set(r["checks"][0]) == {
        "id",
        "part",
        "kind",
        "case",
        "demand",
        "available",
        "unit",
        "utilisation",
        "clause",
    }
    assert len({c["id"] for c in r["checks"]}) == len(r["checks"])
    heavy = tmp_path / "heavy.urial"
    assert (
        main(
            [
                "new",
                "rear-receiver",
                "-o",
                str(heavy),
                "--set",
                "trailer_mass=6 t",
                "--set",
                "tongue_mass=600kg",
            ]
        )
        == 0
    )
    assert main(["check", str(heavy)]) == 1
    out = capsys.readouterr().out
    assert "Short in" in out and "licensed engineer" in out


def test_parts_add_up_to_the_checks_mass(made, capsys):
    main(["check", str(made), "--json"])
    mass = json.loads(capsys.readouterr().out)["mass_kg"]
    assert main(["parts", str(made), "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)
    assert sum(r["mass_kg"] for r in rows) == pytest.approx(mass)
    assert set(rows[0]) == {"mark", "name", "stock", "qty", "cut_length_mm", "mass_kg", "mirror", "hardware"}
    assert any(r["mirror"] for r in rows) and any(r["hardware"] for r in rows)


def test_frame_goes_into_calc_frame(made):
    model = run("frame", made)
    assert model.returncode == 0
    solved = run("calc", "frame", "-", input=model.stdout)
    assert solved.returncode == 0
    answer, question = json.loads(solved.stdout), json.loads(model.stdout)
    assert set(answer) == set(question["loads"])
    for case, by_node in question["loads"].items():
        down = sum(f[2] for f in by_node.values())
        assert sum(r[2] for r in answer[case]["reactions"].values()) == pytest.approx(-down, abs=0.5)


def test_sheet_writes_the_packet(made, tmp_path, capsys):
    assert main(["sheet", str(made), "-o", str(tmp_path / "out")]) == 0
    names = {p.name for p in (tmp_path / "out").iterdir()}
    assert {"packet.pdf", "templates.pdf", "parts.csv", "results.json", "plate-B.dxf"} <= names
    rows = list(csv.DictReader((tmp_path / "out" / "parts.csv").open(encoding="utf-8")))
    assert rows[0]["mark"] == "A" and float(rows[0]["cut_length_mm"]) == 960
    results = json.loads((tmp_path / "out" / "results.json").read_text(encoding="utf-8"))
    assert results["caution"] and all(c["working"] for c in results["checks"])


def test_schema_is_a_schema_and_new_jobs_fit_it(made, capsys):
    import zipfile

    assert main(["schema"]) == 0
    schema = json.loads(capsys.readouterr().out)
    jsonschema.Draft202012Validator.check_schema(schema)
    with zipfile.ZipFile(made) as z:
        jsonschema.validate(json.loads(z.read("job.json")), schema)


@pytest.mark.parametrize(
    ("args", "says"),
    [
        (["check", "nowhere.urial"], "no such file"),
        (["new", "wagon", "-o", "x.urial"], "no family called “wagon”"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "drop"], "key=value"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "drop=deep"], "not a length"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "dorp=1"], "nearest"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "cross_tube_material=cheese"], "cheese"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "bar=square 3"], "wider than"),
        (["new", "rear-receiver", "-o", "x.urial", "--set", "tongue_mass=0kg"], "Tongue weight"),
        (["new", "rear-receiver", "-o", "/proc/x.urial"], "could not be saved"),
        (["calc", "wobble"], "no calculator called"),
        (["calc", "pin", "nowhere.json"], "cannot be read"),
        (["polish"], "neither a command nor a job"),
        (["check"], "JOB"),
        (["check", "a", "--loudly"], "loudly"),
    ],
)
def test_bad_input_is_one_sentence_and_exit_2(args, says, capsys, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert main(args) == 2
    out, err = capsys.readouterr()
    assert says in err and err.count("\n") == 1 and "Traceback" not in err and out == ""
    assert not list(tmp_path.iterdir())


def test_calc_lists_and_prints_schemas(capsys):
    assert main(["calc", "--list"]) == 0
    assert "weld_group  " in capsys.readouterr().out
    assert main(["calc", "pin", "--schema"]) == 0
    assert "load_N" in json.loads(capsys.readouterr().out)["properties"]


def test_an_unexpected_failure_is_a_sentence_and_a_log_entry(monkeypatch, capsys):
    from urial import cli
    from urial.journal import state_dir

    monkeypatch.setitem(cli.COMMANDS, "families", lambda _: 1 / 0)
    assert main(["families"]) == 2
    assert "Traceback" not in capsys.readouterr().err
    assert "ZeroDivisionError" in (state_dir() / "urial.log").read_text()


def test_without_a_display_it_says_what_to_do(monkeypatch, capsys):
    for name in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    assert main(["demo"]) == 2
    assert "--shots" in capsys.readouterr().err
    assert main([]) == 2


# ---- the survey


def test_a_survey_goes_out_as_a_table_and_comes_back(made, tmp_path, capsys):
    assert main(["survey", str(made), "--csv"]) == 0
    out = capsys.readouterr().out
    rows = list(csv.DictReader(out.splitlines()))
    assert {"path", "what", "value", "unit"} == set(rows[0]) and any(
        r["path"] == "vehicle.left.0.behind_mm" and r["value"] == "905.0" and r["unit"] == "mm" for r in rows
    )
    table = tmp_path / "s.csv"
    table.write_text("path,value\nvehicle.left.0.behind_mm,36 in\n")
    assert main(["survey", str(made), "--read", str(table), "-o", str(tmp_path / "b.urial")]) == 0
    from urial.job.file import load

    assert load(tmp_path / "b.urial").job.vehicle.left[0].behind_mm == pytest.approx(914.4)
    table.write_text("path,value\nvehicle.left.0.behind_mm,far\n")
    assert main(["survey", str(made), "--read", str(table)]) == 2
    assert "Line 2" in capsys.readouterr().err
    assert main(["survey", str(made), "--read", str(tmp_path / "none.csv")]) == 2
    assert "no such file" in capsys.readouterr().err


def test_a_survey_of_any_kind_is_made_without_a_part_and_says_so_when_checked(tmp_path, capsys):
    path = tmp_path / "q.urial"
    assert main(["new", "survey:quad", "-o", str(path), "--set", "name=Sorrel", "--set", "track=36in"]) == 0
    assert main(["check", str(path)]) == 2
    assert "a survey without a part yet" in capsys.readouterr().err
    assert main(["survey", str(path), "--blank", str(tmp_path / "blank.pdf")]) == 0
    assert (tmp_path / "blank.pdf").read_bytes().startswith(b"%PDF")
    assert main(["new", "survey:sledge", "-o", str(path)]) == 2
    assert "two-wheeler" in capsys.readouterr().err
    assert main(["survey", str(path), "--blank", str(tmp_path / "no" / "such" / "x.pdf")]) == 2
    assert "could not be saved" in capsys.readouterr().err


def test_new_puts_under_a_family_what_it_needs_and_sockets_lists_what_is_where(tmp_path, capsys):
    path = tmp_path / "m.urial"
    assert (
        main(
            [
                "new",
                "ball-mount",
                "--on",
                "rear-receiver",
                "--host",
                "pickup",
                "-o",
                str(path),
                "--set",
                "pin_to_ball=240mm",
            ]
        )
        == 0
    )
    assert [(p.id, p.on, p.family) for p in load(path).job.stack] == [
        ("1", "host", "rear-receiver"),
        ("2", "1", "ball-mount"),
    ]
    assert main(["sockets", str(path)]) == 0
    rows = {r["socket"]: r for r in json.loads(capsys.readouterr().out)}
    assert (
        rows["1/receiver"]["used_by"] == "2"
        and rows["2/ball"]["used_by"] is None
        and rows["2/ball"]["kind"] == "ball"
    )
    assert rows["2/ball"]["at_mm"] == pytest.approx([-1180 + 63.5 - 240, 0, 425 + 25.4 - 75 + 54])
    for args, says in (
        (["--on", "ball-mount"], "does not sit on a ball mount: it wants a receiver's bore"),
        (["--host", "moon"], "no kind of host"),
        (["--host", "post"], "wants frame rails"),
    ):
        assert main(["new", "ball-mount", *args, "-o", str(path)]) == 2
        assert says in capsys.readouterr().err


def test_check_lists_what_no_rule_knows_and_what_to_mind(tmp_path, capsys):
    path = tmp_path / "w.urial"
    sets = ["held=welded", "rail_welding=allowed", "rail_treated=no"]
    assert main(["new", "rear-receiver", "-o", str(path), *(x for s in sets for x in ("--set", s))]) == 0
    assert main(["check", str(path), "--json"]) == 0
    out = json.loads(capsys.readouterr().out)
    assert [set(u) for u in out["unchecked"]] == [{"part", "what"}] * 2 and any(
        "not judged" in w for w in out["warnings"]
    )
    assert main(["check", str(path)]) == 0
    assert "NOT JUDGED" in capsys.readouterr().out


def test_the_frame_as_beams_gives_the_forces_of_the_verdict(made):
    """What ``urial frame`` writes, solved again as plain beams: the beams' end forces are those every
    check was made with.
    """
    from urial.prove.verdict import prove

    v = prove(load(made).job)
    model = json.loads(run("frame", made).stdout)
    solved = json.loads(run("calc", "frame", "-", input=json.dumps(model)).stdout)
    biggest = abs(v.forces.raw.end_forces[:, :, :3]).max()
    for c, case in enumerate(v.cases):
        for name, n in v.forces.raw.member_index.items():
            got = solved[case.id]["members"][name]["i"][:3]
            assert got == pytest.approx(v.forces.raw.end_forces[c, n, :3].tolist(), abs=1e-4 * biggest)


def test_a_key_of_the_new_family_is_its_own_and_goes_to_every_piece_of_it(tmp_path):
    target = tmp_path / "c.urial"
    assert main(["new", "rail-cradle", "-o", str(target), "--set", "lean=20", "--set", "high=18in"]) == 0
    assert [(p.values.lean_deg, round(p.values.high_mm, 1)) for p in load(target).job.stack] == [
        (20.0, 457.2)
    ] * 2
    assert main(["new", "flat-carrier", "-o", str(target), "--set", "plate=1/2"]) == 0
    job = load(target).job
    assert (
        job.piece("flat-carrier").values.plate == "1/2"
        and job.piece("rear-receiver").values.plate_material == "A36"
    )
    before = job.piece("rear-receiver").values.plate
    assert main(["new", "flat-carrier", "-o", str(target), "--set", "stack.1.plate=3/4"]) == 0
    assert load(target).job.piece("rear-receiver").values.plate == "3/4" != before


def test_families_are_listed_with_what_they_do_and_where_they_go(capsys):
    assert main(["families"]) == 0
    rows = {r.split("  ")[0]: r.split("  ")[1:] for r in capsys.readouterr().out.splitlines()}
    assert rows["two-wheeler"] == ["Two-wheeler hitch", "tow", "two-wheeler"]
    assert rows["rail-cradle"][1:] == ["hold down", "trailer"] and "tractor" in rows["flat-carrier"][2]


def test_workings_are_given_when_asked_for(tmp_path, capsys):
    from urial.job.file import Document, save

    path = tmp_path / "a.urial"
    save(path, Document(families.new_job("shackle-insert")))
    assert cli.main(["check", str(path), "--json", "--workings"]) == 0
    checks = json.loads(capsys.readouterr().out)["checks"]
    assert all({"what", "formula", "numbers", "result"} == set(line) for c in checks for line in c["working"])
    assert all(c["working"] for c in checks)
    assert cli.main(["check", str(path), "--json"]) == 0
    assert "working" not in json.loads(capsys.readouterr().out)["checks"][0]
    assert cli.main(["check", str(path), "--workings"]) == 0
    assert "utilisation: " in capsys.readouterr().out


def new(folder, family):
    path = folder / f"{family}.urial"
    assert main(["new", family, "-o", str(path)]) == 0
    return path


def test_the_chance_of_being_short_is_told_and_given_as_json(tmp_path, capsys):
    path = new(tmp_path, "shackle-insert")
    assert main(["chance", str(path), "--samples", "6"]) == 0
    out = capsys.readouterr().out
    assert "In one hard load: none of 6 short" in out and "Planning values" in out
    assert main(["chance", str(path), "--samples", "6", "--seed", "2", "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["hard"]["of"] + answer["unbuilt"] == 6 and answer["hard"]["between"][0] == 0
    for wrong in (["--samples", "0"], ["--samples", "1000000"], ["--seed", "-1"]):
        assert main(["chance", str(path), *wrong]) == 2
        assert capsys.readouterr().err.count("\n") == 1


def test_the_frame_is_recomputed_by_the_second_solver(tmp_path, capsys, monkeypatch):
    path = new(tmp_path, "hook-plate")
    assert main(["recompute", str(path)]) == 0
    assert "finds the same" in capsys.readouterr().out
    assert main(["recompute", str(path), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["agrees"] and answer["compared"] == len(answer["pairs"]) > 20
    assert {"what", "case", "unit", "here", "there", "apart"} == set(answer["pairs"][0])
    monkeypatch.setattr("urial.prove.second.available", lambda: False)
    assert main(["recompute", str(path)]) == 2
    assert "extra “second”" in capsys.readouterr().err
