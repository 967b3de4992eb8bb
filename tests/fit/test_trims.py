"""What is cut or taken off the host: the slot is the slot, and what goes with it is asked and listed."""

import math

import ezdxf
import pytest
from manifold3d import Manifold

from urial import families
from urial.assembly.bodies import total_mass
from urial.fit import fit
from urial.job.model import Waiver
from urial.job.survey import Block, Drum
from urial.measure import keepout
from urial.measure.keepout import clashes, cut_out, cut_plate, cuts
from urial.papers.packet import packet
from urial.prove.verdict import prove

_NEW = families.new_job("rear-receiver")
JOB = _NEW.with_values(
    "1", _NEW.stack[0].values.model_copy(update={"mouth_to_tube_mm": 180.0, "gusset_along_mm": 85.0})
)


def skin(**changes):
    """A bumper's skin across the receiver's way."""
    return Block(
        **{
            "name": "skin",
            "behind_mm": 1100,
            "long_mm": 150,
            "wide_mm": 1500,
            "height_mm": 430,
            "high_mm": 180,
            "margin_mm": 5,
            "cut_wide_mm": 160,
            "cut_deep_mm": 140,
            **changes,
        }
    )


def with_things(*keeps):
    return JOB.model_copy(update={"survey": JOB.survey.model_copy(update={"keep_outs": keeps})})


def looked(job):
    return fit(job, moves=False)


@pytest.mark.parametrize("side", ["under", "top", "rear", "front", "left", "right"])
@pytest.mark.parametrize("r", [0.0, 25.0])
def test_a_slot_takes_away_its_own_area_times_what_it_goes_through(side, r):
    keep = skin(fate="cut", cut_from=side, cut_wide_mm=80, cut_deep_mm=60, cut_round_mm=r)
    gone = keepout.solid(keep.model_copy(update={"fate": "stays"}), JOB.vehicle).volume()
    gone -= keepout.solid(keep, JOB.vehicle).volume()
    through = {"under": 150, "top": 150, "rear": 180, "front": 180, "left": 180, "right": 180}[side]
    area = 80 * 60 - 2 * (1 - math.pi / 4) * r * r  # two round corners
    assert gone == pytest.approx(area * through, rel=2e-3)
    (cut,) = cuts(keep)
    inside = Manifold.sphere(1.0, 12).translate([m - 5 * o for m, o in zip(cut.mouth, cut.out, strict=True)])
    assert (cut_out(keep) ^ inside).volume() == pytest.approx(inside.volume())


def test_a_cut_that_would_take_all_of_it_is_not_made_and_says_so():
    keep = skin(fate="cut", cut_wide_mm=5000, cut_deep_mm=5000)
    assert keepout.solid(keep, JOB.vehicle).volume() == pytest.approx(150 * 1500 * 180)
    assert any("would take all of the skin" in f for f in looked(with_things(keep)).facts)


def test_a_pair_is_cut_on_both_sides_alike():
    keep = skin(fate="cut", cut_at_mm=-300, cut_pair=True, cut_wide_mm=60, cut_deep_mm=50)
    left, right = cuts(keep)
    assert (left.side, right.side) == ("left", "right") and left.mouth[1] == -right.mouth[1] == 300
    away = cut_out(keep)
    assert (away ^ away.mirror([0, 1, 0])).volume() == pytest.approx(away.volume())


def test_what_ran_into_the_part_no_longer_does_once_it_is_cut_or_gone():
    stays, cut = with_things(skin()), with_things(skin(fate="cut"))
    build = families.build(JOB)
    assert any(c.volume_mm3 > 0 for c in clashes(stays, build))
    assert not any(c.volume_mm3 > 0 for c in clashes(cut, build))
    assert clashes(with_things(skin(fate="gone")), build) == ()
    facts = looked(cut).facts
    assert any("ran into it before and now keeps" in f for f in facts)
    assert any("cut from below, 160 mm wide" in f and "not undone" in f for f in facts)


def test_what_comes_off_to_fit_is_back_when_it_is_done():
    off = with_things(skin(fate="off", off_kg=3.0))
    found = looked(off)
    assert any(
        f.id.startswith("keep-out skin") for f in found.findings
    )  # it runs into the part once it is back
    assert not any("“skin” is in the way" in f.words for f in found.findings)  # and bars no tool before
    assert any("comes off; it goes back on after" in f for f in found.facts)


