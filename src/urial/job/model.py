"""The job: a frozen value. An edit makes a new one. Lengths mm, masses kg, heights above ground, and
``behind`` rearward from the host's origin, as a tape measures it."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, SerializeAsAny, field_validator, model_validator

from urial.job.change import Change
from urial.job.duty import Deck, OtherDuty, Running, Weighing
from urial.job.fields import Value, choice, length, mass, maybe_mass, number, stock, text
from urial.job.host import AnyHost, Host, Vehicle
from urial.job.making import Making
from urial.job.origin import Origin
from urial.job.survey import Survey

FORMAT: Literal[7] = 7


class Towing(Value):
    """The duty: tow a trailer on a ball, a clevis or a pintle."""

    towed: bool = choice(True, "tows a trailer", group="Trailer")
    hitch: Literal["ball", "clevis", "pintle"] = choice(
        "ball",
        "by",
        "Clevis and pintle have play: their jerks pulling away and braking are a quarter larger.",
        words={"ball": "ball", "clevis": "clevis", "pintle": "pintle"},
        group="Trailer",
    )

    trailer_name: str = text("Trailer", "trailer", group="Trailer")
    trailer_mass_kg: float = mass(
        1850.0, "trailer, loaded", "Everything: trailer, cargo, water.", lo=1, group="Trailer"
    )
    permissible_kg: float | None = maybe_mass(
        "trailer, permissible",
        "From its maker's plate; empty: as loaded. Coupling values go by what it may weigh.",
        lo=1,
        group="Trailer",
    )
    towing_kg: float | None = maybe_mass(
        "towed by, permissible",
        "For a trailer's own drawbar: what the vehicle that tows it may weigh. A vehicle that is the host "
        "has its own figures.",
        lo=1,
        group="Trailer",
    )
    tongue_mass_kg: float = mass(
        190.0,
        "tongue weight",
        "What the coupler puts on the ball when level; in the window also as its share: 12 %.",
        lo=0.5,
        group="Trailer",
    )
    school: Literal["10-15", "4-8"] = choice(
        "10-15",
        "school",
        "10–15 % keeps long, fast or softly sprung rigs straight and is the default; 4–8 % suits "
        "short, balanced trailers at lower speed under a maker's hard limit.",
        words={"10-15": "10–15 %", "4-8": "4–8 %"},
        group="Trailer",
    )
    coupler_height_mm: float = length(
        450.0,
        "coupler height",
        "Ground to where the middle of the ball sits, trailer level: the top of the socket less half a ball. "
        "In the window also from the top of the receiver's bar, empty: 5 in lower.",
        lo=100,
        hi=1500,
        group="Trailer",
    )
    axle_behind_mm: float = length(
        3300.0, "coupler to axle", "Coupler to the middle of the axles.", lo=300, hi=15_000, group="Trailer"
    )
    bed_length_mm: float = length(
        3000.0, "bed length", "Length of the load bed.", lo=200, hi=15_000, group="Trailer"
    )
    middle_height_mm: float = length(
        850.0,
        "trailer's middle, height",
        "Centre of mass above ground, loaded: braking pitches the trailer about it.",
        lo=50,
        hi=4000,
        group="Trailer",
    )
    chains_judged: Literal["accident", "service"] = choice(
        "accident",
        "safety chains",
        "A chain takes the trailer once, in an accident, and its published figure is a breaking "
        "strength: so nominal strength is the default. Service asks the usual reserve on top.",
        words={"accident": "as an accident", "service": "with full reserve"},
        group="Trailer",
    )
    air_suspension: bool = choice(False, "air suspension on the towing axle", group="Trailer")
    articulation_deg: float = number(
        60.0,
        "jackknife angle",
        "Where tongue and bumper meet, or the coupler's stop.",
        lo=10,
        hi=110,
        kind="angle",
        group="Trailer",
    )
    factors: dict[str, Annotated[float, Field(ge=-90, le=90)]] = Field(
        default_factory=dict, title="changed factors"
    )

    @model_validator(mode="after")
    def _tongue_within_trailer(self) -> Towing:
        if self.tongue_mass_kg >= self.trailer_mass_kg:
            raise ValueError("The tongue weight is as much as the whole trailer; weigh the tongue again.")
        return self


class Proof(Value):
    """How strength is judged."""

    basis: Literal["ASD", "LRFD", "FoS"] = choice(
        "ASD",
        "basis",
        "ASD compares the real force with an allowable one, as a shop thinks; LRFD factors load and "
        "strength apart; FoS is a plain factor on yield.",
        words={"ASD": "allowable (ASD)", "LRFD": "factored (LRFD)", "FoS": "plain factor"},
        group="Basis",
    )
    factor_of_safety: float = number(
        2.0,
        "plain factor on yield",
        "Used by the plain-factor basis: 2.0 on worst-case loads.",
        lo=1.0,
        hi=10,
        group="Basis",
    )
    weld_method: Literal["elastic", "centre"] = choice(
        "elastic",
        "weld groups",
        "Elastic is quick to follow and conservative, so it is the default; the instantaneous centre "
        "uses the weld's true strength for loads in its plane.",
        words={"elastic": "elastic", "centre": "instantaneous centre"},
        group="Basis",
    )
    foot: Literal["bolts", "fixed", "pinned"] = choice(
        "bolts",
        "plates on the rails",
        "As stiff as the bolts and plate really are (default), or idealised.",
        words={"bolts": "as stiff as the bolts", "fixed": "fixed", "pinned": "pinned"},
        group="Basis",
    )
    endured: Literal["category", "type test"] = choice(
        "category",
        "endurance, held against",
        "A category is what 95 of 100 such details bear and is the default: a part is made once and nobody "
        "breaks a sample of it. A type test lets one sample pass, as parts with an R55 mark have; about half "
        "of those that only just pass would crack on the bench, and parts under SAE J684 were pulled once.",
        words={"category": "category", "type test": "type test"},
        group="Basis",
    )
    endurance: Literal["1.0", "1.15", "1.35"] = choice(
        "1.0",
        "endurance, factor on the category",
        "The rule of two million swings is a test of one sample and a category is what 95 of 100 bear, so "
        "1.0 is the default; EN 1993-1-9 asks 1.15 where a crack is found in time, 1.35 where it is not.",
        words={"1.0": "1.0, the rule alone", "1.15": "1.15, looked after", "1.35": "1.35, not seen"},
        group="Basis",
    )
    gives_first: str = text(
        "",
        "to give way first",
        "A link of the load chain that is meant to give way before the rest, so that the vehicle does not.",
        group="Basis",
    )


class Welding(Value):
    """What the shop welds with."""

    electrode: str = stock("E70", "electrode", "electrode", group="Welds")
    process: Literal["wire", "short", "self", "stick"] = choice(
        "wire",
        "welded with",
        "Gas-shielded wire in spray or pulsed transfer, or flux-cored, reaches twice as deep into the flare "
        "beside a round corner as short-circuit or self-shielded wire or a stick does (AISC table J2.2). "
        "Small machines on thin wire are in short circuit.",
        words={
            "wire": "gas-shielded wire: spray, pulsed or flux-cored",
            "short": "wire in short circuit",
            "self": "self-shielded wire",
            "stick": "stick",
        },
        group="Welds",
    )
    hard_steels: Literal["judged", "not judged"] = choice(
        "judged",
        "welds on steel that hardens",
        "Steel with much carbon, or quenched and tempered: judged with what is left of it and the preheat "
        "said, which is the default, since a warmed and slowly cooled bead does hold; others leave such a "
        "weld to a tested procedure and judge none.",
        words={"judged": "judged, preheat said", "not judged": "not judged"},
        group="Welds",
    )
    toes: Literal["as welded", "ground"] = choice(
        "as welded",
        "toes",
        "Where a bead ends on the metal a crack begins; ground smooth with a burr, half a millimetre into "
        "the metal, a toe bears a range a third larger, and every toe must then be ground.",
        words={"as welded": "as welded", "ground": "ground smooth (a carbide burr)"},
        group="Welds",
        strengthens=True,
    )


class Design(Value):
    """Base of every family's parameters; ``family`` names it."""

    family: str


