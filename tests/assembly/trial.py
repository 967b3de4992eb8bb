"""Trial parts that no family makes yet: a bent tube, an angle, a clamp on a rail, a strap round a trunk.
Written as a family would write them, mirrored by ``s`` = −1, to try the model on what it was not shaped
for.
"""

import dataclasses

import numpy as np

from urial.assembly import bodies
from urial.assembly.build import Beads, Build, Takes, loop, moved, ring
from urial.assembly.marks import marked
from urial.assembly.model import HOST, Bolts, Clamp, Contact, Metal, StrapRound
from urial.geometry import folded
from urial.geometry.outline import rectangle
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place, X, Y, Z, minus, unit
from urial.geometry.shape import Bar, Cope, Fold, Plate, Slant, Slugged
from urial.loads.case import Case, load_points
from urial.stock import catalogue
from urial.strength.analysis import analyse
from urial.strength.basis import AllowableStrength
from urial.strength.checks import judge

S355 = catalogue.material("S355")
ROUND = next(
    b
    for b in catalogue.bars().values()
    if b.shape == "round_tube" and b.system == "inch" and 37 < b.width < 39 and b.wall > 3
)
ANGLE = next(
    b
    for b in catalogue.bars().values()
    if b.shape == "angle" and b.system == "metric" and b.width == b.height >= 50 and b.wall >= 5
)
FLAT = Metal(S355, 6.0)


def start(piece="1"):
    return Build(piece, "trial", f"stack.{piece}.", catalogue.electrode("E70"))


def foot(b, name, place, size=(120.0, 90.0), t=8.0, pitch=80.0):
    """A plate bolted to the host by two M12, its middle at a place, z out of the host; returns the plate."""
    w, h = size
    plate = b.plate(
        name,
        Plate(
            rectangle(-w / 2, -h / 2, w / 2, h / 2),
            t,
            place,
            holes=((-pitch / 2, 0.0, 13.5), (pitch / 2, 0.0, 13.5)),
        ),
        "S355",
    )
    face = ((-200.0, -100.0), (200.0, -100.0), (200.0, 100.0), (-200.0, 100.0))
    b.joint(
        f"{name} bolts",
        plate,
        HOST,
        place,
        Bolts(
            ((-pitch / 2, 0.0), (pitch / 2, 0.0)),
            13.5,
            (13.5, 13.5),
            catalogue.bolt("M12"),
            catalogue.bolt_grade("8.8"),
            True,
            (FLAT, FLAT),
            face,
        ),
    )
    return plate, place


def bent_tube(s=1.0):
    """A bent tube from a plate on the host to a nose plate, a straight brace coped on to it from a second
    plate.
    """
    b = start()
    top, _ = foot(b, "upper plate", Place.facing((0.0, 200.0 * s, 700.0), (-1.0, 0.0, 0.0), Y))
    low, _ = foot(b, "lower plate", Place.facing((0.0, 200.0 * s, 400.0), (-1.0, 0.0, 0.0), Y))
    tip = (-520.0, 0.0, 480.0)
    path = Bent(
        ((-8.0, 200.0 * s, 700.0), (-200.0, 200.0 * s, 700.0), (-360.0, 60.0 * s, 560.0), tip), (120.0, 110.0)
    )
    tube = b.bar("tube", Bar(ROUND, path, end_j=Slugged(40.0)), "A513-DOM")
    end = (-8.0, 200.0 * s, 700.0)
    b.weld("tube weld", top, tube, Beads(ring(Place.facing(end, X), ROUND.width), 5.0, "", normal=X))
    on = (-300.0, 112.5 * s, 612.5)
    brace = b.bar(
        "brace",
        Bar(
            ROUND,
            Line((-8.0, 200.0 * s, 400.0), on),
            end_i=Slant(X),
            end_j=Cope(ROUND.width / 2, on, (-160.0, -140.0 * s, -140.0)),
        ),
        "A513-DOM",
    )
    b.weld(
        "brace foot",
        low,
        brace,
        Beads(ring(Place.facing((-8.0, 200.0 * s, 400.0), X), ROUND.width), 5.0, "", normal=X),
    )
    direction = tuple(
        np.subtract(on, (-8.0, 200.0 * s, 400.0)) / np.linalg.norm(np.subtract(on, (-8.0, 200.0 * s, 400.0)))
    )
    near = tuple(np.subtract(on, np.array(direction) * ROUND.width / 2))
    b.weld(
        "brace weld",
        tube,
        brace,
        Beads(ring(Place.facing(near, direction), ROUND.width), 5.0, "", normal=direction),
    )
    ahead = unit(minus(tip, (-360.0, 60.0 * s, 560.0)))
    nose = b.plate(
        "nose",
        Plate(
            rectangle(-40.0, -40.0, 40.0, 40.0), 10.0, Place.facing(tip, ahead, Y), holes=((0.0, 30.0, 11.0),)
        ),
        "S355",
    )
    b.weld("nose weld", tube, nose, Beads(ring(Place.facing(tip, ahead), ROUND.width), 5.0, "", normal=ahead))
    b.socket("tip", nose, Place.facing((tip[0] - 10.0, tip[1], tip[2] + 30.0), Z, X), Takes("ball"))
    return marked(b.placed(Place()), {}), {
        "drop": {"1/tip": (-400.0, 150.0 * s, -900.0, 0, 0, 0)},
        "pull": {"1/tip": (-3000.0, 0.0, -300.0, 0, 0, 0)},
    }


