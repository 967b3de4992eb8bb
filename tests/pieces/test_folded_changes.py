"""Changes on a bent plate: what goes on to its rim, a second bend, what is refused, the papers."""

import io

import ezdxf
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.geometry import folded, solids
from urial.geometry.outline import bounds
from urial.geometry.place import dot, minus, norm
from urial.job import edit
from urial.job.change import BendIn, GussetIn, HoleIn, Pick, PlateOn, WindowIn
from urial.making.parts import parts_list
from urial.measure.snaps import snaps
from urial.papers.packet import packet
from urial.pieces.changes import on_part, pick_at
from urial.prove.verdict import prove

SIZES = {"rim_mm": 0.0, "high_mm": 420.0}
BEND = BendIn(
    at=Pick(part="plate", along_mm=250.0, across_mm=90.0, edge="far", face="back"),
    angle_deg=90.0,
    inside_mm=10.0,
)

SIDE = Pick(part="plate", along_mm=60.0, across_mm=200.0, face="front")


def rim(across=40.0, along=150.0, face="front"):
    return Pick(part="plate", along_mm=along, across_mm=across, edge="far", face=face)


def bent(*changes, family="flat-carrier"):
    job = families.new_job(family)
    for key, value in SIZES.items():
        job = edit.put(job, edit.find_path(job, key), value)
    number = next(p.id for p in job.stack if p.family == family)
    return families.with_marks(edit.put(job, f"stack.{number}.changes", (BEND, *changes)))


def built(*changes):
    a = families.build(bent(*changes))
    said = [w for w in a.warnings if w.startswith("Change")]
    return a, a.by_key["2/plate"], said


def test_a_hole_in_the_rim_goes_through_the_rim():
    a, plate, said = built(HoleIn(at=rim(), diameter_mm=12.0))
    assert not said
    u, v, _ = plate.shape.holes[-1]
    way = folded.frame_at(plate.shape, u, v)
    assert abs(dot(way.z, (0, 0, 1))) < 1e-9  # its axis lies along the plate that was not bent
    _, whole, _ = built()
    lost = solids.volume(whole.shape) - solids.volume(plate.shape)
    assert lost == pytest.approx(3.14159 * 36 * plate.shape.t, rel=0.01)
    at = middle(plate, u, v)
    assert at in [x.at for x in snaps(a, bent().vehicle) if x.words == "a hole of the plate"]
    assert at[2] > plate.flat_place.point((0, 0, 0))[2]


def middle(plate, u, v):
    return plate.flat_place.point(folded.point_at(plate.shape, u, v, plate.shape.t / 2))


def test_an_eye_stood_on_the_rim_is_carried_round_the_bend():
    eye = PlateOn(at=rim(), long_mm=60.0, high_mm=60.0, hole_mm=20.0, pin_mm=18.0)
    a, plate, said = built(eye)
    assert not said
    stood = a.by_key["2/added plate.2"]
    up = stood.place.vector(stood.shape.place.y)
    flange = plate.flat_place @ folded.frame_at(plate.shape, *folded_at(plate, stood)[:2])
    assert dot(up, flange.z) == pytest.approx(1.0)  # square on the rim's front
    overlap = solids.solid(stood.shape) ^ solids.solid(plate.shape)
    assert overlap.volume() < 1.0
    assert any(s.key.endswith("added ring.2") for s in a.sockets)


def folded_at(plate, part):
    return folded.unfolded(plate.shape, plate.flat_place.local(part.place.point(part.shape.place.o)))


