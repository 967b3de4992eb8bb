"""The jobs of the invented Tallow Creek workshop.

Every figure is made up.  The picture in the van's job is drawn here, by a pinhole camera at a made-up place.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np
from bumper_model import stands_behind
from common import HERE, answered, diagonals, holes, lived_with, noisy, sized, standing
from PIL import Image

from urial import families
from urial.families import _stack as stack
from urial.job import edit
from urial.job.duty import (
    Anchor,
    Ballast,
    Cargo,
    Carrier,
    Deck,
    Implement,
    Item,
    Link,
    Recovery,
    Weighing,
    Winch,
)
from urial.job.file import Document, load
from urial.job.host import HardPoint
from urial.job.model import Job
from urial.job.survey import (
    Block,
    Cone,
    Corner,
    Datum,
    Drum,
    Fix,
    Level,
    Mark,
    Photo,
    Pick,
    Spanner,
    Survey,
    Swing,
    TapeTo,
    WheelSweep,
)
from urial.measure import edges, photo
from urial.measure.places import known_places
from urial.measure.rectify import homography
from urial.measure.survey_photo import as_hard_point, picks_on_host, rectangle


def first_idea() -> Document:
    """The same job from the scrap rack: short, and stays so."""
    document = load(HERE / "first-idea.urial")
    return replace(document, job=sized(document.job, weld_chain_mm=9.525))


def rescue(path: str) -> Document:
    """The rescue post's crew cab, fully surveyed."""
    document = load(HERE / path)
    job = sized(
        document.job,
        weld_chain_mm=10.0,
        weld_mm=8.0,
        cross_tube="4x3x5/16",
        mouth_to_tube_mm=130.0,
        gusset_along_mm=50.0,
        pin_to_ball_mm=200.0,
        ball_drop_mm=75.0,
        bar_edge="bevelled",
        bar_material="A572-50",
        drop_plate_mm=31.75,
        drop_plate_width_mm=100.0,
        ball_plate_mm=31.75,
        ball_plate_width_mm=120.0,
        ball_plate_edge="bevelled",
        gusset_up_mm=50.0,
        permissible_kg=2000.0,
        middle_height_mm=820.0,
    )
    v = job.vehicle
    left = tuple(h.model_copy(update={"reach": "both", "wall_mm": 3.5}) for h in v.left)
    right = tuple(h.model_copy(update={"reach": "both", "wall_mm": 3.5}) for h in v.right)
    extra = {
        "left": (
            *left[:3],
            HardPoint(
                behind_mm=1040.0,
                height_mm=570.0,
                across_mm=515.0,
                hole_mm=22.0,
                keeps="tow hook",
                bolted=False,
                reach="outside",
            ),
        ),
        "right": right[:3],
    }
    job = job.with_vehicle(v.model_copy(update=extra))
    keeps = (
        Drum(
            name="spare wheel",
            reason="comes down on its winch behind the axle",
            axis="upright",
            diameter_mm=740,
            long_mm=240,
            behind_mm=440,
            height_mm=560,
            margin_mm=25,
            out_way="down",
            out_mm=300,
        ),
        Drum(
            name="exhaust",
            reason="hot, swings on its rubbers",
            axis="along",
            diameter_mm=65,
            long_mm=420,
            behind_mm=980,
            across_mm=-330,
            height_mm=330,
            margin_mm=40,
        ),
        Swing(
            name="tailgate",
            reason="must fold down flat over the ball",
            behind_mm=1120,
            height_mm=760,
            panel_mm=470,
            wide_mm=1350,
            start_deg=90,
            stop_deg=180,
            margin_mm=30,
        ),
        Cone(
            name="number plate",
            reason="must be seen from behind",
            behind_mm=1185,
            height_mm=790,
            across_mm=0,
            half_deg=15,
            long_mm=420,
            mouth_mm=260,
            margin_mm=0,
        ),
    )
    marks = (
        Mark(name="left hub", behind_mm=0, across_mm=800, height_mm=380),
        Mark(name="right hub", behind_mm=0, across_mm=-800, height_mm=380),
    )
    survey = Survey(marks=marks, keep_outs=keeps, tapes=diagonals(job))
    job = job.model_copy(update={"survey": survey})
    known = known_places(job.vehicle, survey)
    target = (-1275.0, 0.0, 402.0)
    fix = Fix(
        name="ball now",
        towards="rear",
        tapes=tuple(
            TapeTo(start=n, length_mm=noisy(math.dist(known[n], target), k))
            for k, n in enumerate(("left hub", "right hub", "L1", "R1", "L3"))
        ),
    )
    answers = answered(
        job,
        nut_room_mm=80,
        bar_mouth_to_pin_mm=63.5,
        pin_room_mm=260,
        empty_mm=480,
        loaded_mm=462,
        usable_mm=120,
        swing_mm=0,
    )
    cargo = (
        Cargo(name="stretcher sled", kg=640, front_mm=1000, long_mm=1700, wide_mm=700, high_mm=500),
        Cargo(
            name="water",
            kind="liquid",
            kg=260,
            least_kg=60,
            front_mm=620,
            across_mm=560,
            long_mm=700,
            wide_mm=600,
            high_mm=500,
            fill=80,
        ),
        Cargo(name="rope boxes", kg=210, front_mm=250, across_mm=-350, long_mm=500, wide_mm=900, high_mm=450),
        Cargo(
            name="fuel cans",
            kg=150,
            least_kg=40,
            front_mm=2900,
            across_mm=-500,
            long_mm=500,
            wide_mm=600,
            high_mm=450,
        ),
        Cargo(
            name="search dogs",
            kind="animal",
            kg=70,
            front_mm=2800,
            across_mm=420,
            long_mm=700,
            wide_mm=700,
            high_mm=600,
            fill=60,
        ),
    )
    deck = Deck(cargo=cargo)
    weighings = (
        Weighing(
            date="2026-05-04",
            method="beam",
            reading_kg=66.5,
            coupler_mm=300,
            scale_mm=900,
            axle_mm=3300,
            sigma_kg=0.5,
        ),
    )
    return Document(
        job.model_copy(
            update={
                "deck": deck,
                "weighings": weighings,
                "survey": survey.model_copy(
                    update={
                        "fixes": (fix,),
                        "answers": answers.model_copy(update={"swing_mm": 40.0}),
                        "levels": (Level(start="L1", end="L3", reading_deg=0.0),),
                    }
                ),
            }
        )
    )


