"""What if: the governing utilisation against one size or load, with the kinks where another link takes over;
what matters most; and the most it may carry, by how far out or at what angle.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import BuildError
from urial.job.duty import Anchor, Carrier, Implement, Recovery, Winch
from urial.job.edit import EditError, all_specs, get, put, spec_of
from urial.job.model import Job
from urial.prove.verdict import Verdict, prove
from urial.strength.check import Check

Array = NDArray[np.float64]
POINTS = 21
PLACES = 12
"""At so many reaches or angles the most it may carry is sought."""
KINK = 6
"""So often an interval is halved to find where another link takes over."""
SHARE = 0.10
"""How far each figure is taken up and down to see what matters."""


@dataclass(frozen=True)
class Kink:
    """A value from which on another link governs."""

    value: float
    used: float
    before: str
    after: str


@dataclass(frozen=True)
class Sweep:
    """A figure's values (n,), the governing utilisation at each (n,; nan where it cannot be built), the link
    that governs there, the kinks, and down and up to which value it holds, going from what it is now.
    """

    path: str
    now: float
    values: Array
    used: Array
    governs: tuple[str, ...]
    kinks: tuple[Kink, ...]
    least: float | None
    most: float | None


@dataclass(frozen=True)
class Bar:
    """What a tenth less and a tenth more of a figure make of the part's weak link."""

    path: str
    title: str
    less: float
    more: float

    @property
    def span(self) -> float:
        """How much it matters; what cannot be built on one side counts by the other."""
        both = [x for x in (self.less, self.more) if math.isfinite(x)]
        return max(both) - min(both) if len(both) == 2 else 0.0


@dataclass(frozen=True)
class Envelope:
    """The most it may carry (n,) in ``unit`` against ``values`` (n,): what is along each axis, what limits it
    at each, and where it stands now.
    """

    across: str
    upwards: str
    unit: str
    values: Array
    most: Array
    limits: tuple[str, ...]
    now: tuple[float, float]


def sweepable(job: Job) -> tuple[str, ...]:
    """Figures worth sweeping: lengths of the pieces, the trailer's masses, what a carrier carries and how far
    out, pulls.
    """
    loads = ("duty.trailer_mass_kg", "duty.tongue_mass_kg") if job.duty.towed else ()
    out = [p for p in loads if p in all_specs(job)]
    for path, spec in all_specs(job).items():
        if path.startswith("stack.") and spec.quantity == "length" and get(job, path):
            out.append(path)
    for n, duty in enumerate(job.duties):
        if isinstance(duty, Carrier):
            out += [f"duties.{n}.items.{k}.{x}" for k in range(len(duty.items)) for x in ("kg", "behind_mm")]
        for name in ("rated_N", "stuck_kg", "pull_N", "kg", "payload_kg"):
            if getattr(duty, name, None):
                out.append(f"duties.{n}.{name}")
    return tuple(p for p in dict.fromkeys(out) if _known(job, p))


def _known(job: Job, path: str) -> bool:
    try:
        return isinstance(get(job, path), (int, float)) and spec_of(job, path).quantity is not None
    except (EditError, KeyError, AttributeError, IndexError):
        return False


def span_of(job: Job, path: str) -> tuple[float, float]:
    """A fair range to sweep: half to twice, within what the field takes; about a negative figure too."""
    now, spec = float(get(job, path)), spec_of(job, path)
    low, high = now - 0.5 * abs(now), now + (abs(now) or 1.0)
    return max(low, spec.lo if spec.lo is not None else low), min(
        high, spec.hi if spec.hi is not None else high
    )


class _At:
    """The verdict at a figure's values, each proved once."""

    def __init__(self, job: Job, path: str) -> None:
        self.job, self.path = job, path
        self.known: dict[float, Verdict | None] = {}

    def __call__(self, value: float) -> Verdict | None:
        if value not in self.known:
            try:
                self.known[value] = prove(put(self.job, self.path, value))
            except (EditError, BuildError):
                self.known[value] = None
        return self.known[value]

    def governs(self, value: float) -> Check | None:
        """The check that governs there."""
        v = self(value)
        return None if v is None else v.governing


