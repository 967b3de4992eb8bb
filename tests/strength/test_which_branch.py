"""Branches that no figure of a whole part showed: which way a gusset stands on a wall, which of two doublers,
which strip of a fold, which clause stands beside a figure; and workings whose printed numbers must add up.
"""

import math
import re
from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.facts import Span
from urial.assembly.model import HOST, Metal, Weld
from urial.families import new_job
from urial.geometry.axis import frame_at
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, dot, minus, norm, unit
from urial.geometry.shape import Fold, Plate
from urial.job import edit
from urial.job.duty import Item
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import pins
from urial.strength.basis import AllowableStrength
from urial.strength.checks import bolts as bolt_checks
from urial.strength.checks import decking, ends, endurance, hotspots, landing, nets
from urial.strength.checks import pins as pin_checks

FIGURE = r"-?\d[\d\u202f ]*\.?\d*(?:e[+-]?\d+)?"


def figures(text):
    return [float(re.sub(r"[\u202f ]", "", n)) for n in re.findall(FIGURE, text)]


def found(v, key):
    return next(c for c in v.checks if c.id == key)


def line(check, what):
    return next(row for row in check.work() if row.what == what)


# ---- gussets


@pytest.mark.parametrize("name", ["rear-receiver", "bumper-receiver", "winch-cradle"])
def test_a_gusset_along_a_tube_and_one_across_it_by_table_k2(name):
    """Along: Fy t²/(1 − tp/B)·(2 lb/B + 4 √(1 − tp/B)), Ω 1.50; across: the lesser of 10 t/B · Fy t Bp and
    Fy t² (2 + 2.8 β)/√(1 − 0.9 β), Ω 1.58.  Which it is, is seen from the tube's own ends.
    """
    v = prove(new_job(name))
    seen = set()
    for c in v.checks:
        if c.kind != "wall" or "gusset" not in c.id:
            continue
        j = v.assembly.joint_by_key[c.id.removesuffix(": wall")]
        plate, tube = (v.assembly.by_key[k] for k in (j.a, j.b))
        if isinstance(tube.shape, Plate):
            plate, tube = tube, plate
        run = j.how.runs[0]
        edge = minus(run.b, run.a)
        here = tube.place @ frame_at(tube.shape, 1.0)
        stock = tube.shape.stock
        t, tp, fy = stock.wall * tube.material.wall_factor, plate.shape.t, tube.material.Fy
        lengthwise, long = abs(dot(unit(edge), here.x)) > 0.7, norm(edge)
        over = plate.flat_place.z if lengthwise else unit(edge)  # the way the face is wide
        wide = stock.width if abs(dot(over, here.y)) > 0.7 else stock.height
        if lengthwise:
            free = 1 - tp / wide
            want = fy * t**2 / free * (2 * long / wide + 4 * math.sqrt(free)) / 1.50
        else:
            beta = long / wide
            want = 10 * t / wide * fy * t * long
            if beta <= 0.85:
                want = min(want, fy * t**2 * (2 + 2.8 * beta) / math.sqrt(1 - 0.9 * beta))
            want /= 1.58
        assert line(c, "edge on the wall").formula == ("lengthwise" if lengthwise else "across the tube")
        assert ("longitudinal" in c.clause) == lengthwise
        seen.add(c.clause)
        assert c.available == pytest.approx(want, rel=1e-6)
    assert seen


# ---- clauses and names


def test_the_clause_beside_the_forces_is_that_of_the_shape_and_of_the_basis():
    for job in (new_job("winch-base"), new_job("rear-receiver")):
        v = prove(job)
        shapes = {p.key: p.shape.stock.shape for p in v.assembly.parts if hasattr(p.shape, "stock")}
        for c in v.checks:
            if c.id.removesuffix(": forces") not in shapes:
                continue
            open_ = shapes[c.id.removesuffix(": forces")] in ("angle", "channel")
            assert c.clause.startswith("AISC 360-22 H2" if open_ else "AISC 360-22 H1-1")
    plain = prove(edit.put(new_job("rear-receiver"), "proof.basis", "FoS"))
    bars = {f"{p.key}: forces" for p in plain.assembly.parts if hasattr(p.shape, "stock")}
    assert bars & {c.id for c in plain.checks}
    for c in plain.checks:
        if c.id in bars:
            assert c.clause == "von Mises against Fy"
            stress = line(c, "normal stress")
            assert sum(figures(stress.numbers)) == pytest.approx(figures(stress.result)[0], abs=0.5)


