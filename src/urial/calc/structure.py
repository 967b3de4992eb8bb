"""Calculators: section, frame."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.stock import sections
from urial.strength import frame as frames

Positive = Annotated[float, Field(gt=0)]
NonNegative = Annotated[float, Field(ge=0)]
Six = Annotated[list[float], Field(min_length=6, max_length=6)]
Flags = Annotated[list[Annotated[int, Field(ge=0, le=1)]], Field(min_length=6, max_length=6)]
Three = Annotated[list[float], Field(min_length=3, max_length=3)]

_SIZES: dict[str, tuple[str, ...]] = {
    "rect_tube": ("width_mm", "height_mm", "wall_mm"),
    "round_tube": ("od_mm", "wall_mm"),
    "round_bar": ("od_mm",),
    "rect_bar": ("width_mm", "height_mm"),
    "angle": ("leg_z_mm", "leg_y_mm", "thickness_mm"),
    "channel": ("depth_mm", "flange_mm", "web_mm", "flange_thickness_mm"),
}


class SectionQuestion(Question):
    """A cross-section by shape and sizes in mm."""

    shape: Literal["rect_tube", "round_tube", "round_bar", "rect_bar", "angle", "channel"]
    width_mm: Positive | None = None
    height_mm: Positive | None = None
    wall_mm: Positive | None = None
    outer_radius_mm: NonNegative | None = None
    od_mm: Positive | None = None
    leg_z_mm: Positive | None = None
    leg_y_mm: Positive | None = None
    thickness_mm: Positive | None = None
    depth_mm: Positive | None = None
    flange_mm: Positive | None = None
    web_mm: Positive | None = None
    flange_thickness_mm: Positive | None = None


def section_of(q: SectionQuestion) -> sections.Section:
    """The section asked for; CalcError names a size that is missing or does not belong to the shape."""
    wanted = _SIZES[q.shape]
    allowed = {*wanted, "outer_radius_mm"} if q.shape == "rect_tube" else set(wanted)
    for key in q.model_fields_set - {"shape"}:
        if key not in allowed:
            raise CalcError(f"{key} does not belong to a {q.shape}; it takes {', '.join(wanted)}.")
    for key in wanted:
        if getattr(q, key) is None:
            raise CalcError(f"{key} is missing; a {q.shape} needs {', '.join(wanted)}.")
    sizes = [getattr(q, key) for key in wanted]
    if q.shape == "rect_tube":
        return sections.rect_tube(*sizes, q.outer_radius_mm)
    make = {
        "round_tube": sections.round_tube,
        "round_bar": sections.round_bar,
        "rect_bar": sections.rect_bar,
        "angle": sections.angle,
        "channel": sections.channel,
    }[q.shape]
    return make(*sizes)


@calculator("section", SectionQuestion)
def section(q: SectionQuestion) -> Answer:
    """Properties about the centroid, width along y, height along z."""
    s = section_of(q)
    return {
        "area_mm2": s.area,
        "Iy_mm4": s.Iy,
        "Iz_mm4": s.Iz,
        "Iyz_mm4": s.Iyz,
        "J_mm4": s.J,
        "Wely_mm3": s.Wely,
        "Welz_mm3": s.Welz,
        "Wply_mm3": s.Wply,
        "Wplz_mm3": s.Wplz,
        "mass_kg_per_m": s.mass_per_m,
    }


class MemberQuestion(Question):
    """One beam of the frame."""

    id: str
    i: str
    j: str
    E_MPa: Positive
    G_MPa: Positive
    area_mm2: Positive
    Iy_mm4: Positive
    Iz_mm4: Positive
    J_mm4: Positive
    Avy_mm2: Positive | None = None
    Avz_mm2: Positive | None = None
    up: Three
    release_i: Flags | None = None
    release_j: Flags | None = None
    Iyz_mm4: float = 0.0
    offset_i_mm: Three | None = None
    offset_j_mm: Three | None = None


class FrameQuestion(Question):
    """A 3-D frame: nodes, members, supports, springs, loads by case."""

    nodes: Annotated[dict[str, Three], Field(min_length=1)]
    members: list[MemberQuestion]
    supports: dict[str, Flags]
    springs: dict[str, Annotated[list[NonNegative], Field(min_length=6, max_length=6)]] | None = None
    loads: dict[str, dict[str, Six]]


def _triple(v: list[float] | None) -> tuple[float, float, float]:
    return (v[0], v[1], v[2]) if v else (0.0, 0.0, 0.0)


def _member(m: MemberQuestion) -> frames.Member:
    none = (0, 0, 0, 0, 0, 0)
    return frames.Member(
        m.id,
        m.i,
        m.j,
        m.E_MPa,
        m.G_MPa,
        m.area_mm2,
        m.Iy_mm4,
        m.Iz_mm4,
        m.J_mm4,
        _triple(m.up),
        m.Avy_mm2,
        m.Avz_mm2,
        tuple(m.release_i or none),
        tuple(m.release_j or none),
        _triple(m.offset_i_mm),
        _triple(m.offset_j_mm),
        m.Iyz_mm4,
    )


def frame_of(q: FrameQuestion) -> frames.Frame:
    """The frame asked for."""
    ids = [m.id for m in q.members]
    for n, name in enumerate(ids):
        if name in ids[:n]:
            raise CalcError(f"Two members are called {name}; give each its own id.")
    return frames.Frame(
        {k: _triple(v) for k, v in q.nodes.items()},
        [_member(m) for m in q.members],
        q.supports,
        q.springs or {},
    )


@calculator("frame", FrameQuestion)
def frame(q: FrameQuestion) -> Answer:
    """Solve every load case at once."""
    model = frame_of(q)
    result = frames.solve(model, q.loads)
    names = list(q.nodes)
    held = [n for n in names if n in q.supports or n in (q.springs or {})]
    out: Answer = {}
    for c, case in enumerate(result.cases):
        out[case] = {
            "displacements": {n: result.displacements[c, k].tolist() for k, n in enumerate(names)},
            "reactions": {n: result.reactions[c, result.node_index[n]].tolist() for n in held},
            "members": {
                m.id: {"i": result.end_forces[c, k, :6].tolist(), "j": result.end_forces[c, k, 6:].tolist()}
                for k, m in enumerate(model.members)
            },
        }
    return out


def frame_question(model: frames.Frame, loads: frames.Loads) -> Answer:
    """A frame and its loads in the input form of the calculator (JSON-ready)."""
    members = []
    for m in model.members:
        row: Answer = {
            "id": m.id,
            "i": m.i,
            "j": m.j,
            "E_MPa": m.E,
            "G_MPa": m.G,
            "area_mm2": m.area,
            "Iy_mm4": m.Iy,
            "Iz_mm4": m.Iz,
            "J_mm4": m.J,
            "up": list(m.up),
        }
        if m.Avy:
            row["Avy_mm2"] = m.Avy
        if m.Avz:
            row["Avz_mm2"] = m.Avz
        if m.Iyz:
            row["Iyz_mm4"] = m.Iyz
        for key, value in (
            ("release_i", m.release_i),
            ("release_j", m.release_j),
            ("offset_i_mm", m.offset_i),
            ("offset_j_mm", m.offset_j),
        ):
            if any(value):
                row[key] = list(value)
        members.append(row)
    return {
        "nodes": {k: list(v) for k, v in model.nodes.items()},
        "members": members,
        "supports": {k: list(v) for k, v in model.supports.items()},
        "springs": {k: [float(x) for x in v] for k, v in model.springs.items()},
        "loads": {case: {n: [float(x) for x in v] for n, v in by.items()} for case, by in loads.items()},
    }
