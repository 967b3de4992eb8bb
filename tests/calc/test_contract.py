"""The calculators from outside: names, units, answers by hand, and refusals."""

import json
import math

import pytest

from urial.calc.registry import CalcError, ask, calculators

MEMBER = {
    "id": "m",
    "i": "A",
    "j": "B",
    "E_MPa": 2e5,
    "G_MPa": 77200,
    "area_mm2": 1000,
    "Iy_mm4": 1e6,
    "Iz_mm4": 2e6,
    "J_mm4": 5e5,
    "up": [0, 0, 1],
}
FRAME = {
    "nodes": {"A": [0, 0, 0], "B": [600, 0, 0]},
    "members": [MEMBER],
    "supports": {"A": [1] * 6},
    "loads": {"tip": {"B": [0, 0, -1000, 0, 0, 0]}},
}
WELD = {
    "segments_mm": [[0, 0, 0, 200], [100, 0, 100, 200]],
    "leg_mm": 6,
    "electrode_MPa": 482,
    "force_N": [0, -10000, 0],
    "point_mm": [50, 100, 0],
}
BOLTS = {
    "bolts_mm": [[0, -38.1], [0, 38.1]],
    "diameter_mm": 20,
    "Fu_MPa": 830,
    "threads_in_plane": True,
    "force_N": [0, -10000],
    "point_mm": [50.8, 0],
}
PIN = {
    "load_N": 20000,
    "diameter_mm": 16,
    "Fu_MPa": 860,
    "Fy_MPa": 655,
    "outer_thickness_mm": 6,
    "inner_thickness_mm": 50,
    "gap_mm": 1,
    "plate_Fy_MPa": 317,
}


def put(name, **question):
    return ask(name, json.dumps(question))


def test_the_promised_calculators_are_there():
    assert {
        "section",
        "frame",
        "weld_group",
        "bolt_group",
        "bolt_torque",
        "pin",
        "coupling_values",
        "axle_loads",
        "trailer_balance",
        "hitch_height",
    } <= set(calculators())


def test_section():
    s = put("section", shape="rect_bar", width_mm=20, height_mm=60)
    assert (s["area_mm2"], s["Iy_mm4"], s["Wplz_mm3"]) == (1200, 20 * 60**3 / 12, 60 * 400 / 4)
    assert s["mass_kg_per_m"] == pytest.approx(9.42)
    given, default = (
        put("section", shape="rect_tube", width_mm=60, height_mm=60, wall_mm=5, outer_radius_mm=10),
        put("section", shape="rect_tube", width_mm=60, height_mm=60, wall_mm=5),
    )
    assert given == default
    assert set(s) == {
        "area_mm2",
        "Iy_mm4",
        "Iz_mm4",
        "Iyz_mm4",
        "J_mm4",
        "Wely_mm3",
        "Welz_mm3",
        "Wply_mm3",
        "Wplz_mm3",
        "mass_kg_per_m",
    }


def test_frame():
    r = ask("frame", json.dumps(FRAME))["tip"]
    assert r["displacements"]["B"][2] == pytest.approx(-1000 * 600**3 / (3 * 2e5 * 1e6))
    assert r["reactions"] == {"A": pytest.approx([0, 0, 1000, 0, -600_000, 0], abs=1e-6)}
    assert r["members"]["m"]["i"] == pytest.approx([0, 0, 1000, 0, -600_000, 0], abs=1e-6)
    sprung = ask("frame", json.dumps({**FRAME, "springs": {"B": [0, 0, 100, 0, 0, 0]}}))["tip"]
    assert set(sprung["reactions"]) == {"A", "B"}
    assert sprung["reactions"]["B"][2] + sprung["reactions"]["A"][2] == pytest.approx(1000)


