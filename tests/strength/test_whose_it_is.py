"""Which part a check is of, what an open weld is worth, and what size does to a bolt."""

import dataclasses

import numpy as np
import pytest

from urial import families
from urial.assembly import bodies
from urial.job.fields import specs
from urial.prove.trade import SHORTER, _shorter
from urial.prove.verdict import prove
from urial.strength.basis import basis_of
from urial.strength.check import Unchecked
from urial.strength.checks.common import Context
from urial.strength.checks.endurance_bolts import size_effect
from urial.strength.checks.welds import weld_checks
from urial.strength.restraint import Restraint


@pytest.fixture(scope="module")
def mounted():
    return prove(families.new_job("ball-mount"))


def test_a_pins_checks_belong_to_bar_receiver_and_pin(mounted):
    """The bar is mended at the ball mount, the walls at the receiver, the rest is the pin's own."""
    pin = {c.id.rsplit(": ", 1)[1]: c for c in mounted.checks if c.kind == "pin" and ": " in c.id}
    a = mounted.assembly
    bar = next(p for p in a.parts if p.name == "ball mount bar")
    bore = next(p for p in a.parts if p.name.startswith("receiver"))
    for what, part in (("bearing on bar", bar), ("tear-out of bar", bar), ("tear-out of receiver", bore)):
        assert pin[what].link == part.family and pin[what].part == part.mark, what
        assert pin[what].path in part.paths
    own = next(c for what, c in pin.items() if not what.endswith(("bar", "receiver")))
    assert own.link not in (bar.family, bore.family)


@pytest.mark.parametrize("state", ["tacked", "part-run"])
def test_a_weld_that_is_open_rates_nothing_and_a_done_one_does(mounted, state):
    context = Context(mounted.forces, basis_of(mounted.job.proof), "elastic")
    joint = mounted.assembly.joint_by_key["1/receiver weld"]
    done = list(weld_checks(context, joint))
    assert done and not any(isinstance(f, Unchecked) for f in done)
    still_open = dataclasses.replace(joint, how=dataclasses.replace(joint.how, state=state))
    (told,) = weld_checks(context, still_open)
    assert isinstance(told, Unchecked) and state in told.what and "nothing rates it" in told.what


def test_a_large_bolt_bears_a_smaller_range():
    """(d/30)^(1/4) over M30: 48 mm is 1.6^0.25 = 1.125; none below."""
    assert size_effect(12.0) == size_effect(30.0) == 1.0
    assert size_effect(48.0) == pytest.approx(1.1247, abs=1e-4)


def test_only_long_levers_are_tried_shorter():
    """What a family calls a lever, over 60 mm, at each of the shares: nothing that is short, or no length."""
    job = families.new_job("ball-mount")
    found = list(_shorter(job))
    piece = {p.id: p.values for p in job.stack}
    for path, value in found:
        _, number, name = path.split(".")
        now = getattr(piece[number], name)
        assert specs(type(piece[number]))[name].lever and isinstance(now, float) and now > 60.0
        assert value in [float(round(now * s)) for s in SHORTER]
    short = [
        f"stack.{n}.{name}"
        for n, values in piece.items()
        for name, spec in specs(type(values)).items()
        if spec.lever and getattr(values, name) <= 60.0
    ]
    assert not {p for p, _ in found} & set(short)
    tried = {p for p, _ in found}
    assert "stack.2.pin_to_ball_mm" in tried
    low = job.model_copy(
        update={
            "stack": tuple(
                p.model_copy(update={"values": p.values.model_copy(update={"pin_to_ball_mm": 50.0})})
                if p.id == "2"
                else p
                for p in job.stack
            )
        }
    )
    assert "stack.2.pin_to_ball_mm" not in {p for p, _ in _shorter(low)}


@pytest.mark.parametrize(
    ("stiffness", "said"), [(12_345_000.0, "12345 kN"), (9_994.0, "10 kN"), (3_249.0, "3.2 kN")]
)
def test_how_soft_it_is_is_said_in_kilonewtons_for_a_millimetre(stiffness, said):
    told = Restraint((True,) * 6, (False,) * 6, "nodding", (0.0, 0.0, 1.0), stiffness, np.zeros((1, 6)))
    assert told.words == f"Held in all six directions. Softest: nodding, 1 mm at {said}."


def test_a_members_check_is_said_to_be_where_the_member_is(mounted):
    """The place of each lies inside its own part's box, and not all in one corner of it."""
    by_mark = {p.mark: p for p in mounted.assembly.parts}
    found = [c for c in mounted.checks if c.kind == "member" and c.place]
    assert len(found) > 5
    for c in found:
        low, high = bodies.corners(by_mark[c.part])
        at = [float(x) for x in c.place.split(",")]
        assert all(a - 1.0 <= x <= b + 1.0 for a, x, b in zip(low, at, high, strict=True)), (c.name, at)