def test_the_host_is_called_the_host_and_a_part_by_its_mark():
    v = prove(new_job("rear-receiver"))
    marks = {p.mark for p in v.assembly.parts} | {HOST, "vehicle", "rail"}
    on_rail = [c for c in v.checks if "rail bolts" in c.id]
    assert on_rail and {c.part for c in v.checks if c.kind != "rating"} <= marks


# ---- doublers


def test_the_thickest_doubler_of_a_wall_sets_the_pin_s_lever():
    """A wall of 6 mm with doublers of 4 and 8 mm: the pin bends over (6 + 8)/2 + gap + inner/4."""
    steel = catalogue.material("S355")
    shape = SimpleNamespace(stock=SimpleNamespace(wall=6.0, shape="rect_tube", width=60.0))
    asked: list[tuple[float, ...]] = []
    plates = [SimpleNamespace(t=t) for t in (4.0, 8.0)]
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(pin_checks, "Bar", SimpleNamespace)
        patch.setattr(pin_checks, "_end", lambda *_: 40.0)
        patch.setattr(pin_checks, "_across", lambda _: None)
        patch.setattr(pin_checks, "_both_walls", lambda *_: pin_checks.Doubled(0.0, 0.0))
        patch.setattr(pin_checks.facts, "on_bar", lambda *_: 50.0)
        patch.setattr(pin_checks.facts, "thickness", lambda p: p.t)
        patch.setattr(pin_checks.facts, "doublers", lambda *_: [(p, None) for p in plates])
        patch.setattr(
            pin_checks.pins,
            "bending_moment",
            lambda load, outer, inner, gap: asked.append((outer, inner, gap)) or 1.0,
        )
        part = SimpleNamespace(
            shape=shape, material=steel, key="1/a", name="a", family="1/a", mark="A", paths=()
        )
        how = pin_checks.Pin.__new__(pin_checks.Pin)
        for key, value in {"diameter": 16.0, "hole": 17.0, "gap": 1.0, "material": steel, "path": ""}.items():
            object.__setattr__(how, key, value)
        about = SimpleNamespace(
            basis=AllowableStrength(),
            assembly=SimpleNamespace(parts=()),
            forces=SimpleNamespace(own=lambda _: (np.array([[1000.0, 0, 0]]), np.zeros((1, 3)))),
            part=lambda _: part,
            steel=lambda *_: steel,
            link=lambda _: "",
            mark=lambda _: "A",
            governed=lambda *a, **k: None,
        )
        joint = SimpleNamespace(
            how=how, a="1/a", b="1/b", key="1/pin", name="pin", place=SimpleNamespace(o=None)
        )
        list(pin_checks.pin_checks(about, joint))
    assert asked[0] == (14.0, 12.0, 1.0)


def test_a_doubler_brings_no_more_than_its_weld_in_bearing_tearing_and_rupture():
    """6 mm S235 round ⌀ 17, edge 30 from the hole; 240 mm of a 2 mm bead bring what 0.60 FEXX on
    0.7071 · 2 mm holds.
    """
    steel = catalogue.material("S235")
    rod = catalogue.electrode("E70")
    runs = [SimpleNamespace(a=(0.0, 0.0, 0.0), b=(60.0, 0.0, 0.0))] * 4
    about = SimpleNamespace(steel=lambda *_: steel)
    for leg in (2.0, 8.0):
        how = Weld.__new__(Weld)
        for key, value in {"runs": runs, "leg": leg, "electrode": rod}.items():
            object.__setattr__(how, key, value)
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(pin_checks.facts, "eye_metal", lambda *_: (30.0, 6.0))
            patch.setattr(pin_checks.facts, "thickness", lambda _: 6.0)
            added = pin_checks._added(
                about, SimpleNamespace(), SimpleNamespace(), SimpleNamespace(how=how), (None, 16.0, 235.0)
            )
        most = 240 * 0.60 * min(0.7071 * leg * rod.FEXX, 6.0 * steel.Fu)
        assert added.bearing == pytest.approx(min(1.8 * 235 * 16 * 6, most))
        assert added.tearing == pytest.approx(min(pins.plate_shear(steel.Fu, 6.0, 30.0, 16.0), most))
        assert added.rupture == pytest.approx(min(pins.plate_rupture(steel.Fu, 6.0, 30.0), most))
        assert (added.tearing == pytest.approx(most)) == (leg == 2.0)


# ---- plates