def sweep(
    job: Job,
    path: str,
    span: tuple[float, float] | None = None,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> Sweep:
    """The governing utilisation over a range of one figure, core units (half to twice of it by default)."""
    now = float(get(job, path))
    low, high = span or span_of(job, path)
    values = sorted(
        {*(float(v) for v in np.linspace(low, high, POINTS)), now}
        if low <= now <= high
        else {float(v) for v in np.linspace(low, high, POINTS)}
    )
    at = _At(job, path)
    done = []
    for n, value in enumerate(values, 1):
        if stopped():
            break
        tell(f"{n} of {len(values)}")
        at(value)
        done.append(value)
    checks = [at.governs(v) for v in done]
    used = np.array([c.utilisation if c else np.nan for c in checks])
    kinks = []
    for (a, one), (b, other) in zip(
        zip(done, checks, strict=True), zip(done[1:], checks[1:], strict=True), strict=False
    ):
        if one is not None and other is not None and one.id != other.id and not stopped():
            kinks.append(_kink(at, a, b))
    return Sweep(
        path,
        now,
        np.array(done),
        used,
        tuple(c.name if c else "" for c in checks),
        tuple(kinks),
        _edge(at, done, used, now, -1),
        _edge(at, done, used, now, 1),
    )


def _kink(at: _At, a: float, b: float) -> Kink:
    """Where between two values another link takes over, by halving."""
    first = at.governs(a)
    assert first is not None
    for _ in range(KINK):
        middle = (a + b) / 2
        c = at.governs(middle)
        if c is not None and c.id == first.id:
            a = middle
        else:
            b = middle
    left, right = at.governs(a), at.governs(b)
    assert left is not None
    return Kink(
        (a + b) / 2, right.utilisation if right else left.utilisation, left.name, right.name if right else ""
    )


def _edge(at: _At, values: list[float], used: Array, now: float, way: int) -> float | None:
    """To which value it holds, going from now one way; None where it holds to the end, or not even now."""
    start = at(now)
    if start is None or not start.holds:
        return None
    beyond = [v for v in values if (v - now) * way > 0]
    last = now
    for v in sorted(beyond, key=lambda v: abs(v - now)):
        there = at(v)
        if there is None or not there.holds:
            a, b = last, v
            for _ in range(KINK):
                middle = (a + b) / 2
                m = at(middle)
                if m is not None and m.holds:
                    a = middle
                else:
                    b = middle
            return a
        last = v
    return None


def tornado(
    job: Job, stopped: Callable[[], bool] = lambda: False, tell: Callable[[str], None] = lambda _: None
) -> list[Bar]:
    """What matters most: each figure a tenth less and a tenth more, and how far the part's weak link is used
    then; the most first.
    """
    out = []
    paths = sweepable(job)
    for n, path in enumerate(paths, 1):
        if stopped():
            break
        tell(f"{n} of {len(paths)}")
        at, now = _At(job, path), float(get(job, path))
        ends = [at(now * (1 + s * SHARE)) for s in (-1, 1)]
        less, more = (v.weak_link.utilisation if v else math.nan for v in ends)
        out.append(Bar(path, spec_of(job, path).title, less, more))
    return sorted(out, key=lambda b: -b.span)


def ticks(low: float, high: float) -> list[float]:
    """Three to seven round figures within a range."""
    step = 10.0 ** math.floor(math.log10((high - low) / 3))
    step *= next((t for t in (5.0, 2.0, 1.0) if (high - low) / (step * t) >= 3), 1.0)
    first = math.ceil(low / step - 1e-9)
    return [step * n for n in range(first, math.floor(high / step + 1e-9) + 1)]


# ---- the most it may carry


TOW = "tow"
PULLS = (Winch, Recovery, Anchor)
"""Duties of which the most is a pull."""


def carried(job: Job) -> dict[str, str]:
    """The duties of which the most may be asked, by what ``envelope`` takes, with their titles."""
    reaches = any(p.rsplit(".", 1)[-1] in REACHES for p in all_specs(job) if p.startswith("stack."))
    out = {TOW: "the trailer"} if job.duty.towed and reaches else {}
    for n, duty in enumerate(job.duties):
        if isinstance(duty, (*PULLS, Implement)) or (isinstance(duty, Carrier) and duty.items):
            out[str(n)] = duty.title
    return out


def envelope(
    job: Job,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
    which: str = "",
) -> Envelope | None:
    """The most it may carry, of one duty (the first that has one): a trailer's mass (its tongue weight in the
    same share) against how far out the coupling is; what a carrier carries or an implement lifts against how
    far behind; a pull against its angle.  None where nothing of it can be swept.
    """
    which = which or next(iter(carried(job)), "")
    if which == TOW:
        return _towing(job, stopped, tell)
    duty = job.duties[int(which)] if which in carried(job) else None
    if isinstance(duty, Carrier):
        return _carrying(job, duty, stopped, tell)
    if isinstance(duty, Implement):
        return _lifting(job, duty, stopped, tell)
    if isinstance(duty, PULLS):
        return _pulling(job, duty, stopped, tell)
    return None


REACHES = ("pin_to_ball_mm", "reach_mm")
"""How far out a coupling is, by the names its families have for it."""


def _steps(values: Array, stopped: Callable[[], bool], tell: Callable[[str], None]) -> Iterator[float]:
    for n, value in enumerate(values, 1):
        if stopped():
            return
        tell(f"{n} of {len(values)}")
        yield float(value)


def _towing(job: Job, stopped: Callable[[], bool], tell: Callable[[str], None]) -> Envelope | None:
    found = [p for p in all_specs(job) if p.startswith("stack.") and p.rsplit(".", 1)[-1] in REACHES]
    if not found:
        return None
    path, now = found[-1], float(get(job, found[-1]))
    share = job.duty.tongue_mass_kg / job.duty.trailer_mass_kg

    def most_at(x: float) -> tuple[float, str] | None:
        try:
            return _heaviest(put(job, path, x), share)
        except EditError:
            return None

    said = (spec_of(job, path).title, f"trailer, {100 * share:.0f} % of it on the tongue", "kg")
    places = _steps(_through(now, 0.7 * now, 1.8 * now), stopped, tell)
    return _traced(places, most_at, said, (now, job.duty.trailer_mass_kg))


def _traced(
    places: Iterable[float],
    most_at: Callable[[float], tuple[float, str] | None],
    said: tuple[str, str, str],
    now: tuple[float, float],
) -> Envelope | None:
    """The most and what limits it at each place where there is one; ``said``: what is across, upwards, and
    the unit of that.  None where there is none at any.
    """
    found = [(x, *best) for x in places if (best := most_at(x)) is not None]
    if not found:
        return None
    values, most, limits = zip(*found, strict=True)
    return Envelope(*said, np.array(values), np.array(most), limits, now)


def _heaviest(job: Job, share: float) -> tuple[float, str] | None:
    """The heaviest trailer that holds, and what limits it."""

    def at(kg: float) -> Check | None:
        duty = job.duty.model_copy(
            update={"trailer_mass_kg": kg, "permissible_kg": None, "tongue_mass_kg": share * kg}
        )
        try:
            return prove(job.model_copy(update={"duty": duty})).governing
        except BuildError:
            return None

    low, high = 1.0, 8000.0
    first = at(low)
    if first is None or first.short:
        return None
    limit = first
    for _ in range(11):
        middle = math.sqrt(low * high) if low < 50 else (low + high) / 2
        c = at(middle)
        if c is not None and not c.short:
            low = middle
        else:
            high, limit = middle, c or limit
    return low, limit.name


def _through(now: float, low: float, high: float) -> np.ndarray:
    """Places from low to high (PLACES,), what is asked now among them instead of the nearest to it."""
    places = np.linspace(low, high, PLACES)
    places[np.argmin(np.abs(places - now))] = now
    return places


ROOM = 200.0
"""How far at least a carrier's load is tried either way, mm."""


def _carrying(
    job: Job, duty: Carrier, stopped: Callable[[], bool], tell: Callable[[str], None]
) -> Envelope | None:
    total = sum(i.kg for i in duty.items)
    if total <= 0:
        return None
    behind = sum(i.kg * i.behind_mm for i in duty.items) / total
    low, high = behind - max(0.5 * abs(behind), ROOM / 2), behind + max(abs(behind), ROOM)

    def most_at(x: float) -> tuple[float, str] | None:
        def at(kg: float) -> Check | None:
            moved = tuple(
                i.model_copy(update={"behind_mm": i.behind_mm + x - behind, "kg": i.kg * kg / total})
                for i in duty.items
            )
            return _alone(job, duty.model_copy(update={"items": moved}))

        return _just_held(at, total)

    said = ("its middle behind the mouth", "carried", "kg")
    return _traced(_steps(_through(behind, low, high), stopped, tell), most_at, said, (behind, total))


CLOSE = 2e-4
"""Near enough to being just held."""


def _just_held(at: Callable[[float], Check | None], kg: float) -> tuple[float, str] | None:
    """The load whose worst check is just held, and that check: by the secant, since a part's own mass makes
    what is used a straight line in the load that does not begin at nothing.
    """
    worst = at(kg)
    if worst is None:
        return None
    before, now = (0.0, 0.0), (kg, worst.utilisation)
    for _ in range(8):
        if abs(now[1] - 1.0) < CLOSE or now[1] == before[1]:
            break
        slope = (now[1] - before[1]) / (now[0] - before[0])
        guess = now[0] + (1.0 - now[1]) / slope
        if guess <= 0.0:  # it does not even hold itself
            return None
        found = at(guess)
        if found is None:
            break
        before, now, worst = now, (guess, found.utilisation), found
    return now[0], worst.name


def _lifting(
    job: Job, duty: Implement, stopped: Callable[[], bool], tell: Callable[[str], None]
) -> Envelope | None:
    """What an implement may lift against how far behind the lower pins that has its middle, what is stamped
    on it and the tractor's own limits among what ends it: forks tip a tractor before they break.
    """
    load = duty.payload_kg or duty.kg
    low, high = 0.5 * duty.behind_mm, max(duty.tip_mm, 1.5 * duty.behind_mm)
    if high - low < ROOM:
        return None

    def most_at(x: float) -> tuple[float, str] | None:
        def at(kg: float) -> Check | None:
            lifted = {"payload_kg": kg} if duty.payload_kg else {"kg": kg}
            return _alone(job, duty.model_copy(update={"behind_mm": x, **lifted}), limits=True)

        return _lifted(at, load)

    said = ("its middle behind the lower pins", "payload" if duty.payload_kg else "implement", "kg")
    places = _steps(_through(duty.behind_mm, low, high), stopped, tell)
    return _traced(places, most_at, said, (duty.behind_mm, load))


MOST = 64.0
"""Nothing more than so many times what is asked is tried."""
HALVINGS = 8


def _lifted(at: Callable[[float], Check | None], kg: float) -> tuple[float, str] | None:
    """The heaviest load that holds, and what limits it: by halving, since an axle that lifts is no straight
    line, and at last by what is used at both ends.
    """
    low, high = (0.0, 0.0), (2.0 * kg, 0.0)
    worst = at(high[0])
    while worst is not None and not worst.short and high[0] < MOST * kg:
        low, high = (high[0], worst.utilisation), (2 * high[0], 0.0)
        worst = at(high[0])
    limit, high = worst, (high[0], worst.utilisation if worst else math.inf)
    for _ in range(HALVINGS):
        middle = (low[0] + high[0]) / 2
        worst = at(middle)
        if worst is not None and not worst.short:
            low = (middle, worst.utilisation)
        else:
            high, limit = (middle, worst.utilisation if worst else math.inf), worst or limit
    if limit is None or not low[1]:
        return None
    share = (1.0 - low[1]) / (high[1] - low[1]) if high[1] > low[1] else 0.0
    return low[0] + min(share, 1.0) * (high[0] - low[0]), limit.name


def _alone(
    job: Job, duty: Carrier | Implement | Winch | Recovery | Anchor, case: str = "", limits: bool = False
) -> Check | None:
    """The worst check of one duty by itself in all its cases or in one, other people's ``limits`` among them
    or apart: it grows with what is asked.
    """
    still = job.duty.model_copy(update={"towed": False})
    try:
        v = prove(job.model_copy(update={"duties": (duty,), "duty": still}))
    except BuildError:
        return None
    apart = {"minimum"} if limits else {"minimum", "rating"}
    mine = [c for c in v.checks if c.kind not in apart and not (case and c.kind == "fatigue")]
    if case:
        some = [k for k, c in enumerate(v.cases) if c.id.rsplit(": ", 1)[-1].split(",")[0] == case]
        used = [(max((float(c.by_case[k]) for k in some), default=0.0), c) for c in mine]
        mine = [replace(c, utilisation=u) for u, c in sorted(used, key=lambda x: -x[0])]
    return mine[0] if mine and mine[0].utilisation > 1e-9 else None


def _pulling(
    job: Job, duty: Winch | Recovery | Anchor, stopped: Callable[[], bool], tell: Callable[[str], None]
) -> Envelope | None:
    """A pull straight out, turned aside: what it may be at each angle."""
    name, row, what = PULLED[duty.kind]
    asked = float(getattr(duty, name))
    # straps and grips of an anchor are no straight line in its pull
    held = _lifted if isinstance(duty, Anchor) else _just_held

    def most_at(turn: float) -> tuple[float, str] | None:
        turned = duty.model_copy(update={"factors": {**duty.factors, f"{row}/turn": turn}})
        return held(lambda pull: _alone(job, turned.model_copy(update={name: pull}), row), asked)

    said = ("turned aside, degrees", what, "kg" if name.endswith("_kg") else "N")
    places = _steps(np.linspace(-60.0, 60.0, PLACES + 1), stopped, tell)
    return _traced(places, most_at, said, (0.0, asked))


PULLED = {
    "winch": ("rated_N", "straight", "rated pull"),
    "recovery": ("stuck_kg", "snatch", "what may be stuck"),
    "anchor": ("pull_N", "pull", "pull on the line"),
}
"""Of each pull: its figure, the policy's row that is turned, what the figure is."""
