"""What stands round bolts, by hand: metal to the next hole, edges that bear, blocks that tear out."""

import math
import re

import numpy as np
import pytest
from shapely.geometry import LineString, Polygon

from tests.assembly.trial import foot, judged, start
from urial import families
from urial.assembly import facts
from urial.assembly.build import Takes
from urial.assembly.marks import marked
from urial.assembly.model import Bolts
from urial.geometry import profile
from urial.geometry.outline import rectangle
from urial.geometry.place import Place
from urial.geometry.shape import Plate
from urial.loads import classes
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import bolts
from urial.strength.checks import bolts as checks

SQUARE = np.array([[0.0, 0.0], [300.0, 0.0], [300.0, 100.0], [0.0, 100.0]])


def layer(corners=SQUARE, hole=18.0, n=3):
    return checks._Layer("x", "A", "x", corners, np.full(n, hole), np.full(n, 10.0), np.full(n, 400.0), 1.0)


def test_a_bolt_has_metal_to_the_next_hole_or_to_the_edge_whichever_it_is_pushed_at():
    """Holes of 18 mm at 40, 100 and 160 mm: 60 − 18 between them, 300 − 160 − 9 from the last to the edge."""
    holes = np.array([[40.0, 50.0], [100.0, 50.0], [160.0, 50.0]])
    ahead = checks._clear(layer(), holes, np.array([[[1.0, 0.0]] * 3]))[0]
    assert ahead == pytest.approx([42.0, 42.0, 131.0])
    back = checks._clear(layer(), holes, np.array([[[-2.0, 0.0]] * 3]))[0]
    assert back == pytest.approx([31.0, 42.0, 42.0])
    up = checks._clear(layer(), holes, np.array([[[0.0, 1.0]] * 3]))[0]
    assert up == pytest.approx([41.0, 41.0, 41.0])


def test_a_hole_beside_the_way_is_met_by_less_of_its_width():
    """6 mm off the line of a hole of 18 mm: its edge there is √(81 − 36) from its middle."""
    holes = np.array([[40.0, 50.0], [100.0, 56.0]])
    ahead = checks._clear(layer(n=2), holes, np.array([[[1.0, 0.0]] * 2]))[0]
    assert ahead[0] == pytest.approx(60 - math.sqrt(81 - 36) - 9)
    past = checks._clear(layer(n=2), np.array([[40.0, 50.0], [100.0, 60.0]]), np.array([[[1.0, 0.0]] * 2]))[0]
    assert past[0] == pytest.approx(300 - 40 - 9)  # it passes that hole by


def test_no_metal_counts_as_half_a_millimetre():
    holes = np.array([[295.0, 50.0]])
    assert checks._clear(layer(n=1), holes, np.array([[[1.0, 0.0]]]))[0, 0] == 0.5


@pytest.mark.parametrize("family", ["recovery-point", "rear-receiver", "post-mount", "front-receiver"])
def test_a_block_tears_out_by_hand(family):
    """J4-5 in the four directions of the plate: sheared both sides from the farthest bolt to the edge, torn
    across between the outer bolts; holes taken 2 mm wider."""
    v = prove(families.new_job(family))
    for j in v.assembly.joints:
        if not isinstance(j.how, Bolts) or f"{j.key}: block shear" not in {c.id for c in v.checks}:
            continue
        part = v.assembly.by_key[j.a]
        plate = Polygon(np.asarray(facts.plate_corners(part, j.place)).reshape(-1, 2))
        h, d, t = np.array(j.how.holes), j.how.hole_d + 2, facts.thickness(part)
        steel = facts.softened(part, v.assembly)
        force = v.forces.own(j, j.place.point((*(float(x) for x in h.mean(axis=0)), 0.0)))[0]
        used = np.zeros(len(v.cases))
        for axis, sign in ((0, 1), (0, -1), (1, 1), (1, -1)):
            way = np.array([sign if axis == 0 else 0, sign if axis == 1 else 0])
            lengths = []
            for p in h:
                hit = LineString([p, p + 1e4 * way]).intersection(plate.exterior)
                lengths.append(min(math.dist(p, q.coords[0]) for q in getattr(hit, "geoms", [hit])))
            length = max(lengths)
            across = float(np.ptp(h[:, 1 - axis]))
            n_across, n_along = (len({round(x / 5) for x in h[:, k]}) for k in (1 - axis, axis))
            net = max(across - (n_across - 1) * d, 0.0) if across > 0 else 0.0
            pull = steel.Fu * net * t
            shear = min(
                0.6 * steel.Fu * max(2 * (length - (n_along - 0.5) * d), 0.0) * t,
                0.6 * steel.Fy * 2 * length * t,
            )
            used = np.maximum(used, np.clip(sign * force[:, axis], 0, None) / max((shear + pull) / 2, 1.0))
        c = next(c for c in v.checks if c.id == f"{j.key}: block shear")
        assert c.by_case == pytest.approx(used, rel=1e-6), j.key


