"""The bench calculators of the drawer: one question each, what it takes from the job, its answer in words,
its picture.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen

from urial import units
from urial.assembly.model import Bolts, Pin
from urial.calc.registry import Answer
from urial.desk.scene.canvas import Canvas
from urial.desk.tool import Ask, Put, Tool, Values, blue, pen, room, shown
from urial.desk.tool_slots import SLOT_BEND
from urial.geometry import profile
from urial.job.duty import Anchor
from urial.job.host import Wheeled
from urial.job.model import Job
from urial.prove.ratings import ball_overhang
from urial.prove.verdict import Verdict
from urial.road.stance import stance
from urial.stock import catalogue

# ---- how much must the ball drop?


def _ball_mount(v: Verdict) -> str:
    piece = v.job.piece("ball-mount")
    return piece.id if piece else ""


def _hung(v: Verdict) -> float | None:
    try:
        return stance(v.job, v.assembly, []).squat_mm
    except (AssertionError, KeyError):
        return None


def _ball_high(v: Verdict) -> float | None:
    number = _ball_mount(v)
    if not number or "ball" not in v.assembly.places:
        return None
    values = next(p.values for p in v.job.stack if p.id == number)
    return catalogue.ball(getattr(values, "ball", "2 in, 1 shank")).height


def _drop_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    drop = float(a["drop_mm"])
    way = "drop" if drop >= 0 else "rise"
    return (
        f"{way} {shown(abs(drop), 'length', job)}",
        "From the middle of the bore down to the ball plate's top, hitched and loaded, the trailer level.",
    )


def _drop_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    bore, top = q["receiver_mm"] - q["squat_mm"], q["coupler_mm"]
    seat = bore - a["drop_mm"]
    high, low = max(bore, top, seat + q["ball_mm"]) + 60, min(bore, seat) - 90
    c.fit((-320, -high), (420, -low), room(c))
    p.setBrush(QColor(c.theme.palette.steel))
    p.setPen(pen(c, "ink", 1.2))
    p.drawRect(QRectF(c.at(-300, -bore - 38), c.at(0, -bore + 38)).normalized())
    p.drawRect(QRectF(c.at(0, -max(bore + 32, seat)), c.at(26, -min(bore - 32, seat - 20))).normalized())
    p.drawRect(QRectF(c.at(26, -seat), c.at(170, -seat + 20)).normalized())
    p.drawEllipse(c.at(110, -seat - q["ball_mm"]), 25 * c.scale, 25 * c.scale)
    p.setPen(QPen(blue(c), 1.5, Qt.PenStyle.DashLine))
    p.drawLine(c.at(60, -top), c.at(400, -top))
    c.tag(p, c.at(310, -top) - QPointF(0, c.theme.px(12)), "coupler")


# ---- what does each leg pull?


def _anchor(v: Verdict, name: str) -> float | None:
    duty = next((d for d in v.job.duties if isinstance(d, Anchor)), None)
    return float(getattr(duty, name)) if duty is not None else None


def _leg_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    used = float(a["utilisation"])
    state = "over its limit" if used >= 1 else "holds"
    return (
        f"{shown(a['leg_N'], 'force', job)} in each leg",
        f"{100 * used:.0f} % of the working limit of {shown(a['working_limit_N'], 'force', job)}: {state}.",
        "Planning value; webbing wears and knots halve it.",
    )


def _leg_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    half = math.radians(min(q["angle_deg"], 170.0)) / 2
    c.fit((-0.75, -1.0), (1.1, 1.0), room(c))
    ring, over = c.at(0, 0), float(a["utilisation"]) >= 1
    ends = [c.at(math.cos(half), s * math.sin(half)) for s in (-1, 1)] if q["legs"] >= 1.5 else [c.at(1, 0)]
    p.setPen(pen(c, "brick" if over else "slate", 4))
    for end in ends:
        p.drawLine(ring, end)
    p.setBrush(QColor(c.theme.palette.ink))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawEllipse(ring, 6, 6)
    c.arrow(p, ring, c.at(-0.7, 0), blue(c))
    if len(ends) == 2:
        c.tag(p, c.at(0.32, 0), f"{q['angle_deg']:.0f}°", bold=True)


# ---- how tight?


def _first_bolts(v: Verdict, what: str) -> str | None:
    how = next((j.how for j in v.assembly.joints if isinstance(j.how, Bolts)), None)
    return None if how is None else how.bolt.name if what == "bolt" else how.grade.name


def _torque_data(q: Values) -> dict[str, Any]:
    bolt = catalogue.bolt(q["bolt"])
    grade = catalogue.bolt_grade(q["grade"]).of(bolt.diameter)
    return {
        "diameter_mm": bolt.diameter,
        "stress_area_mm2": bolt.stress_area,
        "proof_MPa": grade.proof,
        "k": q["k"],
    }


def _torque_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    nm = 1000 * float(a["torque_Nm"])
    return (
        shown(nm, "moment", job),
        f"Oiled threads (K 0.15): {shown(nm * 0.15 / q['k'], 'moment', job)}. It pulls with "
        f"{shown(a['preload_N'], 'force', job)}, three quarters of proof.",
        "Retorque after the first trip.",
    )


def _torque_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    bolt = catalogue.bolt(q["bolt"])
    d, wide = bolt.diameter, bolt.across_flats
    c.fit((-wide, -wide), (5.2 * d + wide, wide), room(c))
    p.setPen(pen(c, "ink", 1.2))
    p.setBrush(QColor(c.theme.palette.steel))
    p.drawRect(QRectF(c.at(0, -wide / 2), c.at(bolt.head, wide / 2)).normalized())
    p.drawRect(QRectF(c.at(bolt.head, -d / 2), c.at(bolt.head + 4.2 * d, d / 2)).normalized())
    for k in range(8):
        x = bolt.head + 2.6 * d + 0.2 * d * k
        p.drawLine(c.at(x, -d / 2), c.at(x + 0.1 * d, d / 2))
    c.tag(p, c.at(bolt.head + 2 * d, 0) + QPointF(0, c.theme.px(34)), bolt.name, bold=True)


# ---- does the pin hold?


def _pin_of(v: Verdict, what: str) -> float | None:
    how = next((j.how for j in v.assembly.joints if isinstance(j.how, Pin)), None)
    return None if how is None else float(getattr(how, what))


def _pin_data(q: Values) -> dict[str, Any]:
    steel, plate = catalogue.material(q["steel"]), catalogue.material(q["plate_steel"])
    return {
        "load_N": q["load_N"],
        "diameter_mm": q["diameter_mm"],
        "Fu_MPa": steel.Fu,
        "Fy_MPa": steel.Fy,
        "outer_thickness_mm": q["outer_mm"],
        "inner_thickness_mm": q["inner_mm"],
        "gap_mm": q["gap_mm"],
        "plate_Fy_MPa": plate.Fy,
    }


def _pin_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    rows = {
        "shear": a["shear"],
        "bending": a["bending"],
        "outer walls": a["bearing_outer"],
        "inner part": a["bearing_inner"],
    }
    worst = max(rows, key=lambda k: rows[k]["utilisation"])
    used = float(rows[worst]["utilisation"])
    return (
        f"{100 * used:.0f} % used: {worst}",
        "; ".join(f"{k} {100 * r['utilisation']:.0f} %" for k, r in rows.items()) + ".",
        "Allowable stress (Ω 2.00 and 1.67); a planning value.",
    )


def _pin_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    d, to, ti, gap = q["diameter_mm"], q["outer_mm"], q["inner_mm"], q["gap_mm"]
    half = ti / 2 + gap + to
    c.fit((-half * 1.25, -2.2 * d), (half * 1.25, 2.2 * d), room(c))
    p.setPen(pen(c, "ink", 1.2))
    p.setBrush(QColor(c.theme.palette.well))
    for x0, x1 in ((-half, -half + to), (half - to, half)):
        p.drawRect(QRectF(c.at(x0, -2 * d), c.at(x1, 2 * d)).normalized())
    p.setBrush(QColor(c.theme.palette.line))
    p.drawRect(QRectF(c.at(-ti / 2, -2 * d), c.at(ti / 2, 2 * d)).normalized())
    p.setBrush(QColor(c.theme.palette.steel))
    p.drawRect(QRectF(c.at(-half * 1.15, -d / 2), c.at(half * 1.15, d / 2)).normalized())
    c.arrow(p, c.at(0, 1.9 * d), c.at(0, 0.7 * d), blue(c))


# ---- what does it do to the axles?


def _host(v: Verdict, name: str) -> float | None:
    host = v.job.vehicle
    return float(getattr(host, name)) if isinstance(host, Wheeled) else None


def _axle_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    return (
        f"front {shown(a['front_kg'], 'mass', job)}, rear {shown(a['rear_kg'], 'mass', job)}",
        f"The front axle {'loses' if a['front_change_percent'] < 0 else 'gains'} "
        f"{units.figure(abs(a['front_change_percent']), 1)} %.",
    )


def _axle_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    base, over = q["wheelbase_mm"], q["overhang_mm"]
    c.fit((-base - 500, -1500), (max(over, 200) + 500, 300), room(c))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(c.theme.palette.line))
    p.drawRect(QRectF(c.at(-base - 450, -1000), c.at(over, -500)).normalized())
    p.setBrush(QColor(c.theme.palette.steel))
    for x in (-base, 0.0):
        p.drawEllipse(c.at(x, -340), 340 * c.scale, 340 * c.scale)
    c.arrow(p, c.at(over, -1450), c.at(over, -1010), blue(c))
    for x, key in ((-base, "front_kg"), (0.0, "rear_kg")):
        c.tag(p, c.at(x, 150), f"{float(a[key]) - q[key]:+.0f} kg", bold=True)


# ---- what must the coupling take?


def _coupling_data(q: Values) -> dict[str, Any]:
    return {
        "towing_t": q["towing_kg"] / 1000,
        "trailer_t": q["trailer_kg"] / 1000,
        "static_vertical_kg": q["tongue_kg"],
        "bed_length_m": q["bed_mm"] / 1000,
        "drawbar_m": q["axle_mm"] / 1000,
    }


def _coupling_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    return (
        f"D {shown(1000 * a['D_kN'], 'force', job)}, V {shown(1000 * a['V_kN'], 'force', job)}",
        f"Dc {shown(1000 * a['Dc_kN'], 'force', job)}. UN R55: along the road, and the bounce of a "
        "centre-axle trailer.",
    )


def _coupling_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    axle, bed = q["axle_mm"], q["bed_mm"]
    c.fit((-900, -1300), (axle + bed / 2 + 200, 250), room(c))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(c.theme.palette.line))
    p.drawRect(QRectF(c.at(0, -480), c.at(axle - bed / 2, -420)).normalized())
    p.drawRect(QRectF(c.at(axle - bed / 2, -800), c.at(axle + bed / 2, -420)).normalized())
    p.setBrush(QColor(c.theme.palette.steel))
    p.drawEllipse(c.at(axle, -310), 310 * c.scale, 310 * c.scale)
    c.arrow(p, c.at(-850, -450), c.at(-40, -450), blue(c))
    c.arrow(p, c.at(0, -1250), c.at(0, -500), blue(c))
    c.tag(p, c.at(-500, -450) + QPointF(0, c.theme.px(18)), "D")
    c.tag(p, c.at(0, -1250) - QPointF(0, c.theme.px(10)), "V")


# ---- what is this bar good for?


def _bar_of(v: Verdict) -> str | None:
    found = next(
        (
            getattr(p.values, name)
            for p in v.job.stack
            for name in type(p.values).model_fields
            if name in ("cross_tube", "bar", "shank", "tube")
        ),
        None,
    )
    return None if found is None else str(found)


def _section_data(q: Values) -> dict[str, Any]:
    s = catalogue.bar(q["bar"])
    sizes = {
        "rect_tube": {
            "width_mm": s.width,
            "height_mm": s.height,
            "wall_mm": s.wall,
            "outer_radius_mm": s.extra if s.extra is not None else 2 * s.wall,
        },
        "round_tube": {"od_mm": s.width, "wall_mm": s.wall},
        "round_bar": {"od_mm": s.width},
        "rect_bar": {"width_mm": s.width, "height_mm": s.height},
        "angle": {"leg_z_mm": s.height, "leg_y_mm": s.width, "thickness_mm": s.wall},
        "channel": {
            "depth_mm": s.height,
            "flange_mm": s.width,
            "web_mm": s.wall,
            "flange_thickness_mm": s.extra if s.extra is not None else s.wall,
        },
    }
    return {"shape": s.shape, **sizes[s.shape]}


def _section_say(a: Answer, q: Values, job: Job) -> tuple[str, ...]:
    mass = units.in_words(f"{units.figure(a['mass_kg_per_m'], 2)} kg/m", job.units)
    rest = units.in_words(
        f"A {a['area_mm2']:.0f} mm², elastic moduli {a['Wely_mm3']:.0f} mm³ and {a['Welz_mm3']:.0f} "
        f"mm³, plastic {a['Wply_mm3']:.0f} mm³.",
        job.units,
    )
    steel = catalogue.material(q["steel"])
    moment = steel.Fy * min(a["Wely_mm3"], a["Welz_mm3"]) / 1.67
    return (
        f"bends safely under {shown(moment, 'moment', job)}",
        f"First yield of {steel.title} divided by 1.67, about its weaker way. {mass}.",
        rest,
    )


def _section_draw(c: Canvas, p: QPainter, q: Values, a: Answer) -> None:
    outer, inner = profile.rings(catalogue.bar(q["bar"]))
    rings = [np.array(r) for r in (outer, inner) if r]
    low, high = rings[0].min(axis=0), rings[0].max(axis=0)
    c.fit((float(low[0]), -float(high[1])), (float(high[0]), -float(low[1])), room(c))
    path = QPainterPath()
    for ring in rings:
        path.addPolygon(c.polygon(np.column_stack([ring[:, 0], -ring[:, 1]])))
        path.closeSubpath()
    p.setPen(pen(c, "ink", 1.2))
    p.setBrush(QColor(c.theme.palette.steel))
    p.drawPath(path)


def _anchor_put(v: Verdict, q: Values, a: Answer) -> tuple[str, object] | None:
    number = next((n for n, d in enumerate(v.job.duties) if isinstance(d, Anchor)), None)
    return None if number is None else (f"duties.{number}.angle_deg", q["angle_deg"])


def _drop_put(v: Verdict, q: Values, a: Answer) -> tuple[str, object] | None:
    """The ball mount with its ball where the coupler then is: moved by what it misses now, as Stance does."""
    number = _ball_mount(v)
    if not number or "ball" not in v.assembly.places:
        return None
    mount: Any = next(p.values for p in v.job.stack if p.id == number)
    miss = v.assembly.places["ball"][2] - q["squat_mm"] - q["coupler_mm"]
    signed = {"drop": -mount.ball_drop_mm, "rise": mount.ball_drop_mm}.get(
        mount.shape, mount.ball_plate_mm
    ) - miss
    size = max(round(abs(signed), 1), mount.ball_plate_mm)
    return f"stack.{number}", mount.model_copy(
        update={"shape": "drop" if signed < 0 else "rise", "ball_drop_mm": size}
    )


def _duty(name: str) -> Callable[[Verdict], float | None]:
    return lambda v: float(getattr(v.job.duty, name)) if v.job.duty.towed else None


TOOLS: tuple[Tool, ...] = (
    Tool(
        "hitch_height",
        "Ball drop",
        "How much must the ball drop?",
        (
            Ask(
                "receiver_mm",
                "bore's middle, empty",
                "length",
                480.0,
                lambda v: v.assembly.places["mouth"][2] if "mouth" in v.assembly.places else None,
            ),
            Ask("coupler_mm", "coupler, trailer level", "length", 440.0, _duty("coupler_height_mm")),
            Ask("ball_mm", "ball's middle over its plate", "length", 54.0, _ball_high),
            Ask("squat_mm", "sinks when hitched", "length", 20.0, _hung),
        ),
        lambda q: {k: q[k] for k in ("receiver_mm", "coupler_mm", "ball_mm", "squat_mm")},
        _drop_say,
        _drop_draw,
        Put("ball mount's drop", _drop_put),
    ),
    Tool(
        "strap_anchor",
        "Anchor legs",
        "What does each leg pull?",
        (
            Ask("pull_N", "pull", "force", 10_000.0, lambda v: _anchor(v, "pull_N")),
            Ask("angle_deg", "angle between the legs", "angle", 60.0, lambda v: _anchor(v, "angle_deg")),
            Ask("break_N", "strap breaks at", "force", 60_000.0),
            Ask("legs", "legs, 1 or 2", "number", 2.0, lambda v: _anchor(v, "legs")),
        ),
        lambda q: {
            "pull_N": q["pull_N"],
            "leg_angle_deg": q["angle_deg"],
            "break_N": q["break_N"],
            "legs": 1 if q["legs"] < 1.5 else 2,
        },
        _leg_say,
        _leg_draw,
        Put("angle between the legs", _anchor_put),
    ),
    Tool(
        "bolt_torque",
        "Bolt torque",
        "How tight?",
        (
            Ask("bolt", "bolt", "stock:bolt", "M12", lambda v: _first_bolts(v, "bolt")),
            Ask("grade", "grade", "stock:bolt grade", "8.8", lambda v: _first_bolts(v, "grade")),
            Ask("k", "K, 0.20 dry", "number", 0.2),
        ),
        _torque_data,
        _torque_say,
        _torque_draw,
    ),
    Tool(
        "pin",
        "Pin",
        "Does the pin hold?",
        (
            Ask("load_N", "pull", "force", 30_000.0),
            Ask("diameter_mm", "pin", "length", 15.875, lambda v: _pin_of(v, "diameter")),
            Ask("steel", "its steel", "stock:material", "4140-QT"),
            Ask("outer_mm", "each outer wall", "length", 6.35),
            Ask("inner_mm", "inner part", "length", 50.8),
            Ask("gap_mm", "gap each side", "length", 1.0, lambda v: _pin_of(v, "gap")),
            Ask("plate_steel", "their steel", "stock:material", "A36"),
        ),
        _pin_data,
        _pin_say,
        _pin_draw,
    ),
    Tool(
        "axle_loads",
        "Axle loads",
        "What does it do to the axles?",
        (
            Ask("wheelbase_mm", "wheelbase", "length", 3200.0, lambda v: _host(v, "wheelbase_mm")),
            Ask(
                "overhang_mm",
                "ball behind the rear axle",
                "length",
                1300.0,
                lambda v: ball_overhang(v.assembly) if v.assembly.parts else None,
            ),
            Ask("front_kg", "front axle, empty", "mass", 1100.0, lambda v: _host(v, "front_kg")),
            Ask("rear_kg", "rear axle, empty", "mass", 900.0, lambda v: _host(v, "rear_kg")),
            Ask("tongue_kg", "tongue weight", "mass", 190.0, _duty("tongue_mass_kg")),
        ),
        lambda q: {
            "wheelbase_mm": q["wheelbase_mm"],
            "ball_overhang_mm": q["overhang_mm"],
            "front_kg": q["front_kg"],
            "rear_kg": q["rear_kg"],
            "tongue_kg": q["tongue_kg"],
        },
        _axle_say,
        _axle_draw,
        Put(
            "tongue weight",
            lambda v, q, a: ("duty.tongue_mass_kg", q["tongue_kg"]) if v.job.duty.towed else None,
        ),
    ),
    Tool(
        "coupling_values",
        "Coupling values",
        "What must the coupling take?",
        (
            Ask(
                "towing_kg",
                "vehicle, permissible",
                "mass",
                3100.0,
                lambda v: _host(v, "gross_rating_kg") if hasattr(v.job.vehicle, "gross_rating_kg") else None,
            ),
            Ask("trailer_kg", "trailer", "mass", 1850.0, _duty("trailer_mass_kg")),
            Ask("tongue_kg", "tongue weight", "mass", 190.0, _duty("tongue_mass_kg")),
            Ask("bed_mm", "bed length", "length", 3000.0, _duty("bed_length_mm")),
            Ask("axle_mm", "coupler to axle", "length", 3300.0, _duty("axle_behind_mm")),
        ),
        _coupling_data,
        _coupling_say,
        _coupling_draw,
    ),
    Tool(
        "section",
        "Bar or tube",
        "What is this bar good for?",
        (Ask("bar", "bar", "stock:bar", "2x2x1/4", _bar_of), Ask("steel", "steel", "stock:material", "A36")),
        _section_data,
        _section_say,
        _section_draw,
    ),
    SLOT_BEND,
)
"""Every calculator of the drawer."""