def test_of_several_strips_round_a_fold_the_worst_is_told(monkeypatch):
    """Two strips 50 and 100 wide go round one bend of 8 mm on 8 mm: N/A + M/W + Mz/(t b²/6) of each."""
    shape = Plate.__new__(Plate)
    for key, value in {"t": 8.0, "folds": (Fold((0, 0), (1, 0), math.radians(90), 8.0),)}.items():
        object.__setattr__(shape, key, value)
    inside = {"a": (1000.0, 0, 0, 0, 40e3, 10e3), "b": (5000.0, 0, 0, 0, 50e3, 30e3)}
    monkeypatch.setattr(ends.facts, "softened", lambda *_: SimpleNamespace(Fy=355.0))
    about = SimpleNamespace(
        basis=AllowableStrength(),
        assembly=None,
        forces=SimpleNamespace(inside=lambda key, f: np.array([inside[key]], dtype=float) * (0.5 + f / 2)),
        governed=lambda demand, available, *_: (demand, available),
    )
    beams = [
        SimpleNamespace(id=k, strip=SimpleNamespace(bend=0, width=w)) for k, w in (("a", 50.0), ("b", 100.0))
    ]
    part = SimpleNamespace(key="1/p", name="p", paths=(), mark="A", family="1/p")
    monkeypatch.setattr(ends.About, "on", staticmethod(lambda *_: None))
    ((demand, available),) = ends._folds(about, part, shape, beams)
    # Winkler: rn = t/ln(ro/ri) = 8/ln 2, e = 12 − rn; σ = M (rn − ri)/(A e ri), for 1 mm of width
    rn = 8 / math.log(2)
    per_mm = 8 * (12 - rn) * 8 / (rn - 8)
    want = [
        n / (8 * w) + m / (per_mm * w) + z / (8 * w**2 / 6)
        for (n, *_, m, z), w in ((inside["a"], 50.0), (inside["b"], 100.0))
    ]
    assert want[0] > 1.1 * want[1] or want[1] > 1.1 * want[0]
    assert demand == pytest.approx([max(want)], rel=1e-6) and available == pytest.approx(355 / 1.67)


def test_a_strip_passes_the_holes_beside_it_wherever_the_plate_lies():
    """A strip along y = 40 of a plate 0…200 × 0…100, 60 wide: a ⌀ 20 hole at (100, 30) leaves 30 … 60 less
    20 … 40: 40 of its 60 mm at s = 100, and all of it 40 mm further on.
    """
    plate = Plate(rectangle(0.0, 0.0, 200.0, 100.0), 10.0, Place(), holes=((100.0, 30.0, 20.0),))
    strip = SimpleNamespace(a=(0.0, 40.0), way=(1.0, 0.0), width=60.0, from_ends=lambda s: 0.0)
    beam = SimpleNamespace(strip=strip, size=200.0)
    here = nets._section(plate, beam, 100.0, (-20.0, 0.0), "A hole")
    assert here.whole == pytest.approx(60 * 10) and here.net.area == pytest.approx(40 * 10)
    assert np.array(here.legs) == pytest.approx(np.array([(-30.0, -20.0), (0.0, 30.0)]))
    there = nets._section(plate, beam, 140.0, (-20.0, 0.0), "A hole")
    assert there.net.area == pytest.approx(60 * 10)


@pytest.mark.parametrize(("at", "softened"), [(60.0, True), (200.0, False)])
def test_a_hole_beside_a_weld_is_judged_by_the_metal_the_weld_left(monkeypatch, at, softened):
    """Aluminium with a bead at 40 … 50: its heat reaches 25 mm on; steel keeps its strength everywhere."""
    for name in ("6061-T6", "S355"):
        metal = catalogue.material(name)
        cut = SimpleNamespace(diameter=12.0)
        left = SimpleNamespace(area=800.0, stress=lambda n, my, mz: np.abs(n) / 800.0)
        monkeypatch.setattr(nets.axis, "section_at", lambda *_: left)
        monkeypatch.setattr(nets.axis, "cut_stations", lambda _, cut=cut: [(at, cut)])
        monkeypatch.setattr(nets.facts, "wall_factor", lambda _: 1.0)
        monkeypatch.setattr(nets.facts, "bar_welds", lambda *_: [(None, None, Span(40.0, 50.0))])
        part = SimpleNamespace(material=metal, key="1/t", name="t")
        about = SimpleNamespace(
            assembly=None, forces=SimpleNamespace(inside=lambda *_: np.array([[1e3, 0, 0, 0, 0, 0]]))
        )
        beams = [SimpleNamespace(id="t", start=0.0, size=300.0)]
        shape = SimpleNamespace(cuts=(cut,), stock=SimpleNamespace(title="a tube"))
        asked = []

        def judge(*given, asked=asked):
            asked.append(given[4])
            return SimpleNamespace(utilisation=0.5)

        list(nets._bar(about, part, shape, beams, judge))
        assert asked == [metal.beside_weld() if softened else metal]
        assert (metal.beside_weld() is metal) == (name == "S355")