class Follows(Value):
    """A size that follows others: its parameter, and the formula as it was written."""

    size: str = Field(title="size", max_length=60)
    text: str = Field(title="formula", max_length=240)


class Piece(Value):
    """One piece of the stack: what it is, and the socket of the host or of an earlier piece that it sits
    in.
    """

    id: str = Field(pattern=r"^[1-9][0-9]{0,3}$", title="piece")
    on: str = Field("host", title="on", description="“host”, or the id of the piece it sits on.")
    socket: str = Field("", title="socket", max_length=120)
    values: SerializeAsAny[Design]
    formulas: Annotated[tuple[Follows, ...], Field(max_length=60)] = Field(
        (), title="formulas", description="Sizes that follow others."
    )

    changes: Annotated[tuple[Change, ...], Field(max_length=60)] = Field(
        (), title="changes", description="What was changed of it after its family made it, in order."
    )

    @property
    def follows(self) -> dict[str, str]:
        """Formulas by the parameter that follows them."""
        return {f.size: f.text for f in self.formulas}

    @property
    def family(self) -> str:
        """Its family's name."""
        return self.values.family

    @model_validator(mode="before")
    @classmethod
    def _values_by_family(cls, data: Any) -> Any:
        if isinstance(data, dict) and isinstance(data.get("values"), dict):
            raw = data["values"]
            model = _DESIGNS.get(str(raw.get("family")))
            if model is None:
                known = ", ".join(sorted(_DESIGNS)) or "none"
                raise ValueError(
                    f"The job has a piece of family “{raw.get('family')}”, which is not known here; "
                    f"there are {known}."
                )
            data = {**data, "values": model.model_validate(raw)}
        return data