def test_weld_group():
    r = ask("weld_group", json.dumps(WELD))
    assert r["length_mm"] == 400 and r["J_mm3"] == pytest.approx(r["Ix_mm3"] + r["Iy_mm3"])
    assert r["elastic"]["max_N_per_mm"] == pytest.approx(25)
    assert r["elastic"]["available_N_per_mm"] == pytest.approx(0.6 * 482 * 6 * math.sqrt(0.5) / 2)
    assert r["instantaneous_centre"]["nominal_N"] == pytest.approx(
        0.6 * 482 * 6 * math.sqrt(0.5) * 400, rel=0.01
    )
    out = ask("weld_group", json.dumps({**WELD, "force_N": [0, -10000, 500]}))
    assert out["instantaneous_centre"] is None
    pure = ask("weld_group", json.dumps({**WELD, "force_N": [0, 0, 0], "moment_Nmm": [0, 0, 1e6]}))[
        "instantaneous_centre"
    ]
    assert pure["nominal_N"] is None and pure["available_N"] is None and pure["utilisation"] > 0
    capped = ask(
        "weld_group", json.dumps({**WELD, "base_Fy_MPa": 250, "base_Fu_MPa": 400, "base_thickness_mm": 3})
    )
    assert capped["elastic"]["available_N_per_mm"] == pytest.approx(
        min(0.6 * 250 * 3 / 1.5, 0.6 * 400 * 3 / 2)
    )
    assert capped["instantaneous_centre"]["available_N"] == pytest.approx(300 * 400, rel=0.01)


def test_bolt_group():
    r = ask("bolt_group", json.dumps(BOLTS))
    assert r["bolt_available_N"] == pytest.approx(0.45 * 830 * math.pi * 100 / 2)
    assert r["elastic"]["max_shear_N"] == pytest.approx(math.hypot(5000, 10000 * 50.8 / 76.2))
    assert r["instantaneous_centre"]["coefficient"] == pytest.approx(1.18, rel=0.01)  # AISC Manual table 7-6
    centred = ask("bolt_group", json.dumps({**BOLTS, "point_mm": [0, 20]}))
    assert centred["instantaneous_centre"]["coefficient"] == 2


def test_bolt_torque_and_pin():
    t = put("bolt_torque", diameter_mm=12, stress_area_mm2=84.3, proof_MPa=600, k=0.2)
    assert t["preload_N"] == pytest.approx(0.75 * 600 * 84.3) and t["torque_Nm"] == pytest.approx(
        0.2 * 12 * t["preload_N"] / 1000
    )
    p = ask("pin", json.dumps(PIN))
    assert p["shear"]["demand_MPa"] == pytest.approx(20000 / (2 * math.pi * 64))
    assert p["shear"]["utilisation"] == pytest.approx(p["shear"]["demand_MPa"] / (0.563 * 860 / 2))
    assert p["bending"]["moment_Nmm"] == pytest.approx(10000 * (3 + 1 + 12.5))
    assert p["bending"]["utilisation"] == pytest.approx(p["bending"]["stress_MPa"] / (655 / 1.67))
    assert p["bearing_outer"]["utilisation"] == pytest.approx(10000 / (1.8 * 317 * 16 * 6 / 2))
    assert p["bearing_inner"]["utilisation"] == pytest.approx(20000 / (1.8 * 317 * 16 * 50 / 2))


def test_towing():
    c = put("coupling_values", towing_t=2.4, trailer_t=1.85, axle_t=1.7, bed_length_m=3, drawbar_m=4)
    assert c["D_kN"] == pytest.approx(9.80665 * 2.4 * 1.85 / 4.25) and c["V_kN"] == pytest.approx(2.4 * 1.7)
    assert put("coupling_values", towing_t=2.4, trailer_t=1.85, static_vertical_kg=150)[
        "Dc_kN"
    ] == pytest.approx(9.80665 * 2.4 * 1.7 / 4.1)
    assert put("coupling_values", towing_t=2, trailer_t=1) == {"D_kN": pytest.approx(9.80665 * 2 / 3)}
    a = put("axle_loads", wheelbase_mm=3000, ball_overhang_mm=1200, front_kg=1000, rear_kg=900, tongue_kg=100)
    assert a == {"front_kg": 960, "rear_kg": 1040, "front_change_percent": -4}
    b = put(
        "trailer_balance",
        axles_mm=[2000, 3000],
        masses=[{"kg": 400, "x_mm": 2000}, {"kg": 100, "x_mm": 2500}],
    )
    assert b == {
        "total_kg": 500,
        "tongue_kg": pytest.approx(80),
        "tongue_percent": pytest.approx(16),
        "axle_kg": pytest.approx(420),
    }
    assert put("hitch_height", receiver_mm=500, coupler_mm=450, ball_mm=54, squat_mm=20) == {"drop_mm": 84}


