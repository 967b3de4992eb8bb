"""A bought ball on a plate: its stem through the plate, its flange on top, what tows on it as a socket."""

from __future__ import annotations

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import Part, Shank
from urial.geometry.place import Place, Vec, X, Y, Z
from urial.geometry.shape import Turned
from urial.stock.catalogue import Ball

FLANGE = 1.7
"""Diameter of a ball's seat over its shank's, as such balls are made."""


def ball_on(b: Build, ball: Ball, at: Vec, plate: float, seat: Part) -> Part:
    """The ball on a level plate ``plate`` mm thick, ``at`` the stem's middle on the plate's top face;
    ``ball`` is its parameter.
    """
    x, y, top = at
    under = plate + 1.1 * ball.shank
    made = b.turned(
        Named("ball", called=f"ball {ball.name}", paths=("ball",)),
        Turned(
            Place((x, y, top - under), X, Y, Z),
            (
                (0.9 * ball.shank, 1.6 * ball.shank, 6),
                (0.2 * ball.shank + plate, ball.shank, 0),
                (6.0, FLANGE * ball.shank, 0),
                (ball.height - 0.3 * ball.ball - 6, 0.62 * ball.ball, 0),
            ),
            sphere=(under + ball.height, ball.ball),
        ),
        "4140-QT",
        ball.name,
    )
    b.joint("ball seat", seat, made, Place(at, X, Y, Z), Shank(ball.shank, FLANGE * ball.shank))
    middle: Vec = (x, y, top + ball.height)
    b.socket(
        "ball",
        made,
        Place(middle, X, Y, Z),
        Takes("ball", size=ball.name, rating_kg=ball.rated_kg, path="ball"),
    )
    b.places.update(ball=middle, ball_seat=at)
    return made