_DESIGNS: dict[str, type[Design]] = {}
_load_families: list[Callable[[], None]] = []


def register_design(name: str, model: type[Design]) -> None:
    """Make a family's parameter model known to the document."""
    _DESIGNS[name] = model


def designs() -> dict[str, type[Design]]:
    """Every registered parameter model by family name."""
    return dict(_DESIGNS)


class Waiver(Value):
    """A finding of how it goes together that somebody lives with, and why."""

    finding: str = Field(min_length=1, max_length=300, title="finding")
    reason: str = Field(min_length=1, max_length=300, title="reason")


class Pinned(Value):
    """A clearance pinned to the drawing: between which two (a part's key, “keep-out NAME” or “host NAME”),
    and how much air is wanted.
    """

    a: str = Field(min_length=1, max_length=300, title="between")
    b: str = Field(min_length=1, max_length=300, title="and")
    wanted_mm: float = length(10.0, "air wanted", lo=0, hi=5000)


ON_PAPER = ("id", "title", "customer", "revision", "date", "drawn", "checked", "notes")
"""What a job says of itself: no part depends on it."""
UNPROVED: dict[str, Any] = {**dict.fromkeys(ON_PAPER, ""), "making": Making()}
"""The same with what is wanted of the work, each with what stands in its place where jobs are told apart."""


def _mark(text: str) -> str:
    if not re.fullmatch(r"[A-Z]{1,2}|X[1-9][0-9]{0,3}", text):
        raise ValueError("a mark is one or two capitals, or X and a number; without it a new one is given.")
    return text


Mark = Annotated[str, Field(max_length=40), AfterValidator(_mark)]
"""What is stamped on steel and stands in the names of files: A, AB, X12."""