@pytest.mark.parametrize(
    ("name", "question", "says"),
    [
        ("section", {"shape": "rect_tube", "width_mm": 50, "height_mm": 50, "wall_mm": 26}, "wall"),
        ("section", {"shape": "rect_tube", "width_mm": -50, "height_mm": 50, "wall_mm": 3}, "width_mm"),
        ("section", {"shape": "round_bar", "od_mm": 10, "wall_mm": 2}, "wall_mm"),
        ("section", {"shape": "hexagon"}, "shape"),
        ("frame", {**FRAME, "members": [{**MEMBER, "up": [1, 0, 0]}]}, "Member m"),
        ("frame", {**FRAME, "members": [{k: v for k, v in MEMBER.items() if k != "up"}]}, "up"),
        ("frame", {**FRAME, "supports": {"A": [1, 1, 1, 0, 0, 0]}}, "mechanism"),
        ("frame", {**FRAME, "loads": {"tip": {"Z": [0] * 6}}}, "node Z"),
        ("frame", {**FRAME, "surprise": 1}, "surprise"),
        ("frame", {**FRAME, "members": [MEMBER, MEMBER]}, "called m"),
        ("weld_group", {**WELD, "leg_mm": 0}, "leg_mm"),
        ("weld_group", {**WELD, "segments_mm": [[0, 0, 0, 0]]}, "no length"),
        ("weld_group", {**WELD, "force_N": [0, 0, 0]}, "zero"),
        (
            "weld_group",
            {
                **WELD,
                "segments_mm": [[0, 0, 0, 200]],
                "force_N": [100, 0, 0],
                "point_mm": [0, 100, 40],
                "moment_Nmm": [0, 5e5, 0],
            },
            "single straight weld",
        ),
        ("bolt_group", {**BOLTS, "bolts_mm": [[0, 0]], "point_mm": [30, 0]}, "single bolt"),
        ("bolt_group", {**BOLTS, "bolts_mm": [[0, 0], [0, 0]]}, "same place"),
        ("bolt_group", {**BOLTS, "threads_in_plane": "perhaps"}, "threads_in_plane"),
        ("pin", {**PIN, "gap_mm": -1}, "gap_mm"),
        ("trailer_balance", {"axles_mm": [], "masses": [{"kg": 1, "x_mm": 1}]}, "axles_mm"),
        ("axle_loads", {"wheelbase_mm": "long"}, "wheelbase_mm|ball_overhang_mm"),
        ("coupling_values", {"towing_t": 1e400, "trailer_t": 1}, "towing_t|number|range"),
    ],
)
def test_bad_questions_are_refused_naming_the_key(name, question, says):
    with pytest.raises(CalcError, match=says) as refusal:
        ask(name, json.dumps(question))
    assert "\n" not in str(refusal.value)


def test_nothing_infinite_is_ever_printed():
    with pytest.raises(CalcError):
        put("section", shape="round_bar", od_mm=1e200)
    for text in ("{", "[]", "nope", '{"shape": NaN}', '{"od_mm": Infinity}', "[" * 100_000):
        with pytest.raises(CalcError):
            ask("section", text)


def test_every_calculator_has_a_schema_and_a_title():
    for c in calculators().values():
        assert c.title and c.question.model_json_schema()["properties"]


TAPES = {
    "points_mm": [[0, 800, 380], [0, -800, 380], [-1120, 480, 607], [-1120, -480, 607], [-400, 0, 520]],
    "tapes_mm": [],
}
TAPES["tapes_mm"] = [math.dist(p, (-1300, 60, 210)) for p in TAPES["points_mm"]]


def test_triangulate():
    r = ask("triangulate", json.dumps({**TAPES, "sigma_mm": 2.0}))
    assert (
        r["point_mm"] == pytest.approx([-1300, 60, 210], abs=1e-3)
        and r["agree"]
        and r["suspect"] is None
        and r["other_mm"] is None
    )
    assert len(r["ellipsoid_95"]["half_axes_mm"]) == 3 and r["residuals_mm"] == pytest.approx(
        [0] * 5, abs=1e-6
    )
    half = ask("triangulate", json.dumps(TAPES))
    assert r["sigma_mm"] == pytest.approx([2 * s for s in half["sigma_mm"]])
    three = ask(
        "triangulate",
        json.dumps(
            {"points_mm": TAPES["points_mm"][:3], "tapes_mm": TAPES["tapes_mm"][:3], "towards": [0, 0, -1]}
        ),
    )
    assert (
        three["point_mm"] == pytest.approx([-1300, 60, 210], abs=1e-3)
        and three["other_mm"][2] > three["point_mm"][2]
    )