def test_what_it_was_good_for_is_asked_until_it_is_said_or_waived():
    step = Drum(
        name="step", behind_mm=1500, height_mm=300, axis="across", fate="gone", good_for="step", off_kg=6
    )
    lost = [f for f in looked(with_things(step)).findings if f.id == "lost step"]
    assert len(lost) == 1 and "was a step and comes off for good" in lost[0].words
    x, _, z = lost[0].at
    assert x == pytest.approx(-1500, abs=200) and z == pytest.approx(300, abs=100)  # where it stood
    cut = Block(name="lip", fate="cut", good_for="plate", cut_from="under", cut_wide_mm=60, cut_deep_mm=40)
    (plate,) = [f for f in looked(with_things(cut)).findings if f.id == "lost lip"]
    assert "was a number plate and is cut, and nothing is said to do that" in plate.words
    said = step.model_copy(update={"instead": "a step plate on the carrier"})
    assert not [f for f in looked(with_things(said)).findings if f.id == "lost step"]
    waived = with_things(step).model_copy(
        update={"waived": (Waiver(finding="lost step", reason="never used"),)}
    )
    (kept,) = [f for f in looked(waived).findings if f.id == "lost step"]
    assert kept.waived == "never used"
    weight = next(f for f in looked(with_things(step)).facts if "come off the vehicle" in f)
    assert f"{total_mass(families.build(JOB)):.1f} kg go on" in weight and weight.startswith("6.0 kg")


def test_metal_left_beside_a_hole_is_measured_in_what_is_cut():
    """The rail's holes seen as holes of a plate that is cut from the rear: 40 mm ahead of its mouth."""
    x, y, z = JOB.vehicle.place("left", 2)
    assert x == min(JOB.vehicle.place("left", n)[0] for n in range(3))
    plate = {
        "behind_mm": -x - 200,
        "long_mm": 300,
        "across_mm": y,
        "wide_mm": 20,
        "height_mm": z - 60,
        "high_mm": 120,
    }
    far = skin(
        fate="cut", cut_from="rear", cut_at_mm=y, cut_wide_mm=18, cut_deep_mm=60, cut_round_mm=0, **plate
    )
    # the mouth is 100 mm behind the hole's middle, the slot 60 deep: 40 mm are left, 1.5 × 14 wanted
    found = looked(with_things(far))
    assert any("leaves 40 mm to the middle of the left hole 3" in f for f in found.facts)
    near = far.model_copy(update={"cut_deep_mm": 85.0})
    (short,) = [f for f in looked(with_things(near)).findings if f.id == "cut skin | left hole 3"]
    assert short.kind == "hole" and short.amount == pytest.approx(1.5 * 14 - 15, abs=0.3)


def test_the_packet_lists_it_and_has_a_template_for_each_side(tmp_path):
    job = with_things(skin(fate="cut", cut_at_mm=300, cut_pair=True, cut_wide_mm=60, cut_deep_mm=50))
    files = packet(prove(job)).files
    assert {"plate-cut-1-left.dxf", "plate-cut-1-right.dxf"} <= set(files)
    path = tmp_path / "a.dxf"
    path.write_bytes(files["plate-cut-1-left.dxf"])
    (ring,) = ezdxf.readfile(path).modelspace().query('LWPOLYLINE[layer=="OUTLINE"]')
    points = [(p[0], p[1]) for p in ring]
    assert max(p[0] for p in points) - min(p[0] for p in points) == pytest.approx(60)
    assert max(p[1] for p in points) - min(p[1] for p in points) == pytest.approx(50)
    import pypdfium2

    text = "".join(p.get_textpage().get_text_range() for p in pypdfium2.PdfDocument(files["packet.pdf"]))
    assert "Taken off or cut for it" in text and "both sides" in text
    sheets = "".join(p.get_textpage().get_text_range() for p in pypdfium2.PdfDocument(files["templates.pdf"]))
    assert "Template cut 1 left" in sheets and "to the right of the host" in sheets.replace("\r\n", " ")


@pytest.mark.parametrize("r", [0.0, 12.0, 25.0, 60.0])
def test_a_template_has_the_slots_own_area(r):
    from urial.geometry.outline import area

    keep = skin(cut_wide_mm=50, cut_deep_mm=40, cut_round_mm=r)
    round_ = min(r, 25.0)
    assert area(cut_plate(keep).outline) == pytest.approx(50 * 40 - 2 * (1 - math.pi / 4) * round_**2)
