import pytest

from urial import families
from urial.assembly.model import BarShape, BuildError, PlateShape
from urial.job import edit
from urial.job.file import load
from urial.shop.parts import parts_list
from urial.strength.verdict import prove


def changed(job, **values):
    for path, value in values.items():
        job = edit.put(job, path.replace("__", "."), value)
    return job


def test_the_tube_is_cut_to_the_space_between_the_plates(job):
    assert [r.cut_length_mm for r in parts_list(families.build(job)) if r.mark == "A"] == [pytest.approx(960)]
    inside = changed(job, design__plates_on="inside")
    assert [r.cut_length_mm for r in parts_list(families.build(inside)) if r.mark == "A"] == [pytest.approx(960 - 2 * 12.7)]


def test_heights_follow_the_tape(job):
    a = families.build(job)
    assert a.places["mouth"] == pytest.approx((-1180, 0, 545 - 120))
    assert a.places["pin"][0] == pytest.approx(-1180 + 63.5)
    assert a.places["ball"][0] == pytest.approx(-1180 + 63.5 - 235)
    assert a.places["ball_seat"][2] == pytest.approx(425 + 25.4 - 50)
    rise = families.build(changed(job, design__ball_mount__shape="rise"))
    assert rise.places["ball_seat"][2] == pytest.approx(425 + 25.4 + 50)


def test_equal_sides_are_a_mirror_pair_and_unequal_ones_are_two_plates(job):
    rows = {r.mark: r for r in parts_list(families.build(job))}
    assert rows["B"].mirror and rows["B"].qty == 2
    right = (job.vehicle.right[0].model_copy(update={"behind_mm": 908.0}), *job.vehicle.right[1:])
    rows = {r.mark: r for r in parts_list(families.build(changed(job, vehicle__right=right)))}
    assert "B" not in rows and not rows["BL"].mirror and rows["BR"].qty == 1


def test_the_holes_of_the_plate_are_where_they_were_measured(job):
    plate = families.build(job).part("BL").shapes[0]
    assert isinstance(plate, PlateShape)
    assert [(u, v) for u, v, _ in plate.holes] == [(-905, 607), (-985, 607), (-1065, 607)]
    assert all(d == 14 for _, _, d in plate.holes)


def test_hardware_is_counted(job):
    rows = {r.name: r for r in parts_list(families.build(job)) if r.hardware}
    bolts = next(r for n, r in rows.items() if n.startswith("bolt"))
    washers = next(r for n, r in rows.items() if n.startswith("washer"))
    assert (bolts.qty, washers.qty) == (6, 12)
    assert 0.03 < bolts.mass_kg / 6 < 0.08  # an M12 × 35 screw weighs about 45 g


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"design__ball_mount__bar": "square 2 1/2"}, "wider than"),
        ({"design__hole_edge_mm": 5.0}, "edge"),
        ({"design__bolt": "M20"}, "does not go through"),
        ({"vehicle__rail_spacing_mm": 160.0, "design__receiver": "3", "design__chain_width_mm": 230.0}, "Rail spacing"),
        ({"design__receiver_length_mm": 150.0}, "ends under the cross tube"),
        ({"design__mouth_to_tube_mm": 12.0}, "mouth"),
        ({"design__drop_mm": 600.0}, "ground"),
        ({"design__mount": "through", "design__cross_tube": "2 1/2x2 1/2x1/4"}, "taller tube"),
        ({"design__chain_spacing_mm": 189.0}, "breaks out"),
        ({"design__chain_spacing_mm": 60.0}, "under the receiver"),
        ({"design__ball_mount__pin_to_ball_mm": 70.0}, "runs into"),
        ({"design__cross_tube": "2 od x 0.250"}, "not a square"),
        ({"design__plate_outline": ((900.0, 620.0), (1100.0, 620.0), (1100.0, 380.0), (1000.0, 380.0))}, "outside the plate|hangs over"),
        ({"vehicle__rail_height_mm": 60.0}, "not in the rail"),
        ({"design__ball_mount__ball_drop_mm": 10.0}, "thick"),
        ({"design__gusset_along_mm": 300.0}, "gusset"),
    ],
)  # fmt: skip
def test_what_does_not_go_together_is_refused_in_a_sentence(job, values, says):
    with pytest.raises(BuildError, match=says) as refusal:
        families.build(changed(job, **values))
    assert str(refusal.value).endswith(".") and "\n" not in str(refusal.value)


def test_an_own_outline_is_used(job):
    own = ((860.0, 650.0), (1110.0, 650.0), (1110.0, 560.0), (1040.0, 420.0), (920.0, 420.0), (860.0, 560.0))
    plate = families.build(changed(job, design__plate_outline=own)).part("BL").shapes[0]
    assert len(plate.outline) == 6


def test_one_bolt_a_side_swings(job):
    one = changed(job, vehicle__left=job.vehicle.left[:1], vehicle__right=job.vehicle.right[:1], proof__foot="bolts")
    with pytest.raises(BuildError, match=r"mechanism|turn"):
        prove(one)


def test_every_receiver_size_builds_with_its_bar(job):
    for size, bar in (("1 1/4", "square 1 1/4"), ("2", "square 2"), ("2 1/2", "square 2 1/2"), ("3", "3x3x3/8")):
        a = families.build(changed(job, design__receiver=size, design__ball_mount__bar=bar, design__cross_tube="4x4x1/4", design__chain_width_mm=230.0, design__chain_spacing_mm=170.0))
        assert isinstance(a.part("C").shapes[0], BarShape)


def test_the_demo_jobs_open_and_say_what_they_promise():
    from urial.desk.start import demo_jobs

    verdicts = [prove(load(path).job) for path, _, _ in demo_jobs()]
    assert verdicts[0].holds and not verdicts[1].holds


def test_families_are_found_and_an_unknown_one_is_named():
    assert "rear-receiver" in families.families()
    with pytest.raises(BuildError, match="rear-receiver"):
        families.new_job("front-loader")