def test_rectify():
    square = {
        "corners_px": [[100, 700], [500, 700], [500, 300], [100, 300]],
        "width_mm": 200,
        "height_mm": 200,
        "picks_px": [[300, 500], [500, 500]],
    }
    r = ask("rectify", json.dumps(square))
    assert r["points_mm"] == [pytest.approx([100, 100]), pytest.approx([200, 100])]
    assert (
        r["distances"][0]["mm"] == pytest.approx(100)
        and r["distances"][0]["sigma_mm"] > 0.5
        and (r["distances"][0]["from"], r["distances"][0]["to"]) == (0, 1)
    )
    given = ask(
        "rectify",
        json.dumps(
            {
                **{k: v for k, v in square.items() if not k.endswith("_mm")},
                "corners_mm": [[0, 0], [200, 0], [200, 200], [0, 200]],
            }
        ),
    )
    assert given["points_mm"] == r["points_mm"] and given["misfit_px"] == 0


@pytest.mark.parametrize(
    ("name", "question", "says"),
    [
        ("triangulate", {**TAPES, "tapes_mm": [1, 2, 3]}, "one for each"),
        ("triangulate", {**TAPES, "sigma_mm": -1}, "sigma_mm"),
        ("triangulate", {"points_mm": TAPES["points_mm"][:3], "tapes_mm": [100, 100, 100]}, "do not meet"),
        ("triangulate", {**TAPES, "towards": [0, 0, 0]}, "towards"),
        ("triangulate", {**TAPES, "points_mm": [[0, 0]] * 5}, "points_mm"),
        ("rectify", {"corners_px": [[0, 0], [1, 0], [1, 1]], "width_mm": 1, "height_mm": 1}, "corners_px"),
        (
            "rectify",
            {"corners_px": [[100, 700], [500, 300], [500, 700], [100, 300]], "width_mm": 1, "height_mm": 1},
            "cross",
        ),
        ("rectify", {"corners_px": [[100, 700], [500, 700], [500, 300], [100, 300]]}, "corners_mm"),
        (
            "rectify",
            {
                "corners_px": [[100, 700], [500, 700], [500, 300], [100, 300]],
                "width_mm": 1,
                "height_mm": 1,
                "zoom": 2,
            },
            "zoom",
        ),
    ],
)
def test_bad_survey_questions_are_refused_with_the_key_or_the_reason(name, question, says):
    with pytest.raises(CalcError, match=says) as refusal:
        ask(name, json.dumps(question))
    assert "\n" not in str(refusal.value)


RIG = {
    "vehicle": {
        "mass_kg": 2200,
        "Iz_kgm2": 3600,
        "a_m": 1.5,
        "b_m": 1.6,
        "hitch_m": 2.8,
        "C1_N_rad": 120e3,
        "C2_N_rad": 130e3,
    },
    "trailer": {"mass_kg": 1800, "Iz_kgm2": 2600, "l1_m": 3.1, "l_m": 3.4, "C3_N_rad": 110e3},
    "speeds_kmh": [50, 90],
}


def test_strap_anchor_and_sway_keep_the_contract():
    r = put("strap_anchor", pull_N=10_000, leg_angle_deg=120, break_N=60_000, legs=2)
    assert r == {"leg_N": pytest.approx(10_000), "working_limit_N": 20_000, "utilisation": pytest.approx(0.5)}
    assert (
        put("strap_anchor", pull_N=10_000, leg_angle_deg=120, break_N=60_000, legs=1, design_factor=6)[
            "utilisation"
        ]
        == 1.0
    )
    s = ask("sway", json.dumps(RIG))
    assert (
        set(s) == {"damping", "critical_kmh", "speed_at_0_10_kmh", "divergence_kmh"}
        and s["damping"][0] > s["damping"][1]
    )