def test_a_plate_bears_as_far_as_both_metals_go_and_half_a_bolt_at_least():
    v = prove(families.new_job("rear-receiver"))
    j = v.assembly.joint_by_key["1/rail bolts.left"]
    part = v.assembly.by_key[j.a]
    corners = np.asarray(facts.plate_corners(part, j.place)).reshape(-1, 2)
    host = np.array(j.how.host_face) if j.how.host_face else corners
    middle = np.array(j.how.holes).mean(axis=0)
    low = np.maximum(corners.min(axis=0), host.min(axis=0)) - middle
    high = np.minimum(corners.max(axis=0), host.max(axis=0)) - middle
    found = checks._bearing_edges(j, j.how, part)
    d = j.how.bolt.diameter
    assert found == pytest.approx([max(x, d / 2) for x in (-low[0], high[0], -low[1], high[1])])


@pytest.mark.parametrize(("apart", "said_so"), [(2.55, True), (2.8, False)])
def test_two_holes_nearer_than_the_code_likes_are_said(apart, said_so):
    """2.55 diameters apart: more than a diameter of metal between them, and less than 2.67 (J3.3)."""
    job = families.new_job("rear-receiver")
    d = catalogue.bolt(job.stack[0].values.bolt).diameter
    gap = round(apart * d)
    behind = (905.0, 905.0 + gap, 1065.0)
    near = tuple(
        p.model_copy(update={"behind_mm": x}) for p, x in zip(job.vehicle.left, behind, strict=False)
    )
    host = job.vehicle.model_copy(update={"left": near, "right": near})
    said = " ".join(prove(job.model_copy(update={"hosts": (host,)})).warnings)
    assert (f"holes are {gap} mm apart; {2.67 * d:.0f} mm is the least" in said) is said_so
    assert ("(J3.3)" in said) is said_so
    assert "(J3.3)" not in " ".join(prove(job).warnings)


def test_the_nearest_weld_is_the_lever_of_prying():
    """b: from the bolts to the box round the nearest weld on the plate, one bolt's diameter at least."""
    v = prove(families.new_job("rear-receiver"))
    j = v.assembly.joint_by_key["1/rail bolts.left"]
    seams = [o for o in v.assembly.joints_of[j.a] if o.key != j.key and type(o.how).__name__ == "Weld"]
    holes = np.array(j.how.holes)
    least = math.inf
    for o in seams:
        spots = np.array([j.place.local(p)[:2] for r in o.how.runs for p in (r.a, r.b)])
        low, high = spots.min(axis=0), spots.max(axis=0)
        out = np.maximum(np.maximum(low - holes, holes - high), 0.0)
        least = min(least, float(np.hypot(*out.T).min()))
    from urial.strength.checks.common import Context

    b, _, _ = checks.prying_arms(Context(v.forces, v.basis, "elastic"), j, j.how, v.assembly.by_key[j.a])
    assert b == pytest.approx(max(least, j.how.bolt.diameter))


