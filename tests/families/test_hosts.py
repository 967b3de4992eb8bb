"""The host's own places: by group and face, welded as well as bolted, several hosts for one part."""

import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.job import edit
from urial.job.host import kinds, starting_host
from urial.mates import mating
from urial.mates.host import host_socket, host_sockets
from urial.prove.verdict import prove


@pytest.mark.parametrize("kind", kinds())
def test_every_kind_of_host_offers_its_places(kind):
    found = host_sockets(starting_host(kind))
    wanted = {
        "quad": "frame bolts",
        "two-wheeler": "peg and seat bolts",
        "tractor": "three-point",
        "trailer": "side rail",
        "post": "trunk",
    }.get(kind, "frame rails")
    assert wanted in {s.kind for s in found}
    for s in found:
        for b in s.bolts:
            assert b.metal.t > 0 and abs(sum(x * x for x in b.place.z) - 1) < 1e-9
    with pytest.raises(BuildError, match=r"and a .* has"):
        host_socket(starting_host(kind), "moon rail")


def test_points_of_any_face_make_a_socket_of_their_group(job):
    points = tuple(
        h.model_copy(update={"group": "tow eyes, front", "facing": "front", "behind_mm": -3900.0})
        for h in job.vehicle.left[:1]
    )
    host = job.vehicle.model_copy(
        update={"left": (*job.vehicle.left, *points), "right": (*job.vehicle.right, *points)}
    )
    eyes = host_socket(host, "tow eyes, front")
    assert len(eyes.bolts) == 2 and all(
        b.place.z == (1.0, 0.0, 0.0) and b.place.o[0] == 3900.0 for b in eyes.bolts
    )
    assert (
        len(host_socket(host, "frame rails").bolts) == 6
    )  # and the part that wants the rails keeps off them
    assert (
        families.build(job.with_vehicle(host)).by_key["1/side plate.left"].shape.holes
        == families.build(job).by_key["1/side plate.left"].shape.holes
    )


def test_a_place_nobody_uses_is_refused_by_what_the_host_has():
    with pytest.raises(BuildError, match="wants frame rails, and a post has trunk or post"):
        families.new_job("rear-receiver", "post")
        families.build(families.new_job("rear-receiver", "post"))


def test_welding_to_rails_wants_to_be_allowed_or_answered_for(job):
    welded = edit.put(job, "stack.1.held", "welded")
    with pytest.raises(BuildError, match="not known"):
        families.build(welded)
    with pytest.raises(BuildError, match="maker forbids"):
        families.build(edit.put(welded, "vehicle.rail_welding", "forbidden"))
    answered = edit.put(welded, "vehicle.rail_override", "M. Quill, works engineer, letter of 3 May")
    assert any("M. Quill" in w for w in families.build(answered).warnings)


def test_a_welded_foot_is_judged_by_its_beads_and_says_what_is_not_judged(job):
    welded = job
    for path, value in (
        ("stack.1.held", "welded"),
        ("vehicle.rail_welding", "allowed"),
        ("vehicle.rail_treated", "no"),
    ):
        welded = edit.put(welded, path, value)
    v = prove(welded)
    ids = {c.id for c in v.checks}
    assert "1/rail weld.left: beads" in ids and not any("bolts" in i for i in ids)
    assert (
        len(v.unchecked) == 2
        and all("its maker's to judge" in u.what for u in v.unchecked)
        and not any(p.family.startswith("1/bolt") for p in v.assembly.parts)
    )
    assert any("not judged by any rule" in w for w in v.warnings)
    thick = prove(edit.put(welded, "vehicle.rail_wall_mm", 7.0))
    bead = lambda w: next(c.utilisation for c in w.checks if c.id == "1/rail weld.left: beads")  # noqa: E731
    assert bead(thick) < bead(v)  # the rail's wall counts as base metal


def test_a_part_for_two_hosts_is_judged_on_both(job):
    """The second host is narrower and heavier behind: each check is where it is worse, and its host is
    named.
    """
    other = job.vehicle.model_copy(update={"name": "the spare cab", "rear_kg": 1400.0, "rail_wall_mm": 2.5})
    one, two = prove(job), prove(job.with_vehicle(other))
    both = prove(job.model_copy(update={"hosts": (job.vehicle, other)}))
    single = {
        c.id: max(c.utilisation, next(d.utilisation for d in two.checks if d.id == c.id)) for c in one.checks
    }
    assert {c.id: c.utilisation for c in both.checks} == pytest.approx(single)
    rail = next(c for c in both.checks if c.id == "1/rail bolts.left: holes in host")
    assert rail.name.endswith("on the spare cab")
    with pytest.raises(BuildError, match="On Post: A rear receiver does not go on a post"):
        prove(
            job.model_copy(
                update={"hosts": (job.vehicle, starting_host("post").model_copy(update={"name": "Post"}))}
            )
        )


def test_an_open_weld_rates_nothing(job):
    from dataclasses import replace

    from tests.assembly.trial import TRIALS, judged

    a, loads = TRIALS["clamp"]()
    j = a.joint_by_key["1/upright weld"]
    tacked = replace(
        a, joints=tuple(replace(x, how=replace(x.how, state="tacked")) if x is j else x for x in a.joints)
    )
    checks, unknown, _ = judged(tacked, loads)
    assert "1/upright weld: beads" not in checks and any("tacked" in u.what for u in unknown)


def test_every_piece_that_goes_on_another_finds_a_mate_by_the_kind_of_its_socket():
    wanted = {f.on for f in families.families().values() if not f.on_host}
    assert wanted and wanted <= set(mating.kinds())


def test_a_mate_is_known_by_registering_and_only_once(monkeypatch):
    monkeypatch.setattr(mating, "_MATES", {k: mating._MATES[k] for k in mating.kinds()})
    built = families.build(families.new_job("ball-mount"))
    bore = next(s for s in built.sockets if s.kind == "receiver")
    guest = mating.Guest(None, None, "9", "lamp bar", 0.0, None, "")
    rack = type(bore)("1/rack", "dovetail", bore.part, bore.place)
    said = mating.mate(rack, guest)
    assert isinstance(said, mating.Refusal)
    assert said.words == "Nothing is known that holds a lamp bar on a dovetail; pieces go on: receiver."

    @mating.mates("dovetail")
    def slid_in(socket, guest):
        return mating.Mated((), 0.25, (f"{guest.called} slides in {socket.key}",))

    assert mating.mate(rack, guest).warnings == ("lamp bar slides in 1/rack",)
    with pytest.raises(ValueError, match="have a mate already"):
        mating.mates("dovetail")(slid_in)


def test_a_place_with_nothing_long_says_so(job):
    with pytest.raises(BuildError, match="frame rails, rear is nothing long"):
        host_socket(job.vehicle, "frame rails").the_line()