def test_fatigue():
    once = put("fatigue", ranges_MPa=[[80, 2e6]], category=80, gamma=1)
    assert once == {"damage": pytest.approx(1.0), "life_repeats": pytest.approx(1.0)}  # what a category is
    # slope 3: half as high again is borne 1.5³ times less often; a factor on the strength is one on the range
    assert put("fatigue", ranges_MPa=[[120, 2e6]], category=80, gamma=1)["damage"] == pytest.approx(1.5**3)
    assert put("fatigue", ranges_MPa=[[80, 2e6]], category=80, gamma=1.35)["damage"] == pytest.approx(1.35**3)
    # beyond the knee at 5e6, 0.737 of the category, slope 5 to the cut-off at 1e8, 0.405 of it
    low = 80 * 0.4 ** (1 / 3) * 0.8
    assert put("fatigue", ranges_MPa=[[low, 5e6]], category=80, gamma=1)["damage"] == pytest.approx(0.8**5)
    end = 80 * 0.4 ** (1 / 3) * 0.05 ** (1 / 5)
    assert put("fatigue", ranges_MPa=[[end * 1.0001, 1e8]], category=80, gamma=1)["damage"] == pytest.approx(
        1.0, rel=1e-3
    )
    assert put("fatigue", ranges_MPa=[[end * 0.999, 1e12]], category=80, gamma=1) == {
        "damage": 0.0,
        "life_repeats": None,
    }
    both = put("fatigue", ranges_MPa=[[80, 1e6], [120, 1e5]], category=80, gamma=1)["damage"]
    assert both == pytest.approx(0.5 + 1.5**3 / 20)


def test_deck_weigh_and_swing():
    d = put(
        "deck",
        deck={
            "axles": "1",
            "axle_mm": 3000,
            "empty_kg": 500,
            "empty_tongue_kg": 50,
            "cargo": [{"kg": 500, "front_mm": 1250, "long_mm": 1000}],
        },
        solve_block=0,
        solve_percent=10,
    )
    # the block's middle is 3000 behind the coupling, over the axle
    assert (d["total_kg"], d["tongue_kg"]) == (1000, pytest.approx(50)) and d[
        "tongue_percent"
    ] == pytest.approx(5)
    assert d["front_mm"] == pytest.approx(1250 - 300)
    assert put("weigh", method="beam", reading_kg=50, coupler_mm=300, scale_mm=900)[
        "tongue_kg"
    ] == pytest.approx(150)
    body = lambda lo, hi: {"name": "b", "low_mm": lo, "high_mm": hi}  # noqa: E731
    r = put(
        "swing",
        vehicle=[body([-1180, -900, 400], [-1080, 900, 700])],
        trailer=[body([-2600, -500, -50], [-600, 500, 400])],
        ball_mm=[-1400, 0, 450],
    )
    assert (
        r["left"]["angle_deg"] == pytest.approx(r["right"]["angle_deg"], abs=0.02)
        and 0 < r["left"]["angle_deg"] < 110
        and r["least_tongue_mm"] > 0
    )


@pytest.mark.parametrize(
    ("name", "question", "says"),
    [
        ("strap_anchor", {"pull_N": 1, "leg_angle_deg": 180, "break_N": 1, "legs": 2}, "leg_angle_deg"),
        ("strap_anchor", {"pull_N": 1, "leg_angle_deg": 10, "break_N": 1, "legs": 3}, "legs"),
        ("sway", {**RIG, "speeds_kmh": [0]}, "speeds_kmh"),
        ("sway", {**RIG, "vehicle": {**RIG["vehicle"], "C1_N_rad": -1}}, "C1_N_rad"),
        ("deck", {"deck": {"axle_mm": 9000}}, "behind the deck"),
        ("deck", {"deck": {}, "solve_block": 2}, "not on the deck"),
        (
            "weigh",
            {"method": "beam", "reading_kg": 1, "coupler_mm": 900, "scale_mm": 300},
            "beyond the scale",
        ),
        ("weigh", {"method": "guess"}, "method"),
        (
            "swing",
            {
                "vehicle": [{"name": "x", "low_mm": [0, 0, 0], "high_mm": [0, 1, 1]}],
                "trailer": [{"name": "y", "low_mm": [0, 0, 0], "high_mm": [1, 1, 1]}],
                "ball_mm": [0, 0, 0],
            },
            "no size",
        ),
    ],
)
def test_bad_road_questions_are_refused(name, question, says):
    with pytest.raises(CalcError, match=says) as refusal:
        ask(name, json.dumps(question))
    assert "\n" not in str(refusal.value)
