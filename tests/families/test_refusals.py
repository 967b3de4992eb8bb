"""Sizes that cannot be built: the sentence names the two that disagree, and what it advises mends it."""

import re

import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.job import edit

ROWS = [
    # kind, what is typed, what the sentence says, what it advises
    (
        "drawbar",
        {"chain_hook_mm": 20.0},
        "20 mm shackle does not go into a 18 mm chain hole",
        {"chain_hole_mm": 21.0},
    ),
    ("drawbar", {"nose_mm": 180.0}, "no room for the coupler's bolts", {"nose_mm": 420.0}),
    (
        "drawbar",
        {"end": "lunette", "first_mm": 40.0},
        "set it farther back with “ball to first bolt”",
        {"first_mm": 130.0},
    ),
    ("drawbar", {"apart_mm": 20.0}, "under 2.67 diameters", {"apart_mm": 33.0}),
    ("flat-trailer", {"rails_mm": 1400.0}, "1400 mm apart under a bed", {"rails_mm": 900.0}),
    ("flat-trailer", {"rails_mm": 205.0}, "no room for the tongue", {"rails_mm": 900.0}),
    (
        "flat-trailer",
        {"under": 6.0, "crosses": 3.0},
        "welded to 6 cross members; there are 3",
        {"under": 2.0},
    ),
    ("flat-trailer", {"pad": "100x100x5"}, "pads are wider than the flat of the axle", {"pad": "50x50x5"}),
    (
        "two-wheeler",
        {"chain_hook_mm": 30.0, "chain_hole_mm": 14.0},
        "chain hook does not go into a 14 mm hole",
        {"chain_hook_mm": 12.0},
    ),
    (
        "two-wheeler",
        {"chain_hole_mm": 40.0},
        "make the box deeper or the hole smaller",
        {"chain_hole_mm": 16.0},
    ),
    ("rack-carrier", {"beam_mm": 300.0}, "make it", {"arms": 1.0, "first_mm": 200.0}),
    ("rack-carrier", {"first_mm": 60.0}, "set it farther back", {"first_mm": 200.0}),
    ("rack-carrier", {"cheek_high_mm": 52.0}, "leave no room beside the", {"cheek_high_mm": 90.0}),
    ("winch-base", {"gussets_mm": 700.0}, "gussets stand 700 mm apart", {"gussets_mm": 120.0}),
    ("winch-base", {"table_long_mm": 500.0}, "make the foot longer or the table shorter", {"foot_mm": 520.0}),
    ("winch-base", {"lap_mm": 300.0}, "run into the gusset", {"lap_mm": 60.0}),
    ("winch-cradle", {"across_mm": 60.0}, "turn the winch or take a narrower shank", {"across_mm": 254.0}),
    ("winch-cradle", {"floor_wide_mm": 260.0}, "make the plate at least", {"floor_wide_mm": 330.0}),
    ("three-point-carriage", {"spread_mm": 2000.0}, "set them between", {"spread_mm": 460.0}),
    (
        "three-point-carriage",
        {"least_mm": 80.0, "spread_mm": 200.0},
        "let the least be 84 mm",
        {"least_mm": 84.0},
    ),
    ("three-point-carriage", {"shift_mm": 590.0}, "run over the ends of the fork bar", {"shift_mm": 0.0}),
    ("three-point-carriage", {"pitch_mm": 30.0}, "run into each other", {"pitch_mm": 60.0}),
    ("three-point-carriage", {"pin_reach_mm": 12.0}, "make them longer", {"pin_reach_mm": 30.0}),
    ("bumper-receiver", {"wide_mm": 700.0}, "make it wider", {"wide_mm": 1800.0}),
    ("bumper-receiver", {"fold_mm": 12.0}, "too narrow for its radius", {"fold_mm": 40.0}),
    (
        "bumper-receiver",
        {"tab_pin_mm": 40.0, "tab_hole_mm": 25.0},
        "40 mm shackle pin does not go into a 25 mm eye",
        {"tab_pin_mm": 22.0},
    ),
    ("ballast-rack", {"ear_edge_mm": 10.0}, "round a", {"ear_edge_mm": 30.0}),
    ("ballast-rack", {"post_mm": 150.0}, "take a wider arm", {"post_mm": 60.0}),
    ("badge-cover", {"high_mm": 60.0}, "make it larger", {"high_mm": 160.0}),
    ("bought-insert", {"out_mm": 100.0, "bar_mm": 400.0}, "measure both again", {"out_mm": 380.0}),
    ("bought-insert", {"old_hole_mm": 50.0}, "leaves nothing of a bar", {"old_hole_mm": 16.0}),
    ("clevis-tongue", {"metal_mm": 14.0}, "make the pin's middle at least", {"metal_mm": 32.0}),
    ("clevis-tongue", {"ear_high_mm": 55.0}, "make it at least", {"ear_high_mm": 90.0}),
    ("clevis-tongue", {"eye_mm": 80.0}, "between the ears", {"eye_mm": 30.0}),
    ("flat-carrier", {"high_mm": 60.0}, "no metal beside the", {"high_mm": 140.0}),
    (
        "flat-carrier",
        {"wide_mm": 80.0, "hole_spread_mm": 20.0, "tab": "1/2"},
        "make it wider",
        {"wide_mm": 500.0, "hole_spread_mm": 360.0},
    ),
    ("flat-carrier", {"hole_spread_mm": 60.0}, "set them farther apart", {"hole_spread_mm": 360.0}),
    ("flat-carrier", {"plug_mm": 40.0}, "do not fit into a tab", {"plug_mm": 16.0}),
    ("flat-carrier", {"tab_mm": 390.0}, "shorten them", {"tab_mm": 130.0}),
    ("front-rail", {"bend_mm": 600.0}, "bend tighter or set the posts farther out", {"bend_mm": 90.0}),
    ("front-rail", {"brace_up_mm": 900.0}, "bring it down by", {"brace_up_mm": 200.0}),
    (
        "front-rail",
        {"spools": 5.0, "pitch_mm": 400.0},
        "run into the bends",
        {"spools": 2.0, "pitch_mm": 200.0},
    ),
    ("front-receiver", {"outrigger_mm": 300.0}, "shorten it or give the tube more", {"outrigger_mm": 80.0}),
    ("front-receiver", {"hole_edge_mm": 6.0}, "leaves no edge beside a", {"hole_edge_mm": 30.0}),
    ("hook-plate", {"row": 5.0, "rows": 2.0}, "no row 5", {"row": 1.0}),
    ("hook-plate", {"edge_mm": 10.0}, "ends 10 mm past its rows", {"edge_mm": 40.0}),
    ("pintle", {"base_wide_mm": 50.0}, "make it wider", {"base_wide_mm": 140.0}),
    ("post-mount", {"margin_mm": 15.0}, "leave at least", {"margin_mm": 40.0}),
    ("post-mount", {"lap_mm": 15.0}, "leave at least", {"lap_mm": 60.0}),
    (
        "ball-mount",
        {"shape": "holes", "ball_drop_mm": 110.0, "hole": 9.0},
        "there are 4; set it to one of them",
        {"hole": 2.0},
    ),
    (
        "ball-mount",
        {"shape": "holes", "ball_drop_mm": 110.0, "pitch_mm": 20.0},
        "too close for M16 bolts",
        {"pitch_mm": 60.0},
    ),
    (
        "ball-mount",
        {"shape": "holes", "ball_drop_mm": 110.0, "slide_mm": 40.0},
        "move the ball out",
        {"slide_mm": 15.0},
    ),
    (
        "ball-mount",
        {"shape": "holes", "ball_drop_mm": 110.0, "drop_plate_width_mm": 40.0},
        "too narrow round",
        {"drop_plate_width_mm": 85.0},
    ),
]


