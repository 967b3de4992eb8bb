"""The shop's own kinds of part: kept, offered, shared, opened safely, named when they no longer load."""

import json

import pytest

from urial import families
from urial.families import _shop as shop
from urial.families import _stack as stack
from urial.job import edit
from urial.prove.offers import offers
from urial.prove.verdict import prove


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_STATE_DIR", str(tmp_path / "state"))


@pytest.fixture
def changed():
    job = families.new_job("flat-carrier")
    job = edit.put(job, "stack.2.wide_mm", 420.0)
    return edit.write(job, "stack.2.high_mm", "= wide / 2 - 40 mm")


def test_a_changed_piece_is_kept_and_offered_like_the_others(changed):
    shop.keep(shop.kind_of(changed, "2", "Saw plate", "For the cutter box."))
    bare = stack.take_off(changed, "2")
    place = next(o for o in stack.open_places(bare, families.build(bare)) if o.kind == "receiver")
    found = [o for o in offers(bare, place) if o.shop is not None]
    assert [o.family.title for o in found] == ["Saw plate"] and found[0].fits
    job = found[0].job
    assert edit.get(job, "stack.2.high_mm") == pytest.approx(170.0)
    assert edit.get(edit.put(job, "stack.2.wide_mm", 500.0), "stack.2.high_mm") == pytest.approx(210.0)
    assert prove(job).verdict == prove(changed).verdict
    assert shop.sketch(found[0].shop).parts


def test_a_job_with_one_opens_where_it_is_not_known(changed, tmp_path):
    from urial.job.file import Document, load, save

    kind = shop.kind_of(changed, "2", "Saw plate")
    job = shop.put_on(stack.take_off(changed, "2"), kind, "1", "1/receiver")
    save(tmp_path / "a.urial", Document(job))
    assert load(tmp_path / "a.urial").job == job


def test_one_goes_out_as_a_file_and_comes_in_again(changed, tmp_path):
    kind = shop.kind_of(changed, "2", "Saw plate")
    (tmp_path / kind.file).write_bytes(shop.as_bytes(kind))
    assert shop.read((tmp_path / kind.file).read_bytes()) == kind
    assert shop.shelf().kinds == ()


@pytest.mark.parametrize(
    "data, words",
    [
        (b"", "is damaged"),
        (b"\xff\xfe\x00", "is damaged"),
        (b"[1, 2]", "is not a kind of part"),
        (b'{"piece": 3}', "is not a kind of part"),
        (b"[" * 20_000, "is damaged"),
        (b'{"format": 9, "piece": {}}', "of a later version"),
        (
            b'{"format": 1, "title": "x", "piece": {"id": "1", "values": {"family": "warp"}}}',
            "not known",
        ),
        (b" " * 1_000_001, "larger than"),
    ],
)
def test_a_strangers_file_is_refused_in_a_sentence(data, words):
    with pytest.raises(shop.ShopError, match=words) as refused:
        shop.read(data, "thing.urial-kind")
    assert "\n" not in str(refused.value) and str(refused.value).endswith(".")


def test_a_hostile_formula_in_one_runs_nothing(changed):
    raw = json.loads(shop.as_bytes(shop.kind_of(changed, "2", "Saw plate")))
    raw["piece"]["formulas"] = [{"size": "high_mm", "text": "= __import__('os').system('touch /tmp/x')"}]
    kind = shop.read(json.dumps(raw).encode())
    job = shop.put_on(stack.take_off(changed, "2"), kind, "1", "1/receiver")
    v = prove(job)
    assert any("formula does not fit" in w for w in v.warnings)
    assert edit.get(job, "stack.2.high_mm") == edit.get(changed, "stack.2.high_mm")


def test_one_that_no_longer_loads_is_kept_and_named(changed):
    path = shop.keep(shop.kind_of(changed, "2", "Saw plate"))
    good = shop.keep(shop.kind_of(changed, "2", "Other plate"))
    raw = json.loads(path.read_bytes())
    raw["piece"]["values"]["wide_mm"] = -4
    path.write_bytes(json.dumps(raw).encode())
    here = shop.shelf()
    assert [k.title for k in here.kinds] == ["Other plate"] and good.exists() and path.exists()
    assert here.lost[0][0] == path.name and "saw-plate.urial-kind does not load" in here.lost[0][1]


def test_odd_ones_on_the_shelf_are_named_and_take_nothing_with_them(changed):
    """A figure of 5 000 digits, a title that no file can be named by, a whole page of nothing."""
    good = shop.kind_of(changed, "2", "Good one")
    shop.keep(good)
    raw = json.loads(shop.as_bytes(good))
    odd = {
        "digits": shop.as_bytes(good).replace(b'"format": 1', b'"format": ' + b"9" * 5000),
        "bang": json.dumps({**raw, "title": "!!!"}).encode(),
        "infinite": shop.as_bytes(good).replace(b'"format": 1', b'"format": 1e999'),
        "null": b"null",
    }
    for name, data in odd.items():
        (shop.folder() / f"{name}{shop.ENDING}").write_bytes(data)
    here = shop.shelf()
    assert [k.title for k in here.kinds] == ["Good one"]
    assert sorted(n for n, _ in here.lost) == sorted(f"{n}{shop.ENDING}" for n in odd)
    assert all(why.endswith(".") or ";" in why for _, why in here.lost)


@pytest.mark.parametrize("title", ["../../etc/passwd", "a/b", "..", "x" * 60, "Säge 2"])
def test_no_name_leads_out_of_the_shelf(changed, title):
    try:
        at = shop.keep(shop.kind_of(changed, "2", title))
    except shop.ShopError as refusal:
        assert "no letter or figure" in str(refusal)
        return
    assert at.parent == shop.folder() and at.exists()


def test_names_that_are_taken_or_empty_are_refused(changed):
    with pytest.raises(shop.ShopError, match="a kind called “Flat carrier” already"):
        shop.kind_of(changed, "2", "flat carrier".capitalize())
    with pytest.raises(shop.ShopError):
        shop.kind_of(changed, "2", "   ")


def test_a_piece_that_follows_another_is_not_kept_with_a_loose_end(changed):
    job = edit.write(changed, "stack.2.high_mm", "= 1.drop + 60 mm")
    with pytest.raises(shop.ShopError, match="follows another piece"):
        shop.kind_of(job, "2", "Saw plate")


def test_a_job_begins_with_one_by_its_name_changes_and_all(changed, tmp_path, capsys):
    from urial.cli import main
    from urial.job.change import HoleIn, Pick
    from urial.job.file import load

    hole = HoleIn(at=Pick(part="plate", along_mm=60.0, across_mm=60.0, face="front"), diameter_mm=30.0)
    job = edit.put(changed, "stack.2.changes", (hole,))
    kind = shop.kind_of(job, "2", "Saw plate")
    shop.keep(kind)
    assert main(["families"]) == 0
    assert "shop:saw-plate  Saw plate  carry" in capsys.readouterr().out
    out = tmp_path / "a.urial"
    assert main(["new", "shop:saw-plate", "-o", str(out), "--set", "reach=260mm"]) == 0
    made = load(out).job
    assert made.title == "Saw plate" and made.stack[1].changes == (hole,)
    assert edit.get(made, "stack.2.reach_mm") == 260.0 and edit.get(made, "stack.2.high_mm") == 170.0
    assert main(["new", "shop:no-such", "-o", str(out)]) == 2
    assert "no kind of its own called" in capsys.readouterr().err
    assert any(len(p.shape.holes) > 4 for p in shop.sketch(kind).parts if hasattr(p.shape, "holes"))
