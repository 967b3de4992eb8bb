"""What all checks share: their context, their registration by kind of joint, and that the worst case
governs.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from urial.assembly import facts
from urial.assembly.chain import joint_link
from urial.assembly.model import HOST, Assembly, Joint, Part
from urial.geometry.shape import Bar
from urial.stock.catalogue import Material
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure

Finding = Check | Unchecked


@dataclass(frozen=True)
class About:
    """What a check is about: its id and name, the part it judges and the chain's link it belongs to, its
    kind, the unit of demand and strength, the clause, the place on the part, and the parameter that mends it.
    """

    id: str
    name: str
    part: str
    link: str
    kind: str
    unit: str
    clause: str
    place: str = ""
    path: str = ""

    @classmethod
    def on(cls, part: Part, id: str, name: str, kind: str, unit: str, clause: str, path: str = "") -> About:
        """A part's own check: its mark and link, the size that mends it (its first)."""
        path = path or (part.paths[0] if part.paths else "")
        return cls(id, name, part.mark, part.family, kind, unit, clause, path=path)


@dataclass(frozen=True)
class Context:
    """Everything a check may ask for."""

    forces: Forces
    basis: Basis
    method: str

    @property
    def assembly(self) -> Assembly:
        """What is judged."""
        return self.forces.assembly

    def part(self, key: str) -> Part:
        """A part by key."""
        return self.assembly.by_key[key]

    def mark(self, key: str) -> str:
        """A part's mark, or the host."""
        return HOST if key == HOST else self.assembly.by_key[key].mark

    def link(self, joint: Joint) -> str:
        """The chain link a joint belongs to."""
        return joint_link(self.assembly, joint.key)

    def steel(self, part: Part, joint: Joint | None = None) -> Material:
        """A part's steel at a joint: softened where a weld on it is near, or anywhere on a welded plate."""
        if part.material.beside_weld() is part.material:
            return part.material
        if isinstance(part.shape, Bar) and joint is not None:
            s = facts.on_bar(part, joint.place.o)
            near = any(span.low <= s <= span.high for span in facts.heated_spans(part, self.assembly))
            return part.material.beside_weld() if near else part.material
        return facts.softened(part, self.assembly)

    def governed(
        self,
        demand: Array,
        available: float,
        about: About,
        work: Callable[[int], Working],
        by_case: Array | None = None,
    ) -> Check:
        """A check from demands (case,) against one available strength; the worst case governs, and ``work``
        shows it.
        """
        used = demand / available if by_case is None else by_case
        k = int(used.argmax())
        return Check(
            id=about.id,
            name=about.name,
            part=about.part,
            link=about.link,
            kind=about.kind,
            case=self.forces.cases[k].id,
            demand=float(demand[k]),
            available=available,
            unit=about.unit,
            utilisation=float(used[k]),
            basis=self.basis.name,
            clause=about.clause,
            by_case=used,
            work=lambda: work(k),
            place=about.place,
            path=about.path,
        )


Judge = Callable[[Context, Joint], Iterable[Finding]]
_JUDGES: dict[type, list[Judge]] = {}


def register(how: type) -> Callable[[Judge], Judge]:
    """Make a function a check of every joint of a kind; a kind may have several."""

    def keep(judge: Judge) -> Judge:
        _JUDGES.setdefault(how, []).append(judge)
        return judge

    return keep


def judges(how: type) -> list[Judge]:
    """The checks of a kind of joint; none: nobody knows it."""
    return _JUDGES.get(how, [])


def names(found: Iterable[Callable[..., object]]) -> set[str]:
    """What checks are called in the code, by which it is known which of them there must be."""
    return {f.__name__ for f in found}


def ratio(name: str, demand: float, available: float, unit: str) -> Line:
    """The last line of a working."""
    return Line(
        "utilisation",
        f"{name} / available",
        f"{figure(demand)} / {figure(available)} {unit}",
        f"{demand / available:.2f}",
    )