# ---- decks, hot spots, seams


def test_a_wheel_on_a_sheet_presses_on_a_patch_as_wide_as_its_tyre():
    """One wheel's share on a circle as large as 100 mm × the tyre: by Westergaard's line, long sides ≫."""
    stand = Item(
        name="cart", kg=200, above_mm=200, stands="wheels", wheelbase_mm=900, track_mm=700, tyre_mm=120
    )
    deck = SimpleNamespace(kind="tread", t=4.0, span=480.0, wide=1920.0, board=0.0)
    steel = catalogue.material("S235")
    about = SimpleNamespace(
        basis=AllowableStrength(),
        governed=lambda demand, available, *_: (demand, available),
    )
    part = SimpleNamespace(key="1/deck", name="deck", material=steel, paths=(), mark="A", family="1/deck")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(decking.About, "on", staticmethod(lambda *_: None))
        demand, available = decking._bent(about, part, deck, [decking._Stands(stand, np.array([4 * 1000.0]))])
        two = Item(name="cart", kg=200, above_mm=200, stands="wheels", wheelbase_mm=900, track_mm=0)
        work = []
        about.governed = lambda demand, available, _, said: work.append(said(0))
        decking._bent(about, part, deck, [decking._Stands(two, np.array([3000.0]))])
        decking._bent(about, part, deck, [decking._Stands(stand, np.array([3000.0]))])
        assert [figures(w[0].numbers)[0] for w in work] == [1500.0, 750.0]
    r = math.sqrt(100 * 120 / math.pi)
    beta = 1.0  # Roark's table at a/b 4
    want = 3 * 1000 / (2 * math.pi * 16) * (1.3 * math.log(2 * 480 / (math.pi * r)) + beta)
    assert demand == pytest.approx([want]) and available == pytest.approx(1.5 * 235 / 1.67)


@pytest.mark.parametrize(("long", "alpha"), [(60.0, 4.0), (300.0, 10.0), (3000.0, 40.0)])
def test_a_chord_s_length_counts_by_its_own_diameters_within_the_formula_s_limits(monkeypatch, long, alpha):
    """α = 2 L / D, 4 at least and 40 at most: ⌀ 60 of 300 mm is 10."""
    asked = []
    monkeypatch.setattr(hotspots, "round_", lambda *a: asked.append(a) or {})
    monkeypatch.setattr(hotspots, "Bar", SimpleNamespace)
    monkeypatch.setattr(hotspots.facts, "thickness", lambda p: p.t)
    monkeypatch.setattr(hotspots.paths, "length", lambda path: path)

    def tube(d, t):
        return SimpleNamespace(
            t=t,
            shape=SimpleNamespace(stock=SimpleNamespace(shape="round_tube", width=d, height=d), path=long),
        )

    met = SimpleNamespace(
        chord=tube(60.0, 3.0),
        branch=tube(30.0, 3.0),
        way=(0.0, 0.0, 1.0),
        here=SimpleNamespace(x=(1.0, 0.0, 0.0), y=(0.0, 1.0, 0.0), z=(0.0, 0.0, 1.0)),
    )
    hotspots._factors(None, met)
    ((beta, gamma, tau, theta, found_alpha),) = asked
    assert (beta, gamma, tau, theta) == pytest.approx((0.5, 10.0, 1.0, math.pi / 2))
    assert found_alpha == pytest.approx(alpha)