def test_a_gusset_stands_in_the_corner_of_a_bend():
    gusset = GussetIn(
        at=Pick(part="plate", along_mm=300.0, across_mm=160.0, edge="far", face="back"),
        to=Pick(part="plate", along_mm=300.0, across_mm=20.0, edge="far", face="back"),
    )
    a, plate, said = built(gusset)
    assert not said and "2/added gusset.2" in a.by_key
    v = prove(bent(gusset))
    assert {c.id for c in v.checks if "added gusset first weld.2" in c.id}
    assert {c.id for c in v.checks if "added gusset second weld.2" in c.id}
    for joint in (j for j in a.joints if "added gusset" in j.key):
        for run in joint.how.runs:
            w = folded.unfolded(plate.shape, plate.flat_place.local(run.a))[2]
            assert min(abs(w), abs(w - plate.shape.t)) < 1e-6  # the beads lie on the plate's faces


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (HoleIn(at=rim(85.0), diameter_mm=12.0), "lies in a bend of the plate"),
        (HoleIn(at=rim(65.0), diameter_mm=12.0), "runs into a bend of the plate"),
        (WindowIn(at=rim(), long_mm=20.0, wide_mm=70.0), "runs into a bend of the plate|leaves less"),
        (PlateOn(at=rim(60.0), long_mm=60.0, high_mm=60.0, turned=True), "reaches into a bend of the plate"),
        (
            BendIn(
                at=Pick(part="plate", along_mm=60.0, across_mm=200.0, face="front"),
                angle_deg=60.0,
                inside_mm=10.0,
            ),
            "runs into another bend of the plate",
        ),
    ],
)
def test_what_would_lie_in_a_bend_is_refused(change, why):
    _, plate, said = built(change)
    assert len(said) == 1 and len(plate.shape.folds) == 1
    assert any(w in said[0] for w in why.split("|")), said


@pytest.mark.parametrize("at", [rim(40.0), rim(60.0, face="back")])
def test_a_second_bend_in_the_rim_is_made_first(at):
    _, plate, said = built(BendIn(at=at, angle_deg=45.0, inside_mm=10.0))
    assert not said and len(plate.shape.folds) == 2
    outer, inner = plate.shape.folds
    assert outer.a[1] > inner.a[1]  # the one nearer to the edge
    body = solids.solid(plate.shape)
    assert body.volume() == pytest.approx(solids.volume(plate.shape), rel=0.02)


def test_a_bend_farther_in_takes_the_bent_rim_with_it():
    _, plate, said = built(BendIn(at=rim(130.0, face="back"), angle_deg=45.0, inside_mm=10.0))
    assert not said
    outer, inner = plate.shape.folds
    assert outer.a[1] > inner.a[1]
    top = folded.frame_at(plate.shape, 0.0, bounds(plate.shape.outline)[3] - 5.0)
    base = folded.frame_at(plate.shape, 0.0, bounds(plate.shape.outline)[1] + 5.0)
    assert abs(dot(top.z, base.z)) == pytest.approx(0.7071, abs=1e-3)  # 45° + 90°, both the same way
    assert dot(top.z, base.z) < 0
    _, once, _ = built()
    hub = once.flat_place.point((0.0, 0.0, 0.0))
    assert base.z == pytest.approx((0, 0, 1)) and norm(minus(hub, once.flat_place.o)) < 1e-6


@given(st.floats(5, 495), st.floats(5, 415), st.sampled_from(["front", "back"]))
def test_a_pick_on_a_bent_plate_means_the_place_it_was_made_at(along, across, face):
    _, plate, _ = built()
    pick = Pick(part="plate", along_mm=along, across_mm=across, face=face)
    u0, v0, _, _ = bounds(plate.shape.outline)
    if folded.in_bend(plate.shape, u0 + along, v0 + across) is not None:
        return
    spot = on_part(plate, pick)
    again = pick_at(plate, spot.point, spot.normal)
    assert again is not None and again.face == face
    there = on_part(plate, again)
    assert norm(minus(there.point, spot.point)) < 0.1 and there.normal == pytest.approx(spot.normal)


def test_the_papers_say_where_and_how_it_is_bent():
    made = packet(prove(bent()))
    text = "\n".join(pages(made.files["packet.pdf"]))
    text = " ".join(text.split())
    # 90° about R 10 in 3/8 in: (10 + 0.40 · 9.525) · π/2 = 21.7 mm lie between its two lines
    assert (
        "bend 90.0°, inside R 10 mm, to its other line 21.7 mm" in text and "goes down, away from you" in text
    )
    assert any(
        "bend 1: 90° DOWN, away from you, 10 mm inside radius" in p
        for p in pages(made.files["templates.pdf"])
    )
    mark, ends = next((r.mark, r.ends) for r in parts_list(families.build(bent())) if r.name == "plate")
    assert ends == "bent once"
    drawing = ezdxf.read(io.StringIO(made.files[f"plate-{mark}.dxf"].decode()))
    words = [e.dxf.text for e in drawing.modelspace() if e.dxftype() == "TEXT"]
    assert any(w.startswith("bend 1: 90° DOWN") for w in words) and any("bent once" in w for w in words)


def pages(pdf):
    document = pypdfium2.PdfDocument(pdf)
    return [document[n].get_textpage().get_text_range() for n in range(len(document))]
