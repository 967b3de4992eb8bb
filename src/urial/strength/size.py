"""What would mend a short check: the nearest changes of stock, weld, bolt or lever that hold, each really tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from urial.assembly.model import BuildError
from urial.job.edit import EditError, get, put, shown, spec_of
from urial.job.model import Job
from urial.stock import catalogue
from urial.strength.check import Check
from urial.strength.verdict import prove


@dataclass(frozen=True)
class Remedy:
    """One edit: parameter, value, what it is called, and where the check and the whole part then stand."""

    path: str
    value: object
    words: str
    utilisation: float
    worst: float
    mass_change_kg: float


_LEVERS: dict[str, tuple[str, ...]] = {
    "tube": ("design.cross_tube", "design.cross_tube_material", "design.mouth_to_tube_mm"),
    "receiver": ("design.mouth_to_tube_mm", "design.ball_mount.pin_to_ball_mm", "design.receiver_material"),
    "weld receiver": ("design.weld_receiver_mm", "design.gusset", "design.gussets", "design.cross_tube", "design.mount"),
    "weld plates": ("design.weld_plate_mm", "design.cross_tube"),
    "plates": ("design.plate", "design.plate_material", "design.tube_margin_mm", "design.drop_mm"),
    "bolts": ("design.bolt_grade", "design.bolt", "design.threads_in_plane", "design.plate"),
    "rail": ("design.bolt", "design.drop_mm"),
    "chains": ("design.chain_plate", "design.plate_material", "design.weld_chain_mm", "design.chain_spacing_mm", "design.chain_edge_mm"),
    "mount": ("design.ball_mount.ball_plate_mm", "design.ball_mount.drop_plate_mm", "design.ball_mount.weld_mm", "design.ball_mount.pin_to_ball_mm", "design.ball_mount.bar_material"),
    "pin": ("design.ball_mount.pin_material", "design.receiver"),
    "ball": ("design.ball_mount.ball", "duty.trailer_mass_kg"),
    "vehicle": ("duty.trailer_mass_kg", "duty.tongue_mass_kg"),
}


def _bigger_tubes(name: str) -> Iterator[str]:
    here = catalogue.bar(name)
    same = [b for b in catalogue.bars().values() if b.shape == here.shape and b.system == here.system
            and b.section().Wply >= here.section().Wply * 1.01 and b.width >= here.width and b.height >= here.height]  # fmt: skip
    yield from (b.name for b in sorted(same, key=lambda b: b.section().area)[:12])


def _thicker_plates(name: str) -> Iterator[str]:
    here = catalogue.plate(name)
    yield from (p.name for p in sorted(catalogue.plates().values(), key=lambda p: p.thickness)
                if p.thickness > here.thickness and p.system == here.system)  # fmt: skip


def _stronger(shelf: str, name: str) -> Iterator[str]:
    table = catalogue.SHELVES[shelf]()
    strength: Callable[[object], float] = lambda row: getattr(row, "Fy", getattr(row, "Fu", 0.0))  # noqa: E731
    here = catalogue.find(shelf, name)
    same = [r for r in table.values() if strength(r) > strength(here) and getattr(r, "system", "") == getattr(here, "system", "")
            and getattr(r, "wall_factor", 1) == getattr(here, "wall_factor", 1) and getattr(r, "haz_Fy", 1) == 1 and getattr(r, "E", 2e5) == getattr(here, "E", 2e5)]  # fmt: skip
    yield from (r.name for r in sorted(same, key=strength)[:2])


def candidates(job: Job, path: str) -> Iterator[object]:
    """Values of a parameter worth trying, smallest change first."""
    value, field = get(job, path), spec_of(job, path)
    if field.shelf == "bar":
        yield from _bigger_tubes(value)
    elif field.shelf == "plate":
        yield from _thicker_plates(value)
    elif field.shelf in ("material", "bolt grade"):
        yield from _stronger(field.shelf, value)
    elif field.shelf == "bolt":
        here = catalogue.bolt(value)
        yield from (b.name for b in catalogue.bolts().values() if b.system == here.system and b.diameter > here.diameter)
    elif field.shelf in ("receiver", "ball"):
        rows = list(catalogue.SHELVES[field.shelf]().values())
        yield from (r.name for r in rows if (getattr(r, "bar", 0), getattr(r, "rated_kg", 0)) > (getattr(catalogue.find(field.shelf, value), "bar", 0), getattr(catalogue.find(field.shelf, value), "rated_kg", 0)))
    elif path == "design.gussets":
        yield from {"none": ("rear", "both"), "rear": ("both",), "both": ()}[value]
    elif path == "design.mount":
        yield from {"under": ("notched", "through"), "notched": ("through",), "through": ()}[value]
    elif path == "design.threads_in_plane":
        if value:
            yield False
    elif field.quantity == "length":
        step = 25.4 / 16 if job.units == "inch" else 1.0
        grows = "weld" in path or "plate" in path or "spacing" in path or "margin" in path or "edge" in path
        for k in (1, 2, 3, 4, 6, 8, 10, 14, 20, 30, 45, 60, 80):
            yield round((value + k * step) if grows else value - k * step, 4)
    elif field.quantity == "mass":
        yield from (round(value * (1 - 0.02 * k)) for k in range(1, 26))


def _size(job: Job) -> float:
    from urial.assembly.solids import total_mass
    from urial.families import build

    return total_mass(build(job))


def remedies(job: Job, check: Check, target: float = 1.0, stopped: Callable[[], bool] = lambda: False) -> list[Remedy]:
    """For a check, the least change of each parameter that brings it under ``target``; best first.  Empty if none does."""
    out: list[Remedy] = []
    paths = dict.fromkeys([*((check.path,) if check.path and check.path.startswith("design") else ()), *_LEVERS.get(check.link, ())])
    before, here = _size(job), prove(job).governing.utilisation
    for path in paths:
        for value in candidates(job, path):
            if stopped():
                return out
            try:
                tried = put(job, path, value)
                verdict = prove(tried)
            except (EditError, BuildError):
                continue
            same = next((c for c in verdict.checks if c.id == check.id), None)
            if (same is None or same.utilisation < target) and verdict.governing.utilisation <= here + 1e-6:
                used = same.utilisation if same else 0.0
                words = f"{spec_of(tried, path).title} {shown(tried, path)}"
                worst = max((c.utilisation for c in verdict.checks if c.id != check.id), default=0.0)
                out.append(Remedy(path, value, words, used, max(worst, used), _size(tried) - before))
                break
    return sorted(out, key=lambda r: (r.worst >= 1, abs(r.mass_change_kg)))
