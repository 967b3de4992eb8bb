import io
import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path
from types import MappingProxyType

import jsonschema
import pytest

from urial import families
from urial.job import edit, file
from urial.job.file import Document, FileError
from urial.job.history import History
from urial.job.model import Job, json_schema
from urial.job.recovery import Recovery, forget, leftovers


def test_open_then_save_is_byte_stable(job, tmp_path):
    path = tmp_path / "a.urial"
    file.save(path, Document(job, attachments=MappingProxyType({"photo.jpg": b"\xff\xd8 not really"})))
    first = path.read_bytes()
    document = file.load(path)
    assert document.job == job and document.attachments["photo.jpg"] == b"\xff\xd8 not really"
    file.save(path, document)
    assert path.read_bytes() == first


def test_the_file_is_an_open_zip_that_fits_its_schema(job, tmp_path):
    file.save(tmp_path / "a.urial", Document(job))
    with zipfile.ZipFile(tmp_path / "a.urial") as z:
        raw = json.loads(z.read("job.json"))
    jsonschema.validate(raw, json_schema())
    assert raw["format"] == 7 and [p["values"]["family"] for p in raw["stack"]] == [
        "rear-receiver",
        "ball-mount",
    ]
    broken = {**raw, "units": "furlong"}
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(broken, json_schema())


def archive(**members):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as z:
        for name, data in members.items():
            z.writestr(name.replace("__", "."), data)
    return out.getvalue()


def raw_job(job, **changes):
    return json.dumps({**json.loads(file.job_bytes(job)), **changes})


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda job: b"", "damaged"),
        (lambda job: b"hello", "damaged"),
        (lambda job: file.to_bytes(Document(job))[:-300], "damaged"),
        (lambda job: file.to_bytes(Document(job)).replace(b"wheelbase", b"wheelbose", 1), "damaged"),
        (lambda job: archive(readme="hi"), "no job.json"),
        (lambda job: archive(job__json="{"), "damaged"),
        (lambda job: archive(job__json="[1]"), "damaged"),
        (lambda job: archive(job__json="{}"), "format"),
        (lambda job: archive(job__json=raw_job(job, format=99)), "newer Urial"),
        (lambda job: archive(job__json=raw_job(job, format="one")), "format"),
        (lambda job: archive(job__json=raw_job(job, surprise=1)), "surprise"),
        (
            lambda job: archive(job__json=raw_job(job, stack=[{"id": "1", "values": {"family": "sledge"}}])),
            "sledge",
        ),
        (
            lambda job: archive(
                job__json=raw_job(job, stack=[{**p.model_dump(mode="json"), "on": "7"} for p in job.stack])
            ),
            "not a piece before it",
        ),
        (
            lambda job: archive(
                job__json=raw_job(job, stack=[p.model_dump(mode="json") for p in (*job.stack, job.stack[0])])
            ),
            "Two pieces",
        ),
        (lambda job: archive(job__json=raw_job(job, hosts=[])), "hosts"),
        (lambda job: archive(job__json="[" * 100_000), "damaged"),
    ],
)
def test_a_bad_file_gives_one_sentence_and_is_left_alone(job, tmp_path, make, says):
    path = tmp_path / "bad.urial"
    path.write_bytes(make(job))
    before = path.read_bytes()
    with pytest.raises(FileError, match=says) as refusal:
        file.load(path)
    assert "\n" not in str(refusal.value) and str(refusal.value).endswith(".")
    assert path.read_bytes() == before


def test_older_formats_are_lifted_step_by_step(job, monkeypatch):
    monkeypatch.setattr(file, "FORMAT", 3)
    monkeypatch.setitem(file.UPGRADES, 1, lambda raw: {**raw, "title": raw["title"] + " +1"})
    monkeypatch.setitem(file.UPGRADES, 2, lambda raw: {**raw, "title": raw["title"] + " +2"})
    assert file.upgraded({"format": 1, "title": "x"}, "x") == {"format": 3, "title": "x +1 +2"}