def sized(kind, sizes):
    job = families.new_job(kind) if kind != "ball-mount" else families.new_job("rear-receiver")
    number = next(p.id for p in job.stack if p.family == kind)
    for key, value in sizes.items():
        job = edit.put(job, f"stack.{number}.{key}", value)
    return job


@pytest.mark.parametrize(
    ("kind", "typed", "says", "advice"), ROWS, ids=[f"{r[0]}: {r[2][:40]}" for r in ROWS]
)
def test_what_cannot_be_built_is_refused_in_a_sentence_that_mends_it(kind, typed, says, advice):
    with pytest.raises(BuildError) as refused:
        families.build(sized(kind, typed))
    sentence = str(refused.value)
    assert says in sentence, sentence
    assert sentence.endswith(".") and "\n" not in sentence and re.search(r"\d", sentence)
    assert families.build(sized(kind, {**typed, **advice})).parts


@pytest.mark.parametrize("kind", sorted({row[0] for row in ROWS}))
def test_what_is_refused_leaves_the_kind_as_it_was(kind):
    before = families.build(sized(kind, {}))
    for typed in (row[1] for row in ROWS if row[0] == kind):
        with pytest.raises(BuildError):
            families.build(sized(kind, typed))
    after = families.build(sized(kind, {}))
    assert [p.key for p in before.parts] == [p.key for p in after.parts]
    assert before.parts == after.parts and before.joints == after.joints