def test_of_a_narrow_branch_on_a_thin_wall_a_share_of_its_seam_counts():
    """40 × 40 × 5 pads on the 60 mm face of a 5 mm rail: 10/(60/5)·(5/5) = 0.833 of the bead across."""
    job = new_job("flat-trailer")
    job = edit.put(job, edit.find_path(job, "pad"), "40x40x5")
    a = families.build(job)
    j = a.joint_by_key["1/pad rail weld.left"]
    met = landing.landing(a, j)
    t, t_b = met.chord.shape.stock.wall, met.branch.shape.stock.wall
    face = min(met.chord.shape.stock.width, met.chord.shape.stock.height)
    share = 10 / (face / t) * t / t_b
    assert share < 1 and met.branch.shape.stock.width < 0.85 * face
    whole = [r for r in j.how.runs if abs(r.a[0] - r.b[0]) < 1e-6]
    across = [r for _, r in landing.even_runs(a, j) if abs(r.a[0] - r.b[0]) < 1e-6]
    counted, laid = (sum(math.dist(r.a, r.b) for r in rows) for rows in (across, whole))
    wide = 2 * max(abs(p[1] - met.here.o[1]) for r in j.how.runs for p in (r.a, r.b))
    lost = (wide - share * min(wide, met.branch.shape.stock.width)) * len(whole)
    assert counted == pytest.approx(laid - lost, abs=0.5)


def test_a_strap_s_and_a_plug_s_working_add_up():
    """What a strap may differ by is T (1 − e^(−μβ)) of the numbers beside it; plugs bear Ω 2.00."""
    v = prove(new_job("trunk-anchor"))
    c = next(c for c in v.checks if any(row.what == "strap" for row in c.work()))
    for row in (r for r in c.work() if r.what == "strap"):
        tension, mu, beta = figures(row.numbers)
        want = tension * (1 - math.exp(-mu * math.radians(beta)))
        assert figures(row.result)[0] == pytest.approx(want, rel=0.01)


def test_the_block_that_is_torn_out_is_named_by_the_way_it_goes():
    """Bolts near one edge of a plate: pushed towards that edge the block is short, and so it is called."""
    shape = rectangle(0.0, 0.0, 200.0, 80.0)
    corners = np.array([p[:2] for p in shape], dtype=float)
    holes = np.array([[20.0, 25.0], [20.0, 55.0]])
    steel = catalogue.material("S235")
    seen = []
    about = SimpleNamespace(
        basis=AllowableStrength(),
        steel=lambda *_: steel,
        link=lambda _: "",
        governed=lambda demand, available, about_, work, by_case: seen.append((by_case, work(0), available)),
    )
    part = SimpleNamespace(name="p", mark="A", family="1/p")
    how = SimpleNamespace(holes=holes, hole_d=14.0)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(bolt_checks.facts, "thickness", lambda _: 8.0)
        patch.setattr(bolt_checks.facts, "drilled", lambda *_: holes)
        patch.setattr(bolt_checks.facts, "plate_corners", lambda *_: corners)
        for way, said in (((-1e4, 0.0), "x, −"), ((1e4, 0.0), "x, +"), ((0.0, 1e4), "y, +")):
            bolt_checks._block_shear(
                about, SimpleNamespace(key="1/j", place=None), how, part, np.array([way])
            )
            _, rows, _ = seen[-1]
            assert rows[0].formula.endswith(said), (way, rows[0].formula)
    # towards its edge: 2 · 20 gross, less half a hole of 16 each; 30 − 16 across
    gross, net, across = 40 * 8, (40 - 2 * 8) * 8, (30 - 16) * 8
    want = min(0.6 * steel.Fu * net, 0.6 * steel.Fy * gross) + steel.Fu * across
    assert seen[0][2] == pytest.approx(want / 2)
    assert seen[0][0] == pytest.approx([1e4 / (want / 2)])


def test_nobody_s_rating_is_told_of_a_bought_piece_and_of_no_other():
    """A bought insert without a rating is named where it sits; once it has one it is not."""
    job = new_job("bought-insert")
    said = [u.what for u in prove(job).unchecked if "nobody gives it a rating" in u.what]
    assert len(said) == 1
    assert not [u for u in prove(new_job("ball-mount")).unchecked if "nobody gives" in u.what]
    own = [u.what for u in prove(new_job("ballast-rack")).unchecked if "host's own metal there" in u.what]
    assert len(own) == 4 and all("pin in the post" in w for w in own)
    for name in ("three-point-carriage", "bumper-receiver", "flat-trailer"):  # held by what has a check
        assert not [u for u in prove(new_job(name)).unchecked if "host's own metal there" in u.what]