def carrier() -> Document:
    """The rescue post's hitch carrier for a generator and a pump, and a strap now and then; no trailer."""
    job = sized(rescue("rescue-receiver.urial").job, weld_receiver_mm=10.0)
    duties = (
        Carrier(
            title="generator carrier",
            ground="unpaved",
            items=(
                Item(
                    name="generator",
                    kg=48,
                    behind_mm=380,
                    above_mm=330,
                    across_mm=260,
                    long_mm=420,
                    wide_mm=480,
                    high_mm=440,
                    in_behind_mm=330,
                    in_above_mm=420,
                ),
                Item(
                    name="pump",
                    kg=32,
                    behind_mm=380,
                    above_mm=300,
                    across_mm=-260,
                    long_mm=360,
                    wide_mm=420,
                    high_mm=380,
                    in_behind_mm=330,
                    in_above_mm=420,
                ),
                Item(
                    name="carrier frame",
                    kg=24,
                    behind_mm=330,
                    above_mm=60,
                    long_mm=560,
                    wide_mm=1150,
                    high_mm=50,
                    in_behind_mm=200,
                    in_above_mm=300,
                ),
            ),
        ),
        Recovery(title="kinetic strap", stuck_kg=900.0),
    )
    loaded = sized(job, chain_length_mm=80.0).model_copy(
        update={
            "title": "Rescue post: generator and pump on the hitch",
            "duties": duties,
            "deck": Deck(),
            "weighings": (),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )
    view, way = (
        "The board with lamps and plate goes on the deck's rear edge.",
        "The tailgate is opened unloaded.",
    )
    return Document(lived_with(loaded, view, way))


def picture(
    width: float, height: float, marks: list[tuple[float, float, float]]
) -> tuple[bytes, list[tuple[float, float]], list[tuple[float, float]]]:
    """A drawn photo of a rail with a sheet of paper on it: JPEG, true corners of the sheet and true holes
    in pixels.
    """
    eye, target, focal, size = (
        np.array([230.0, 190.0, 760.0]),
        np.array([150.0, 40.0, 0.0]),
        1500.0,
        (1500, 1000),
    )
    ahead = (target - eye) / np.linalg.norm(target - eye)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    turn = np.stack([right, np.cross(ahead, right), ahead])
    inside = np.array([[focal, 0, size[0] / 2], [0, focal, size[1] / 2], [0, 0, 1]])
    h = inside @ np.column_stack([turn[:, 0], turn[:, 1], -turn @ eye])
    back, sub = np.linalg.inv(h), 3
    grey = np.zeros((size[1], size[0]))
    for oy in (np.arange(sub) + 0.5) / sub - 0.5:
        for ox in (np.arange(sub) + 0.5) / sub - 0.5:
            x, y = np.meshgrid(np.arange(size[0]) + ox, np.arange(size[1]) + oy)
            w = back[2, 0] * x + back[2, 1] * y + back[2, 2]
            u, v = (
                (back[0, 0] * x + back[0, 1] * y + back[0, 2]) / w,
                (back[1, 0] * x + back[1, 1] * y + back[1, 2]) / w,
            )
            value = np.where(
                (v > -130) & (v < -40),
                0.46 + 0.03 * np.sin(u / 37) + 0.02 * np.sin(v / 3.1),
                0.24 + 0.02 * np.sin(u / 90),
            )
            value = np.where((v > -133) & (v < -130), 0.33, np.where((v > -40) & (v < -36), 0.62, value))
            value[(u > 0) & (u < width) & (v > 0) & (v < height)] = 0.93
            for k in range(4):  # writing on the sheet
                value[(u > 24) & (u < width - 40 - 15 * k) & (np.abs(v - height + 30 + 24 * k) < 2.0)] = 0.6
            for cu, cv, d in marks:
                value[(u - cu) ** 2 + (v - cv) ** 2 < (d / 2) ** 2] = 0.06
            grey += value
    grey = grey / sub**2 + np.random.default_rng(3).normal(0, 0.012, grey.shape)
    tint = np.clip(np.stack([grey * 1.0, grey * 1.01, grey * 1.04], axis=2), 0, 1)
    out = io.BytesIO()
    Image.fromarray((255 * tint).astype(np.uint8)).save(out, "JPEG", quality=92)

    def seen(uv: list[tuple[float, float]]) -> list[tuple[float, float]]:
        p = np.column_stack([np.array(uv), np.ones(len(uv))]) @ h.T
        return [(float(a), float(b)) for a, b in p[:, :2] / p[:, 2:]]

    return (
        out.getvalue(),
        seen([(0, 0), (width, 0), (width, height), (0, height)]),
        seen([(u, v) for u, v, _ in marks]),
    )


def van() -> Document:
    """The small van Plover: holes read off a photo with a sheet of paper on the rail."""
    job = families.survey_job("van")
    v = job.vehicle.model_copy(
        update={
            "name": "Plover",
            "left": holes([(562, 379, 13), (641, 378, 13), (722, 380, 13)], reach="outside", wall_mm=2.5),
            "right": holes([(560, 378, 13), (640, 378, 13), (720, 379, 13)], reach="outside", wall_mm=2.5),
        }
    )
    job = job.model_copy(
        update={"title": "Ramp carrier: van survey", "customer": "wheelchair user in the valley"}
    ).with_vehicle(v)
    # a sheet of paper taped above the rail, its lower left corner 500 behind and 460 high; rearward is to
    # the right
    at, card = (500.0, 460.0), (297.0, 210.0)
    marks = [(h.behind_mm - at[0], h.height_mm - at[1], h.hole_mm) for h in v.left]
    data, corners, spots = picture(*card, marks)
    kept = photo.store(data)
    grey = photo.grey(kept.data)
    found = [edges.snap_corner(grey, *c)[:2] for c in corners]
    h = homography(found, rectangle(Photo(width_mm=card[0], height_mm=card[1])))
    picks = []
    for n, (x, y) in enumerate(spots, 1):
        rim = edges.find_hole(grey, h, x + 2, y - 1, 45)
        picks.append(
            Pick(
                name=f"H{n}",
                px=round(rim.px, 3),
                py=round(rim.py, 3),
                hole_mm=round(2 * rim.radius, 2),
                sigma_px=0.2,
            )
        )
    rows = tuple(
        Corner(px=round(px, 3), py=round(py, 3), along_mm=u, up_mm=w)
        for (px, py), (u, w) in zip(found, rectangle(Photo(width_mm=card[0], height_mm=card[1])), strict=True)
    )
    shot = Photo(
        title="left rail, sheet of paper",
        file=kept.name,
        face="left",
        width_mm=card[0],
        height_mm=card[1],
        corners=rows,
        picks=tuple(picks),
        at_behind_mm=at[0],
        at_height_mm=at[1],
    )
    left = tuple(sorted((as_hard_point(f) for f in picks_on_host(shot, 0.5, v)), key=lambda p: p.behind_mm))
    left = tuple(p.model_copy(update={"reach": "outside", "wall_mm": 2.5}) for p in left)
    right = holes(
        [
            (left[0].behind_mm - 1.5, 378, 13),
            (left[1].behind_mm - 1, 379, 13),
            (left[2].behind_mm - 2, 379, 13),
        ],
        reach="outside",
        wall_mm=2.5,
    )
    job = job.with_vehicle(v.model_copy(update={"left": left, "right": right}))
    keeps = (
        Swing(
            name="tail door",
            reason="side-hinged, must open past the carrier",
            hinge="upright",
            behind_mm=790,
            across_mm=-680,
            height_mm=420,
            panel_mm=1320,
            wide_mm=1300,
            start_deg=0,
            stop_deg=100,
        ),
        Cone(
            name="parking sensor",
            reason="it would see the carrier",
            behind_mm=820,
            across_mm=380,
            height_mm=470,
            half_deg=25,
            long_mm=420,
            margin_mm=0,
        ),
        Cone(
            name="rear lamp",
            reason="must be seen from behind",
            behind_mm=815,
            across_mm=-640,
            height_mm=900,
            half_deg=30,
            long_mm=380,
            mouth_mm=120,
            margin_mm=0,
        ),
    )
    duty = job.duty.model_copy(
        update={"trailer_name": "ramp carrier", "trailer_mass_kg": 600.0, "tongue_mass_kg": 70.0}
    )
    survey = Survey(
        photos=(shot,),
        keep_outs=keeps,
        tape_sigma_mm=0.5,
        tapes=diagonals(job),
        answers=answered(
            job,
            nut_room_mm=45,
            bar_mouth_to_pin_mm=63.5,
            pin_room_mm=300,
            empty_mm=410,
            loaded_mm=400,
            usable_mm=0,
            swing_mm=1250,
        ),
    )
    return Document(
        job.model_copy(update={"survey": survey, "duty": duty}),
        attachments=MappingProxyType({kept.name: kept.data}),
    )


@dataclass(frozen=True)
class Whose:
    """The kind of host, the job's title, whose it is, the host's name, and what it carries."""

    kind: str
    title: str
    customer: str
    name: str
    tongue: float = 60.0
    units: str = "metric"
    duties: tuple[object, ...] = ()


def plain(
    whose: Whose, vehicle: dict[str, object], survey: dict[str, object], answers: dict[str, float]
) -> Document:
    """A survey of a kind of host with its own figures."""
    job = families.survey_job(whose.kind)
    v = type(job.vehicle).model_validate({**job.vehicle.model_dump(), "name": whose.name, **vehicle})
    duty = job.duty.model_copy(
        update={
            "trailer_name": "what it carries",
            "trailer_mass_kg": 10 * whose.tongue,
            "tongue_mass_kg": whose.tongue,
        }
    )
    job = Job.model_validate(
        {
            **{k: getattr(job, k) for k in Job.model_fields},
            "title": whose.title,
            "customer": whose.customer,
            "hosts": (v,),
            "duty": duty,
            "units": whose.units,
        }
    )
    full = Survey.model_validate(
        {**survey, "tapes": survey.get("tapes", diagonals(job)), "answers": answered(job, **answers)}
    )
    return Document(job.model_copy(update={"survey": full, "duties": whose.duties}))


def make() -> list[tuple[str, str, str, Document]]:
    """File, title, a line about it, document."""
    common = {"nut_room_mm": 60, "bar_mouth_to_pin_mm": 40, "pin_room_mm": 200, "usable_mm": 0}
    both = {"reach": "both"}
    return [
        (
            "rescue-receiver.urial",
            "Crew cab rear receiver",
            "Rear receiver and drop ball mount for the rescue post's Marram 300, towing a two-axle "
            "stretcher-sled trailer. Surveyed in full. In millimetres.",
            rescue("rescue-receiver.urial"),
        ),
        (
            "first-idea.urial",
            "The first idea, from the scrap rack",
            "The same job with what lay about: 2 1/2 in tube and a 1/4 in gusset. Short in places; "
            "see what would mend it. In inches.",
            first_idea(),
        ),
        (
            "generator-carrier.urial",
            "Generator and pump on the hitch",
            "A hitch carrier on the rescue post's Marram 300, off the pavement, and a recovery strap; "
            "no trailer. Judged by the same receiver.",
            carrier(),
        ),
        (
            "ramp-van.urial",
            "Van survey off a photo",
            "The small van Plover for a wheelchair-ramp carrier: its holes read off a photo with a "
            "sheet of paper on the rail.",
            van(),
        ),
        (
            "dairy-car.urial",
            "Car survey",
            "The dairy's round car Dunnock for a sample-box carrier, in inches, the right side 6 mm "
            "back of the left.",
            plain(
                Whose(
                    "car", "Dairy: sample box carrier", "alpine dairy", "Dunnock", tongue=60.0, units="inch"
                ),
                {
                    "left": holes([(600, 428, 13), (690, 428, 13), (750, 428, 13)], **both),
                    "right": holes([(606, 428, 13), (696, 427, 13), (756, 428, 13)], **both),
                },
                {
                    "keep_outs": (
                        Swing(
                            name="hatch",
                            reason="must open over the box",
                            behind_mm=860,
                            height_mm=1560,
                            panel_mm=880,
                            wide_mm=1150,
                        ),
                        Block(
                            name="bumper skin",
                            reason="plastic, painted",
                            behind_mm=810,
                            long_mm=110,
                            height_mm=360,
                            high_mm=300,
                            wide_mm=1500,
                            margin_mm=10,
                        ),
                    )
                },
                {**common, "empty_mm": 430, "loaded_mm": 421, "swing_mm": 390},
            ),
        ),
        (
            "river-utility.urial",
            "Utility vehicle survey",
            "The river-survey crew's buggy Reedling: a bed-rail winch cradle, found by tapes from "
            "hubs and holes.",
            utility(),
        ),
        (
            "generator-quad.urial",
            "Quad survey",
            "The quad Sorrel for the milk-churn trailer's drawbar: two threaded holes a side, racks "
            "to keep clear of.",
            plain(
                Whose("quad", "Dairy: churn trailer on the quad", "alpine dairy", "Sorrel", tongue=38.0),
                {
                    "left": holes(
                        [(250, 430, 11), (330, 431, 11)],
                        fixing="threaded",
                        thread="M10",
                        thread_grade="8.8",
                        wall_mm=12,
                        **both,
                    ),
                    "right": holes(
                        [(251, 430, 11), (331, 430, 11)],
                        fixing="threaded",
                        thread="M10",
                        thread_grade="8.8",
                        wall_mm=12,
                        **both,
                    ),
                },
                {
                    "keep_outs": (
                        WheelSweep(
                            name="rear wheels",
                            reason="tyre at full bump",
                            bump_mm=110,
                            droop_mm=70,
                            margin_mm=30,
                        ),
                        Drum(
                            name="silencer",
                            reason="hot",
                            axis="along",
                            diameter_mm=110,
                            long_mm=330,
                            behind_mm=250,
                            across_mm=-190,
                            height_mm=560,
                            margin_mm=40,
                        ),
                    )
                },
                {**common, "empty_mm": 452, "loaded_mm": 440, "swing_mm": 0},
            ),
        ),
        (
            "courier-two-wheeler.urial",
            "Two-wheeler survey",
            "The rescue post's medic bike Wheatear, for a low litter hitch: foot-peg and grab-rail "
            "bolts, panniers in the way.",
            plain(
                Whose(
                    "two-wheeler",
                    "Rescue post: medic bike hitch",
                    "mountain rescue post",
                    "Wheatear",
                    tongue=28.0,
                ),
                {
                    "left": holes(
                        [(-330, 380, 9), (90, 720, 9)],
                        fixing="threaded",
                        thread="M8",
                        wall_mm=14,
                        reach="outside",
                    ),
                    "right": holes(
                        [(-328, 381, 9), (91, 720, 9)],
                        fixing="threaded",
                        thread="M8",
                        wall_mm=14,
                        reach="outside",
                    ),
                },
                {
                    "keep_outs": (
                        Block(
                            name="left pannier",
                            reason="stays on",
                            behind_mm=-80,
                            long_mm=430,
                            across_mm=260,
                            wide_mm=190,
                            height_mm=480,
                            high_mm=320,
                        ),
                        Block(
                            name="right pannier",
                            reason="stays on",
                            behind_mm=-80,
                            long_mm=430,
                            across_mm=-260,
                            wide_mm=190,
                            height_mm=480,
                            high_mm=320,
                        ),
                        Drum(
                            name="chain run",
                            reason="moves with the swing arm",
                            axis="along",
                            diameter_mm=90,
                            long_mm=560,
                            behind_mm=-300,
                            across_mm=95,
                            height_mm=330,
                            margin_mm=25,
                        ),
                    )
                },
                {**common, "empty_mm": 300, "loaded_mm": 287, "swing_mm": 0},
            ),
        ),
        (
            "spreader-tractor.urial",
            "Tractor survey",
            "The compact tractor Teasel 28 for a three-point hay-net spreader: casting bolts, linkage "
            "and the room round them.",
            plain(
                Whose(
                    "tractor",
                    "Dairy: hay-net spreader",
                    "alpine dairy",
                    "Teasel 28",
                    tongue=100.0,
                    duties=(
                        Implement(
                            title="hay-net spreader",
                            kg=150,
                            payload_kg=140,
                            behind_mm=520,
                            tip_mm=980,
                            draft_N=1500,
                        ),
                        Ballast(title="winter ballast", kg=160, behind_mm=820, grip=0.35),
                    ),
                ),
                {
                    "left": holes(
                        [(180, 560, 16), (260, 480, 16)],
                        fixing="threaded",
                        thread="M16",
                        wall_mm=30,
                        reach="outside",
                    ),
                    "right": holes(
                        [(180, 561, 16), (260, 480, 16)],
                        fixing="threaded",
                        thread="M16",
                        wall_mm=30,
                        reach="outside",
                    ),
                },
                {
                    "keep_outs": (
                        Drum(
                            name="power take-off",
                            reason="shield and shaft turn here",
                            axis="along",
                            diameter_mm=260,
                            long_mm=420,
                            behind_mm=430,
                            height_mm=560,
                            margin_mm=50,
                        ),
                        Drum(
                            name="left rear tyre",
                            reason="mud on the lugs",
                            axis="across",
                            diameter_mm=980,
                            long_mm=290,
                            behind_mm=0,
                            across_mm=525,
                            height_mm=490,
                            margin_mm=40,
                        ),
                        Spanner(
                            name="drain plug",
                            reason="oil is changed every season",
                            behind_mm=120,
                            height_mm=320,
                            across_mm=0,
                            axis="upright",
                            start_deg=20,
                            stop_deg=160,
                            margin_mm=0,
                        ),
                    )
                },
                {**common, "empty_mm": 420, "loaded_mm": 418, "swing_mm": 0},
            ),
        ),
        (
            "river-trailer.urial",
            "Trailer survey",
            "The river-survey crew's flat trailer Dipper, for a winch base and boat cradles, measured "
            "from the coupling.",
            plain(
                Whose(
                    "trailer",
                    "River crew: winch base on the trailer nose",
                    "river-survey crew",
                    "Dipper",
                    tongue=90.0,
                ),
                {
                    "left": holes([(1450, 520, 13), (1650, 520, 13)], **both),
                    "right": holes([(1450, 520, 13), (1651, 520, 13)], **both),
                },
                {
                    "keep_outs": (
                        Drum(
                            name="jockey wheel",
                            reason="winds up here",
                            axis="upright",
                            diameter_mm=230,
                            long_mm=700,
                            behind_mm=420,
                            across_mm=140,
                            height_mm=420,
                        ),
                        Block(
                            name="boat bow",
                            reason="carried every day",
                            behind_mm=1350,
                            long_mm=900,
                            wide_mm=700,
                            height_mm=640,
                            high_mm=380,
                            margin_mm=40,
                        ),
                    )
                },
                {**common, "empty_mm": 560, "loaded_mm": 556, "usable_mm": 150},
            ),
        ),
        (
            "river-post.urial",
            "Post survey",
            "A larch trunk by the gauging station, for a strap anchor with swinging arms, measured "
            "from its middle.",
            plain(
                Whose(
                    "post",
                    "River crew: anchor on the trunk",
                    "river-survey crew",
                    "Larch by the weir",
                    tongue=60.0,
                    duties=(
                        Anchor(
                            title="boat line",
                            pull_N=8000,
                            angle_deg=70,
                            height_mm=750,
                            length_m=14,
                            links=(
                                Link(name="trunk strap", legs=True, limit_N=60_000),
                                Link(name="bow shackle", what="shackle", limit_N=20_000, marked="working"),
                                Link(name="ring", what="ring", limit_N=32_000),
                                Link(name="hand winch rope", what="rope", limit_N=38_000),
                            ),
                        ),
                    ),
                ),
                {
                    "left": holes([(0, 650, 17), (0, 850, 17)], **both),
                    "right": holes([(0, 652, 17), (0, 851, 17)], **both),
                    "width_mm": 260.0,
                    "top_mm": 2400.0,
                    "buried_mm": 0.0,
                },
                {
                    "keep_outs": (
                        Block(
                            name="gauge board",
                            reason="must be read from the bank",
                            behind_mm=-180,
                            long_mm=60,
                            wide_mm=260,
                            height_mm=200,
                            high_mm=900,
                            margin_mm=10,
                        ),
                    ),
                    "square_to": "rail",
                },
                {**common, "usable_mm": 60},
            ),
        ),
    ]


def utility() -> Document:
    """The buggy: a place found by tapes."""
    document = plain(
        Whose(
            "utility", "River crew: winch cradle on the buggy", "river-survey crew", "Reedling", tongue=62.0
        ),
        {
            "left": holes([(420, 410, 11), (500, 411, 11)], reach="both"),
            "right": holes([(421, 410, 11), (502, 410, 11)], reach="both"),
        },
        {
            "keep_outs": (
                Swing(
                    name="tailgate",
                    reason="must fold down",
                    behind_mm=600,
                    height_mm=640,
                    panel_mm=380,
                    wide_mm=1150,
                    start_deg=90,
                    stop_deg=180,
                ),
                WheelSweep(name="rear wheels", reason="full bump", bump_mm=140, droop_mm=90, margin_mm=30),
            )
        },
        {
            "nut_room_mm": 55,
            "bar_mouth_to_pin_mm": 63.5,
            "pin_room_mm": 220,
            "empty_mm": 455,
            "loaded_mm": 445,
            "usable_mm": 0,
            "swing_mm": 60,
        },
    )
    job = document.job.model_copy(
        update={
            "duties": (
                Winch(
                    title="capstan winch",
                    rated_N=9000,
                    behind_mm=150,
                    above_mm=120,
                    drum_mm=57,
                    drum_width_mm=120,
                    rope_mm=6,
                    rope_m=22,
                    rope_out_m=10,
                ),
            )
        }
    )
    marks = (
        Mark(name="left hub", behind_mm=0, across_mm=640, height_mm=330),
        Mark(name="right hub", behind_mm=0, across_mm=-640, height_mm=330),
    )
    survey = job.survey.model_copy(
        update={"marks": marks, "datum": Datum(called="left hub", behind_mm=0, across_mm=640, height_mm=330)}
    )
    known = known_places(job.vehicle, survey)
    target = (-690.0, 20.0, 520.0)
    tapes = tuple(
        TapeTo(start=n, length_mm=noisy(math.dist(known[n], target), 20 + k))
        for k, n in enumerate(("left hub", "right hub", "L1", "R1", "R2"))
    )
    return Document(
        job.model_copy(
            update={
                "survey": survey.model_copy(
                    update={"fixes": (Fix(name="winch foot", towards="rear", tapes=tapes),)}
                )
            }
        )
    )


def parts(surveys: dict[str, Document]) -> list[tuple[str, str, str, Document]]:
    """A part of each further kind, on the hosts surveyed above."""
    ramp = standing(
        "front-receiver",
        surveys["ramp-van.urial"],
        "Ramp carrier: front receiver",
        "wheelchair user in the valley",
        weld_receiver_mm=6.0,
    )
    beam, beam_data = stands_behind(ramp.vehicle)
    ramp = ramp.model_copy(
        update={
            "duties": (
                Carrier(
                    title="ramp carrier",
                    items=(
                        Item(
                            name="ramp",
                            kg=31,
                            behind_mm=250,
                            above_mm=340,
                            long_mm=150,
                            wide_mm=820,
                            high_mm=600,
                        ),
                        Item(
                            name="carrier frame",
                            kg=11,
                            behind_mm=170,
                            above_mm=50,
                            long_mm=240,
                            wide_mm=640,
                            high_mm=50,
                        ),
                    ),
                ),
            )
        }
    )
    bare = stack.take_off(rescue("rescue-receiver.urial").job, "2")
    plate = families.with_marks(stack.put_on(bare, "flat-carrier", "1", "1/receiver"))
    plate = plate.model_copy(
        update={
            "title": "Rescue post: tool plate on the hitch",
            "deck": Deck(),
            "weighings": (),
            "duties": (
                Carrier(
                    title="tool plate",
                    ground="unpaved",
                    items=(
                        Item(
                            name="cutter box",
                            kg=22,
                            behind_mm=300,
                            above_mm=130,
                            long_mm=240,
                            wide_mm=430,
                            high_mm=230,
                        ),
                        Item(
                            name="fuel can",
                            kg=13,
                            behind_mm=300,
                            above_mm=70,
                            across_mm=150,
                            long_mm=170,
                            wide_mm=150,
                            high_mm=340,
                        ),
                    ),
                ),
            ),
        }
    )
    bike = standing(
        "two-wheeler",
        surveys["courier-two-wheeler.urial"],
        "Rescue post: litter hitch on the medic bike",
        "mountain rescue post",
        brace_up_mm=70.0,
    )
    anchor = standing(
        "trunk-anchor",
        surveys["river-post.urial"],
        "River crew: swinging-arm anchor by the weir",
        "river-survey crew",
        height_mm=420.0,
        most_mm=420.0,
    )
    anchor = anchor.model_copy(
        update={
            "duties": (
                Anchor(
                    title="boat line",
                    pull_N=8000,
                    angle_deg=70,
                    height_mm=420,
                    length_m=14,
                    factors={"pull left/turn": 10.0, "pull right/turn": -10.0},
                ),
            )
        }
    )
    carriage = standing(
        "three-point-carriage",
        surveys["spreader-tractor.urial"],
        "Dairy: fork carriage for the hay-net spreader",
        "alpine dairy",
    )
    carriage = carriage.model_copy(
        update={
            "duties": (
                Implement(
                    title="hay-net spreader on forks",
                    kg=110,
                    payload_kg=120,
                    behind_mm=480,
                    tip_mm=930,
                    depth_mm=0,
                    draft_N=0,
                ),
            )
        }
    )
    boats = standing(
        "rail-cradle",
        surveys["river-trailer.urial"],
        "River crew: boat cradles on the trailer rails",
        "river-survey crew",
    )
    for side, at in (("right", 700.0), ("right", 2100.0)):
        boats = stack.put_on(boats, "rail-cradle", "host", "side rail")
        boats = edit.put(
            edit.put(boats, f"stack.{boats.stack[-1].id}.side", side),
            f"stack.{boats.stack[-1].id}.along_mm",
            at,
        )
    boats = families.with_marks(
        boats.model_copy(
            update={
                "duties": (
                    Carrier(
                        title="two boats",
                        ground="unpaved",
                        items=(
                            Item(
                                name="left boat",
                                kg=42,
                                across_mm=475,
                                above_mm=190,
                                long_mm=3400,
                                wide_mm=380,
                                high_mm=320,
                            ),
                            Item(
                                name="right boat",
                                kg=42,
                                across_mm=-475,
                                above_mm=190,
                                long_mm=3400,
                                wide_mm=380,
                                high_mm=320,
                            ),
                        ),
                    ),
                )
            }
        )
    )
    return [
        (
            "ramp-front-receiver.urial",
            "Front receiver for a ramp",
            "On the small van Plover's tow-eye bolts, plates in pairs round the tow hook, a bore for "
            "the wheelchair-ramp carrier.",
            Document(
                edit.put(ramp, "survey.backdrops", (beam,)),
                attachments=MappingProxyType({beam.file: beam_data}),
            ),
        ),
        (
            "tool-plate.urial",
            "Tool plate on the hitch",
            "A flat carrier in the rescue post's receiver: a cutter box and a fuel can on a tapped "
            "plate with a rim.",
            Document(lived_with(plate, "The plate and its lamp go on the tool plate's rim.")),
        ),
        (
            "medic-bike-hitch.urial",
            "Hitch on the medic bike",
            "Bent tubes and coped braces on the Wheatear's seat and peg bolts, a boxed nose with a "
            "ball for the litter trailer. Its maker gives no limit.",
            Document(bike),
        ),
        (
            "weir-anchor.urial",
            "Anchor on a trunk",
            "Swinging arms and two straps on the larch by the weir, for trunks of 180 to 420 mm, "
            "judged on the thinnest and the thickest.",
            Document(anchor),
        ),
        (
            "hay-net-carriage.urial",
            "Fork carriage on the tractor",
            "A three-point frame on the compact tractor Teasel 28: forks that slide between stops, "
            "rows of pin holes, a bore under them.",
            Document(carriage),
        ),
        (
            "boat-cradles.urial",
            "Boat cradles on the trailer",
            "Four J-shaped cradles clamped to the rails of the flat trailer Dipper for the river "
            "crew's two boats.",
            Document(boats),
        ),
    ]