def test_chains_break_at_so_many_times_their_working_load():
    for c in classes.tables()[1]:
        assert c.breaks_kg == pytest.approx(c.working_kg * round(c.breaks_kg / c.working_kg), rel=0.01)
        assert 2.5 < c.breaks_kg / c.working_kg < 6


def test_a_design_wall_is_thinner_than_the_nominal_one():
    stock = catalogue.bar("4x4x1/4")
    outer, inner = (np.array(r) for r in profile.rings(stock, 0.93)[:2])
    wall = (np.ptp(outer[:, 0]) - np.ptp(inner[:, 0])) / 2
    assert wall == pytest.approx(0.93 * stock.wall)


def test_bolts_have_their_least_edges():
    assert bolts.minimum_edge_distance(20) == 26 and bolts.minimum_edge_distance(12) == pytest.approx(16.5)


@pytest.mark.parametrize(("pull", "metal"), [(1.0, 60.0), (-1.0, 20.0)])
def test_the_plate_behind_tears_out_on_the_side_the_bolt_is_pushed_to(pull, metal):
    """J3.11c on the lower plate: 1.2 lc t Fu, from the hole's edge to the plate's in the way of the pull."""
    b = start()
    lower, _ = foot(b, "plate", Place((0.0, 0.0, 0.0)), size=(400.0, 90.0), t=6.0, pitch=200.0)
    top = Place((-200.0 + 20.0 if pull < 0 else 200.0 - 60.0, 0.0, 6.0))
    strap = b.plate(
        "strap",
        Plate(
            rectangle(-150.0, -40.0, 150.0, 40.0),
            12.0,
            top,
            holes=((0.0, -18.0, 13.5), (0.0, 18.0, 13.5)),
        ),
        "S355",
    )
    bolt = Bolts(
        ((0.0, -18.0), (0.0, 18.0)), 13.5, (), catalogue.bolt("M12"), catalogue.bolt_grade("8.8"), True
    )
    b.joint("lap", strap, lower, top, bolt)
    b.socket("end", strap, Place(top.point((pull * 130.0, 0.0, 6.0))), Takes("ring"))
    found, _, _ = judged(marked(b.placed(Place()), {}), {"pull": {"1/end": (pull * 8000.0, 0, 0, 0, 0, 0)}})
    c = found["1/lap: holes in 1/plate"]
    tear, bear = 1.2 * (metal - 13.5 / 2) * 6.0 * 470, 2.4 * 12 * 6.0 * 470
    assert c.available == pytest.approx(min(tear, bear) / 2.0, rel=0.01)


@pytest.mark.parametrize("family", ["rear-receiver", "front-receiver", "winch-base", "recovery-point"])
def test_the_worst_bolt_is_called_by_the_number_of_its_hole(family):
    """V/n + M r/Σr² of the forces that are said: most of it at the hole that is named, and as much."""
    v, seen = prove(families.new_job(family)), 0
    for c in v.checks:
        joint = v.assembly.joint_by_key.get(c.id.removesuffix(": bolts"))
        if joint is None or not isinstance(joint.how, Bolts):
            continue
        said = {line.what: line for line in c.working()}
        words = said["load on the joint"].numbers.replace("\u202f", "")
        fx, fy, _, _, _, mz = (float(x) for x in re.findall(r"-?\d[\d.]*", words))
        holes = np.array(joint.how.holes) - np.mean(joint.how.holes, axis=0)
        turned = mz * np.column_stack([-holes[:, 1], holes[:, 0]]) / (holes**2).sum()
        each = np.hypot(*(np.array([fx, fy]) / len(holes) + turned).T)
        number = int(said["shear, worst bolt"].numbers.split(";")[0].removeprefix("hole "))
        force = float(said["shear, worst bolt"].result.replace("\u202f", "").removesuffix(" N"))
        assert each[number - 1] == pytest.approx(force, rel=5e-3), c.id
        assert 1 <= number <= len(holes) and said["tension, worst bolt"].numbers.startswith(f"hole {number};")
        seen += 1
    assert seen