def angle_post(s=1.0):
    """An upright angle by its heel on a plate, a load on its top off its shear centre."""
    b = start()
    plate, _ = foot(b, "plate", Place.facing((0.0, 0.0, 0.0), Z, X), (160.0, 140.0), 10.0, 120.0)
    post = b.bar(
        "post",
        Bar(ANGLE, Line((20.0, 10.0 * s, 10.0), (20.0, 10.0 * s, 410.0)), up=Y if s > 0 else X),
        "S235",
        heel=True,
    )  # an equal angle mirrored is the same angle, legs changed over
    cy, cz = 20.0 + (post.shape.path.a[0] - 20.0), post.shape.path.a[1]
    w = ANGLE.width / 2
    b.weld(
        "post weld",
        plate,
        post,
        Beads(loop(Place((cy, cz, 10.0)), 2 * w * 0.9, 2 * w * 0.9), 5.0, "", normal=Z),
    )
    b.socket("top", post, Place((post.shape.path.b[0], post.shape.path.b[1], 410.0)), Takes("deck"))
    return marked(b.placed(Place()), {}), {
        "side": {"1/top": (150.0, 400.0 * s, -200.0, 0, 0, 0)},
        "twist": {"1/top": (0, 0, -500.0, 0, 0, 30_000.0 * s)},
    }


def clamped_cradle(s=1.0):
    """A square upright on a plate that is clamped to a trailer's rail by four bolts."""
    b = start()
    place = Place.facing((0.0, 0.0, 500.0), Z, X)
    plate = b.plate("clamp plate", Plate(rectangle(-70.0, -60.0, 70.0, 60.0), 10.0, place), "S355")
    b.joint(
        "clamp",
        plate,
        HOST,
        place,
        Clamp(catalogue.bolt("M10"), catalogue.bolt_grade("8.8"), 4, 2, 0.3, (100.0, 80.0)),
    )
    tube = catalogue.bar("40x40x3")
    upright = b.bar("upright", Bar(tube, Line((0.0, 0.0, 510.0), (0.0, 0.0, 800.0)), up=X), "S235")
    b.weld(
        "upright weld",
        plate,
        upright,
        Beads(loop(Place((0.0, 0.0, 510.0)), 40.0, 40.0, tube.radius), 4.0, "", normal=Z),
    )
    b.socket("head", upright, Place((0.0, 0.0, 800.0)), Takes("deck"))
    return marked(b.placed(Place()), {}), {
        "down": {"1/head": (0, 0, -2500.0, 0, 0, 0)},
        "push": {"1/head": (500.0, 300.0 * s, -800.0, 0, 0, 0)},
    }


def trunk_anchor(s=1.0):
    """A short receiver block leaning on a trunk by two edges, held by one strap round it above and one
    below.
    """
    b = start()
    tube = catalogue.bar("60x60x5")
    upright = b.bar("upright", Bar(tube, Line((-150.0, 0.0, 400.0), (-150.0, 0.0, 800.0)), up=X), "S355")
    for name, z in (("low", 430.0), ("high", 770.0)):
        place = Place.facing((-120.0, 0.0, z), X, Z)  # from the part towards the trunk
        b.joint(f"bite {name}", upright, HOST, place, Contact(0.5, 50000.0))
        b.joint(
            f"strap {name}",
            upright,
            HOST,
            Place.facing((-180.0, 0.0, z), X, Z),
            StrapRound(15000.0, 800.0, "webbing, label: 15 kN working limit"),
        )
    # straps hold it sideways and upright by friction round the trunk
    b.joint(
        "hang",
        upright,
        HOST,
        Place.facing((-150.0, 20.0 * s, 800.0), Z, X),
        Clamp(catalogue.bolt("M8"), catalogue.bolt_grade("8.8"), 1, 1, 0.3, (40.0, 40.0)),
    )
    b.socket("ring", upright, Place((-180.0, 0.0, 520.0)), Takes("ring"))
    return marked(b.placed(Place()), {}), {
        "pull": {"1/ring": (-9000.0, 500.0 * s, 0, 0, 0, 0)},
        "push": {"1/ring": (4000.0, 0, 0, 0, 0, 0)},
    }


