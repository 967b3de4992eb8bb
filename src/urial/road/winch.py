"""Winches, straps and anchors: pull by layer, legs by their angle, links by their working limit, and where
a broken line goes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

RECOIL_DEG = 15.0
"""Half angle of the ground a broken line may sweep, each side of its own; house rule."""


def leg_pull(pull_N: float, angle_deg: float, legs: int) -> float:
    """Pull in one leg: T = P / (2·cos(β/2)), β the angle between two legs; all of it in one leg.
    ValueError from 180°.
    """
    if legs == 1:
        return pull_N
    if not 0 <= angle_deg < 180:
        raise ValueError(
            "The legs are in one line, and no pull between them can hold; bring them closer together."
        )
    return pull_N / (2 * math.cos(math.radians(angle_deg) / 2))


@dataclass(frozen=True)
class Layer:
    """A layer of rope on the drum: its number, mean diameter (mm), rope it holds (m), pull (N)."""

    number: int
    diameter_mm: float
    rope_m: float
    pull_N: float


def layers(
    rated_N: float, drum_mm: float, drum_width_mm: float, rope_mm: float, rope_m: float
) -> tuple[Layer, ...]:
    """The pull falls as rope piles up: each layer stands one rope diameter farther out, and the motor's
    torque is the same.

    The rated pull is that of the first layer.  Layers are counted until ``rope_m`` is wound.
    """
    turns = max(math.floor(drum_width_mm / rope_mm), 1)
    out: list[Layer] = []
    left = rope_m * 1000
    first = drum_mm + rope_mm
    while left > 1e-6 and len(out) < 50:
        diameter = drum_mm + (2 * len(out) + 1) * rope_mm
        holds = min(turns * math.pi * diameter, left)
        out.append(Layer(len(out) + 1, diameter, holds / 1000, rated_N * first / diameter))
        left -= holds
    return tuple(out)


def layer_at(all_layers: tuple[Layer, ...], rope_out_m: float) -> Layer:
    """The layer the rope leaves the drum from with so much of it out."""
    on_drum = max(sum(layer.rope_m for layer in all_layers) - rope_out_m, 0.0)
    for layer in all_layers:
        if on_drum <= layer.rope_m + 1e-9:
            return layer
        on_drum -= layer.rope_m
    return all_layers[-1]


def danger_zone(
    start: tuple[float, float], stop: tuple[float, float], points: int = 16
) -> list[tuple[float, float]]:
    """Corners (mm) of the ground nobody may stand on: within 15° of the line from either end, as far as
    the line is long.
    """
    length = math.dist(start, stop)
    if length <= 0:
        return []
    way = math.atan2(stop[1] - start[1], stop[0] - start[0])
    half = math.radians(RECOIL_DEG)
    out = []
    for origin, heading in ((start, way), (stop, way + math.pi)):
        for k in range(points + 1):
            a = heading - half + 2 * half * k / points
            out.append((origin[0] + length * math.cos(a), origin[1] + length * math.sin(a)))
    return out