def test_a_failed_save_leaves_the_old_file_and_no_rubbish(job, tmp_path, monkeypatch):
    path = tmp_path / "a.urial"
    file.save(path, Document(job))
    before = path.read_bytes()

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileError, match="disk is full"):
        file.save(path, Document(edit.put(job, "title", "changed")))
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["a.urial"]


def test_places_that_take_no_file_say_why(job, tmp_path):
    with pytest.raises(FileError, match="no such file or folder"):
        file.save(tmp_path / "nowhere" / "a.urial", Document(job))
    with pytest.raises(FileError, match="folder"):
        file.load(tmp_path)
    (tmp_path / "plain").write_text("x")
    with pytest.raises(FileError):
        file.save(tmp_path / "plain" / "a.urial", Document(job))


def test_a_read_only_folder_is_named(job, tmp_path, monkeypatch):
    def refuse(**_):
        raise OSError(30, "Read-only file system")

    monkeypatch.setattr("tempfile.mkstemp", refuse)
    with pytest.raises(FileError, match="read-only"):
        file.save(tmp_path / "a.urial", Document(job))


def test_history_undoes_and_redoes_everything(job):
    h = History(job)
    one = edit.put(job, "stack.1.drop_mm", 100.0)
    two = edit.put(one, "stack.1.cross_tube", "3x3x3/8")
    h.record(one, "drop 100 mm")
    h.record(two, edit.change_name(two, "stack.1.cross_tube"))
    assert h.undo_name == "cross tube 3 × 3 × 3/8"
    assert h.undo() and h.job == one and h.redo_name == "cross tube 3 × 3 × 3/8"
    assert h.undo() and h.job == job and not h.undo()
    assert h.redo() and h.redo() and h.job == two and not h.redo()
    h.undo()
    h.record(edit.put(h.job, "stack.1.drop_mm", 90.0), "drop 90 mm")
    assert not h.redo()


SCRIPT = """
import sys, time
from pathlib import Path
from urial import families
from urial.job import edit
from urial.job.file import Document
from urial.job.recovery import Recovery
job, r = families.new_job("rear-receiver"), Recovery(Path(sys.argv[1]))
print("ready", flush=True)
for n in range(100_000):
    r.keep(Document(edit.put(job, "title", f"edit {n}")), None)
"""


def test_work_survives_a_kill_at_any_moment(tmp_path):
    for wait in (0.0, 0.013, 0.029):
        p = subprocess.Popen([sys.executable, "-c", SCRIPT, str(tmp_path)], stdout=subprocess.PIPE, text=True)
        assert p.stdout.readline() == "ready\n"
        import time

        time.sleep(0.25 + wait)
        assert leftovers(tmp_path) == []  # its owner is still at work
        p.kill()
        p.wait()
        found = leftovers(tmp_path)
        assert len(found) == 1 and found[0].document.job.title.startswith("edit ")
        forget(found[0])
        assert leftovers(tmp_path) == []


def test_a_saved_document_leaves_nothing_to_recover(job, tmp_path):
    r = Recovery(tmp_path)
    r.keep(Document(job), tmp_path / "a.urial")
    assert len(list(tmp_path.iterdir())) == 2
    r.drop()
    assert not list(tmp_path.iterdir())


def test_a_job_is_frozen(job):
    with pytest.raises(Exception, match="frozen"):
        job.title = "x"
    assert isinstance(families.new_job("rear-receiver"), Job)


def test_a_file_of_the_first_format_is_lifted_and_keeps_its_figures(tmp_path):
    from pathlib import Path

    old = Path(__file__).parent / "format-1.urial"
    job = file.load(old).job
    assert job.format == 7 and job.vehicle.kind == "pickup" and job.vehicle.left[0].behind_mm == 905
    assert job.survey.keep_outs == () and job.survey.answers.pin_room_mm is None
    file.save(tmp_path / "new.urial", Document(job))
    assert file.load(tmp_path / "new.urial").job == job


def test_a_file_of_the_third_format_is_lifted_and_gets_a_number(tmp_path):
    path = Path(__file__).parent / "format-3.urial"
    with zipfile.ZipFile(path) as z:
        raw = json.loads(z.read("job.json"))
    found = file.load(path)
    assert raw["format"] == 3 and found.log == () and len(found.job.id) == 32
    kept({k: v for k, v in raw.items() if k != "format"}, found.job.model_dump(mode="json"), "job")
    assert file.load(path).job.id == found.job.id