class Job(Value):
    """One job: hosts, the stack of pieces on the first of them, what is asked of it.  Without a piece it
    is a survey.
    """

    format: Literal[7] = FORMAT
    id: str = Field(
        "",
        pattern=r"^([0-9a-f]{32})?$",
        title="job's own number",
        description="Given once: under another name it is the same job; a duplicate gets another.",
    )
    next_piece: int = Field(
        1, ge=1, le=10_000, title="next piece", description="No piece is numbered lower that was not before."
    )
    title: str = text("New job", "title", group="Job")
    customer: str = text("", "for", group="Job")
    revision: str = text("", "revision", "A letter or number; the papers carry it.", group="Job")
    date: str = text("", "date", "Of this revision; empty: the day the papers are written.", group="Job")
    drawn: str = text("", "drawn by", group="Job")
    checked: str = text(
        "", "checked by", "Who signs for it. The packet leaves a line to sign on.", group="Job"
    )
    notes: str = Field("", title="notes", max_length=20_000)
    units: Literal["inch", "metric"] = choice(
        "metric", "units", words={"inch": "inches", "metric": "millimetres"}, group="Job"
    )
    nearest: Literal[16, 32] = choice(
        16, "inch fractions to", words={"16": "1/16", "32": "1/32"}, group="Job"
    )
    hosts: tuple[AnyHost, ...] = Field(
        (Vehicle(),),
        title="hosts",
        min_length=1,
        max_length=8,
        description="The first is drawn; the part must serve them all.",
    )
    stack: tuple[Piece, ...] = Field((), title="pieces", max_length=40)
    marks: dict[Annotated[str, Field(max_length=200)], Mark] = Field(
        default_factory=dict,
        title="marks",
        max_length=2_000,
        description="Marks given so far: steel that is cut keeps its mark.",
    )
    welding: Welding = Field(default_factory=Welding)
    survey: Survey = Field(default_factory=Survey)
    duty: Towing = Field(default_factory=Towing)
    duties: tuple[OtherDuty, ...] = Field((), title="other duties", max_length=12)
    deck: Deck = Field(default_factory=Deck)
    running: Running = Field(default_factory=Running)
    weighings: tuple[Weighing, ...] = Field((), title="weighings", max_length=60)
    proof: Proof = Field(default_factory=Proof)
    making: Making = Field(default_factory=Making)
    waived: Annotated[tuple[Waiver, ...], Field(max_length=200)] = Field(
        (), title="waived", description="Findings that somebody lives with, each with the reason."
    )
    tool_free: Annotated[tuple[str, ...], Field(max_length=40)] = Field(
        (), title="without tools", description="Pieces, by their ids, that are to come off without tools."
    )
    clearances: Annotated[tuple[Pinned, ...], Field(max_length=40)] = Field(
        (), title="clearances", description="Air between two things that stands on the drawing."
    )
    origins: dict[str, Origin] = Field(
        default_factory=dict,
        title="origins",
        max_length=20_000,
        description="Who typed or measured a figure, by its path; a figure without one is assumed.",
    )

    @property
    def vehicle(self) -> AnyHost:
        """The first host, the one drawn and surveyed."""
        return self.hosts[0]

    @property
    def has_part(self) -> bool:
        """Is there anything to build, or only a survey?"""
        return bool(self.stack)

    def piece(self, family: str) -> Piece | None:
        """The first piece of a family."""
        return next((p for p in self.stack if p.family == family), None)

    def numbered(self, number: str) -> Piece | None:
        """The piece of an id; None where it is off the stack."""
        return next((p for p in self.stack if p.id == number), None)

    def with_vehicle(self, host: Host) -> Job:
        """The job with another first host."""
        return self.model_copy(update={"hosts": (host, *self.hosts[1:])})

    def with_values(self, piece: str, values: Design) -> Job:
        """The job with other sizes of one piece."""
        return self.model_copy(
            update={
                "stack": tuple(
                    p.model_copy(update={"values": values}) if p.id == piece else p for p in self.stack
                )
            }
        )

    @property
    def next_free(self) -> int:
        """The number of the next piece: one that no piece of this job has or had."""
        return max((self.next_piece, *(int(p.id) + 1 for p in self.stack)))

    @field_validator("nearest", mode="before")
    @classmethod
    def _nearest_from_text(cls, value: Any) -> Any:
        return int(value) if isinstance(value, str) and value.isdigit() else value

    @model_validator(mode="after")
    def _a_tree(self) -> Job:
        seen = {"host"}
        for p in self.stack:
            if p.id in seen:
                raise ValueError(f"Two pieces of the job are numbered {p.id}; give each its own number.")
            if p.on not in seen:
                raise ValueError(
                    f"Piece {p.id} sits on “{p.on}”, which is not a piece before it; put it on the "
                    "host or on an earlier piece."
                )
            seen.add(p.id)
        return self


def json_schema() -> dict[str, Any]:
    """JSON Schema of ``job.json``, the design being any registered family's."""
    schema = Job.model_json_schema()
    defs = schema.setdefault("$defs", {})
    options = []
    for name, model in sorted(_DESIGNS.items()):
        part = model.model_json_schema()
        defs.update(part.pop("$defs", {}))
        defs[name] = part
        options.append({"$ref": f"#/$defs/{name}"})
    defs["Piece"]["properties"]["values"] = {"anyOf": options}
    defs.pop("Design", None)
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Urial job document"
    return schema