def folded_bracket(s=1.0):
    """A plate on the host whose top is bent out to a shelf and the shelf's end up again to a lip; loads on a
    stub of tube on the shelf, and on the lip.
    """
    b = start()
    place = Place.facing((0.0, 150.0 * s, 700.0), (-1.0, 0.0, 0.0), Y)  # u left, v down, out to the rear
    plate, _ = foot(b, "bracket", place)
    outline = rectangle(-60.0, -260.0, 60.0, 45.0)
    bent = dataclasses.replace(
        plate.shape,
        outline=outline,
        holes=plate.shape.holes[:: int(s)],  # a mirrored part's first hole is its twin's
        folds=(
            Fold((61.0, -190.0), (-61.0, -190.0), np.radians(-60.0), 8.0),
            Fold((61.0, -60.0), (-61.0, -60.0), np.radians(80.0), 10.0),
        ),
    )
    b.parts[plate.key] = plate = dataclasses.replace(plate, shape=bent)
    shelf = bent.place @ folded.frame_at(bent, 10.0 * s, -130.0)
    on = Place.facing(shelf.point((10.0 * s, -130.0, bent.t)), shelf.z, shelf.x)
    tube = catalogue.bar("40x40x3")
    stub = b.bar("stub", Bar(tube, Line(on.o, on.point((0.0, 0.0, 90.0))), up=shelf.y), "S235")
    b.weld("stub weld", plate, stub, Beads(loop(on, 40.0, 40.0, tube.radius), 4.0, "", normal=shelf.z))
    b.socket("head", stub, Place(on.point((0.0, 0.0, 90.0))), Takes("deck"))
    lip = bent.place @ folded.frame_at(bent, -15.0 * s, -235.0)
    b.socket("lip", plate, Place(lip.point((-15.0 * s, -235.0, bent.t / 2))), Takes("ring"))
    return marked(b.placed(Place()), {}), {
        "down": {"1/head": (100.0, 60.0 * s, -900.0, 0, 0, 0)},
        "lip": {"1/lip": (-300.0, 150.0 * s, -500.0, 0, 0, 0)},
    }


TRIALS = {
    "bent tube": bent_tube,
    "angle": angle_post,
    "clamp": clamped_cradle,
    "strap": trunk_anchor,
    "folded bracket": folded_bracket,
}


def cases_of(loads):
    return tuple(Case(name, name, by, "trial", "trial") for name, by in loads.items())


def judged(assembly, loads, method="elastic"):
    forces = analyse(assembly, cases_of(loads), load_points(assembly))
    checks, unchecked = judge(forces, AllowableStrength(), method)
    return {c.id: c for c in checks}, unchecked, forces


def turned(assembly, loads, place):
    """The whole thing somewhere else in space."""
    out = dataclasses.replace(
        assembly,
        parts=tuple(dataclasses.replace(p, place=place @ p.place) for p in assembly.parts),
        joints=tuple(moved(j, place) for j in assembly.joints),
        sockets=tuple(
            dataclasses.replace(k, place=place @ k.place, lands=place.point(k.lands) if k.lands else None)
            for k in assembly.sockets
        ),
    )
    return out, {
        c: {n: (*place.vector(tuple(f[:3])), *place.vector(tuple(f[3:]))) for n, f in by.items()}
        for c, by in loads.items()
    }


def beyond(assembly, *words):
    """Mass, kg, and middle of every part that the host does not hold once the joints with one of some words
    in their keys are gone.
    """
    held, wave = {"host"}, ["host"]
    while wave:
        for j in assembly.joints_of.get(wave.pop(), ()):
            if not any(w in j.key for w in words):
                new = {j.a, j.b} - held - {"load"}
                held |= new
                wave += list(new)
    return [(bodies.mass(p), bodies.centre(p)) for p in assembly.parts if p.key not in held]


def unbalanced(assembly, forces):
    """What is left over at every part when all joints and loads on it are summed about its place: the
    greatest force, and moment in mm, each over the greatest force of a joint (1 N at least)."""
    points = load_points(assembly)
    left = {}
    for part in assembly.parts:
        if part.key in forces.net.still:
            continue
        force, moment, size = np.zeros((len(forces.cases), 3)), np.zeros((len(forces.cases), 3)), 1.0
        for j in assembly.joints_of.get(part.key, ()):
            if j.key in forces.raw.link_index:
                f, m = forces.wrench(j, part.place.o)
                sign = 1.0 if j.a == part.key else -1.0
                force, moment, size = force + sign * f, moment + sign * m, max(size, float(np.abs(f).max()))
        for c, case in enumerate(forces.cases):
            for n, load in case.loads.items():
                if points[n].part == part.key:
                    force[c] += load[:3]
                    moment[c] += np.array(load[3:]) + np.cross(
                        np.subtract(points[n].at, part.place.o), load[:3]
                    )
        left[part.key] = (np.abs(force).max() / size, np.abs(moment).max() / size)
    return left