def test_a_file_of_the_fourth_format_is_lifted_and_wants_one_of_it():
    path = Path(__file__).parent / "format-4.urial"
    with zipfile.ZipFile(path) as z:
        raw = json.loads(z.read("job.json"))
    found = file.load(path)
    assert raw["format"] == 4 and found.job.making.sets == 1 and found.job.id == raw["id"]
    kept({k: v for k, v in raw.items() if k != "format"}, found.job.model_dump(mode="json"), "job")


def test_a_file_of_the_fifth_format_is_lifted_and_gets_the_usual_finish():
    path = Path(__file__).parent / "format-5.urial"
    with zipfile.ZipFile(path) as z:
        raw = json.loads(z.read("job.json"))
    found = file.load(path)
    assert raw["format"] == 5 and "finish" not in raw["making"]
    assert found.job.making.finish.scheme == "two-pack" and found.job.id == raw["id"]
    kept({k: v for k, v in raw.items() if k != "format"}, found.job.model_dump(mode="json"), "job")


def test_a_file_of_the_sixth_format_is_lifted_and_nothing_is_wired():
    path = Path(__file__).parent / "format-6.urial"
    with zipfile.ZipFile(path) as z:
        raw = json.loads(z.read("job.json"))
    found = file.load(path)
    assert raw["format"] == 6 and "wiring" not in raw["making"]
    assert found.job.making.wiring.what == "nothing" and found.job.id == raw["id"]
    kept({k: v for k, v in raw.items() if k != "format"}, found.job.model_dump(mode="json"), "job")


def test_a_survey_without_a_part_is_a_document_too(tmp_path):
    for kind in ("quad", "post", "trailer"):
        job = families.survey_job(kind)
        file.save(tmp_path / "s.urial", Document(job))
        assert file.load(tmp_path / "s.urial").job == job
        jsonschema.validate(json.loads(file.job_bytes(job)), json_schema())


def kept(old, new, where="vehicle"):
    """Every value of the old file is in the new one, whatever was added beside it."""
    if isinstance(old, dict):
        for key, value in old.items():
            kept(value, new[key], f"{where}.{key}")
    elif isinstance(old, list):
        assert len(old) == len(new), where
        for n, (a, b) in enumerate(zip(old, new, strict=True)):
            kept(a, b, f"{where}.{n}")
    else:
        assert old == new, where


OLD = sorted((Path(__file__).parent / "old").glob("*.urial"))


@pytest.mark.parametrize("path", OLD, ids=lambda p: p.stem)
def test_jobs_of_the_second_format_are_lifted_into_pieces(path):
    """Files as the earlier version wrote them: everything in them is in the lifted job, its marks too."""
    with zipfile.ZipFile(path) as z:
        raw = json.loads(z.read("job.json"))
    assert raw["format"] == 2
    job = file.load(path).job
    kept(raw["vehicle"], job.vehicle.model_dump(mode="json"))
    design = raw["design"]
    if design is None:
        assert not job.has_part
        return
    receiver, mount = (p.values.model_dump(mode="json") for p in job.stack)
    old = {**design, **design["ball_mount"]}
    new = {**receiver, **mount}
    kept(
        {k: v for k, v in old.items() if k not in ("family", "plate_material", "ball_mount", "electrode")},
        new,
        "design",
    )
    assert receiver["held"] == "bolted"  # as every part of that format was
    assert (
        receiver["plate_material"] == design["plate_material"]
        and mount["plate_material"] == design["ball_mount"]["plate_material"]
    )
    assert job.welding.electrode == design["electrode"]
    marks = {p.family: p.mark for p in families.build(job).parts}
    assert (marks["1/cross tube"], marks["1/receiver"], marks["2/bar"], marks["2/hitch pin"]) == (
        "A",
        "C",
        "G",
        "X2",
    )
    again = file.from_bytes(file.to_bytes(Document(job)))
    assert again.job == job
