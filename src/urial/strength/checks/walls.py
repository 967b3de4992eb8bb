"""Tube walls where another tube lands on them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from urial.assembly import facts
from urial.assembly.model import HOST, Joint, Weld
from urial.geometry.axis import frame_at
from urial.geometry.place import Vec, dot, minus, unit
from urial.geometry.shape import Bar
from urial.strength import plates
from urial.strength.check import Line, Unchecked, Working, figure
from urial.strength.checks.common import Context, Finding, register


@register(Weld)
def wall_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Side walls of a tube under a branch across its full width: thrust and both moments together (K2, K4).

    Only where all beads lie in one plane on the chord's face: a branch that is let in passes its force on otherwise.
    """
    if HOST in (j.a, j.b):
        return
    assert isinstance(j.how, Weld)
    depth = facts.layers(context.assembly)
    chord, branch = (context.part(k) for k in sorted((j.a, j.b), key=lambda k: depth.get(k, 0)))
    if not (isinstance(chord.shape, Bar) and isinstance(branch.shape, Bar) and chord.shape.stock.shape in ("rect_tube", "round_tube")):
        return
    s = facts.on_bar(chord, j.place.o)
    here = chord.place @ frame_at(chord.shape, s)
    out = unit(minus(j.place.o, here.o)) if dot(minus(j.place.o, here.o), minus(j.place.o, here.o)) > 1 else here.z
    heights = [dot(minus(p, here.o), out) for r in j.how.runs for p in (r.a, r.b)]
    if max(heights) - min(heights) > 1.0 or abs(dot(out, here.x)) > 0.1:
        return
    if chord.shape.stock.shape == "round_tube" or branch.shape.stock.shape != "rect_tube" or max(abs(dot(out, here.y)), abs(dot(out, here.z))) < 0.99:
        yield Unchecked(chord.mark, f"the wall of the {chord.name} under the {branch.name}: no rule here for these shapes", context.link(j))
        return
    side = abs(dot(out, here.y)) > 0.9
    section = chord.shape.stock.section(facts.wall_factor(chord))
    face, depth_ = (section.height, section.width) if side else (section.width, section.height)
    across = here.z if side else here.y
    along, wide = _extent(j.how, here.x), _extent(j.how, across)
    if wide < 0.85 * face:
        yield Unchecked(chord.mark, f"the wall of the {chord.name} under the {branch.name}, which is narrower than 85 % of it", context.link(j))
        return
    force, moment = context.forces.wrench(j, j.place.o)
    if j.b == branch.key:
        force, moment = -force, -moment  # what the branch brings
    steel, t, basis = context.steel(chord, j), section.wall, context.basis
    radius = chord.shape.stock.radius
    outward = basis.available(plates.wall_yielding(steel.Fy, t, radius, along, False), 1.50)
    inward = min(outward, basis.available(plates.wall_crippling(steel, t, depth_, along), 2.00))
    ip = basis.available(plates.in_plane_moment(steel, t, along), 1.50)
    op = basis.available(plates.out_of_plane_moment(steel, t, face, depth_, along), 1.50)
    push = -(force @ np.array(out))
    about_across, about_along = np.abs(moment @ np.array(across)), np.abs(moment @ np.array(here.x))
    p = np.where(push > 0, push / inward, -push / outward)
    used = p + about_across / ip + about_along / op

    def work(k: int) -> Working:
        return (Line("footprint", f"branch {wide:.0f} of the tube's {face:.4g} mm width (β ≈ 1)", f"{along:.0f} mm along the tube, design wall {t:.3g} mm", ""),
                Line("thrust", "side-wall yielding 2 Fy t (5k + lb); crippling inward", f"{figure(abs(push[k]))} N of {figure(inward if push[k] > 0 else outward)} N", f"{p[k]:.3f}"),
                Line("moment along the tube", "0.5 Fy t (Hb + 5t)²", f"{figure(about_across[k])} of {figure(ip)} N·mm", f"{about_across[k] / ip:.3f}"),
                Line("moment across the tube", "lesser of side walls and chord distortion", f"{figure(about_along[k])} of {figure(op)} N·mm", f"{about_along[k] / op:.3f}"),
                Line("together", "sum of the three (K4)", "", f"{used[k]:.3f}"))  # fmt: skip

    yield context.governed(used, 1.0, id=f"{j.key}: wall", name=f"{chord.name} wall under the {branch.name}", part=chord.mark, link=chord.family, kind="wall", unit="1",
                           clause="AISC 360-22 K2.3, K4, J10.2", work=work, path=chord.paths[0] if chord.paths else "")  # fmt: skip


def _extent(weld: Weld, direction: Vec) -> float:
    """How far a weld reaches along a direction, toe to toe, mm."""
    at = [(dot(p, direction), facts.toe(r, direction)) for r in weld.runs for p in (r.a, r.b)]
    return max(a + t for a, t in at) - min(a - t for a, t in at)