def test_a_strip_that_runs_up_the_plate_counts_holes_by_their_height():
    """The same plate, the strip up x = 100 from y = 40, a hole at y = 70: 30 mm along it."""
    plate = Plate(rectangle(0.0, 0.0, 200.0, 100.0), 10.0, Place(), holes=((100.0, 70.0, 20.0),))
    strip = SimpleNamespace(a=(100.0, 40.0), way=(0.0, 1.0), width=60.0, from_ends=lambda s: 0.0)
    beam = SimpleNamespace(strip=strip, size=50.0)
    here = nets._section(plate, beam, 30.0, (-10.0, 10.0), "A hole")
    assert here.net.area == pytest.approx(40 * 10)
    there = nets._section(plate, beam, 5.0, (-10.0, 10.0), "A hole")
    assert there.net.area == pytest.approx(60 * 10)


def test_a_round_branch_on_a_round_chord_is_judged_as_such_and_a_gusset_s_tube_is_not():
    for name in ("front-rail", "two-wheeler"):
        v = prove(new_job(name))
        assert found(v, "1/brace weld.left: wall").clause == "AISC 360-22 tables K3.1, K4.1"
        assert not [u for u in v.unchecked if "no rule here for these shapes" in u.what]


def test_a_check_at_the_host_is_the_host_s_and_one_between_parts_a_part_s():
    context = bolt_checks.Context.__new__(bolt_checks.Context)
    assembly = SimpleNamespace(by_key={"1/a": SimpleNamespace(mark="B")})
    object.__setattr__(context, "forces", SimpleNamespace(assembly=assembly))
    assert context.mark(HOST) == HOST and context.mark("1/a") == "B"


def test_bolts_push_the_host_s_metal_the_other_way():
    """A part pulled rearward pulls its bolts rearward against the host: the host's edge that matters is
    behind them.  ± 100 mm of rail ahead, 20 behind; M12 in ⌀ 13: clear 20 − 6.5 where it counts.
    """
    steel = catalogue.material("S235")
    face = ((-20.0, -50.0), (100.0, -50.0), (100.0, 50.0), (-20.0, 50.0))
    how = SimpleNamespace(
        holes=((0.0, 0.0),), hole_d=13.0, host_hole_d=(13.0,), host_face=face, metal=(Metal(steel, 4.0),)
    )
    part = SimpleNamespace(name="p", mark="A", family="1/p")
    about = SimpleNamespace(steel=lambda *_: steel)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(bolt_checks.facts, "plate_corners", lambda *_: np.array(face))
        patch.setattr(bolt_checks.facts, "thickness", lambda _: 8.0)
        patch.setattr(bolt_checks.facts, "drilled", lambda *_: np.zeros((1, 2)))
        own, host = bolt_checks._layers(about, SimpleNamespace(b=HOST, place=None), how, part)
    at = np.zeros((1, 2))
    force = np.array([[[-1000.0, 0.0]]])  # on the part's bolts
    clear = [float(bolt_checks._clear(k, at, k.sign * force)[0, 0]) for k in (own, host)]
    assert clear == pytest.approx([20 - 6.5, 100 - 6.5])


def test_a_bead_s_farthest_end_feels_the_bending_across_a_strip_most(monkeypatch):
    """Beads at 10 and 35 mm off the strip's middle, the strip 100 wide: M · 35 / Iz; at 80 mm no more than
    its own edge, 50.
    """
    section = SimpleNamespace(
        area=1000.0, Wely=2e3, Iz=8e5, Avy=800.0, Avz=800.0, width=100.0, height=10.0, wall=0.0
    )
    strip = SimpleNamespace(
        a=(0.0, 0.0), b=(200.0, 0.0), way=(1.0, 0.0), width=100.0, leaves=0.1, arrives=0.9
    )
    beam = SimpleNamespace(id="b", section=section, strip=strip, size=200.0)
    ranges = SimpleNamespace(
        context=SimpleNamespace(forces=SimpleNamespace(inside=lambda *_: np.array([[0, 0, 0, 0, 0, 4e5]]))),
        summed=lambda x: x,
    )
    monkeypatch.setattr(endurance, "_in_front", lambda *_: (0.0, 100.0))
    monkeypatch.setattr(endurance, "_plate_detail", lambda *_: None)
    place = SimpleNamespace(point=lambda p: p)
    monkeypatch.setattr(endurance.facts, "plate_place", lambda *_: place)
    monkeypatch.setattr(endurance, "_toe", lambda r, part, j, by, stressed: stressed)
    for far, lever in ((35.0, 35.0), (80.0, 50.0)):
        beads = np.array([[20.0, 10.0], [20.0, -far]])
        stressed = endurance._strip_toe(ranges, None, None, (beam, strip, True), beads)
        assert float(stressed.stress[0]) == pytest.approx(4e5 * lever / 8e5)
