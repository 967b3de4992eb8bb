"""The job: a frozen value.  An edit makes a new one.  Lengths mm, masses kg, heights above ground, x behind the rear axle
as measured with a tape (positive rearward) wherever a field says ``behind_axle``."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field, SerializeAsAny, field_validator, model_validator

from urial.job.fields import Value, choice, length, mass, number, stock, text

FORMAT: Literal[1] = 1


class HardPoint(Value):
    """A bolt hole in a frame rail, measured on its own side."""

    behind_axle_mm: float = length(600.0, "behind axle", "Rear axle centre to hole centre, rearward.", lo=-3000, hi=5000)
    height_mm: float = length(600.0, "height", "Hole centre above ground, vehicle empty.", lo=50, hi=3000)
    hole_mm: float = length(14.0, "hole in rail", "Diameter of the hole as it is in the rail.", lo=4, hi=80)


def _three(z: float = 607.0) -> tuple[HardPoint, ...]:
    return tuple(HardPoint(behind_axle_mm=x, height_mm=z, hole_mm=14.0) for x in (905.0, 985.0, 1065.0))


Points = Annotated[tuple[HardPoint, ...], Field(min_length=1, max_length=12)]


class Vehicle(Value):
    """The towing vehicle from its numbers."""

    name: str = text("Vehicle", "name", group="Vehicle")
    wheelbase_mm: float = length(3200.0, "wheelbase", "Front axle to rear axle.", lo=500, hi=8000, group="Vehicle")
    track_mm: float = length(1600.0, "track", "Between the middles of the rear tyres.", lo=300, hi=3500, group="Vehicle")
    tyre_mm: float = length(760.0, "tyre diameter", "Loaded rear tyre, top to ground.", lo=150, hi=2500, group="Vehicle")
    tyre_width_mm: float = length(245.0, "tyre width", lo=50, hi=900, group="Vehicle")
    rear_overhang_mm: float = length(1180.0, "axle to bumper face", "Rear axle centre to the rearmost face of the bumper.", lo=50, hi=4000, group="Rear frame")
    rail_spacing_mm: float = length(960.0, "rail spacing", "Between the two faces the side plates bolt on.", lo=150, hi=2500, group="Rear frame")
    rail_bottom_mm: float = length(545.0, "underside of rails", "Rail underside above ground, vehicle empty.", lo=80, hi=2500, group="Rear frame")
    rail_height_mm: float = length(125.0, "rail height", lo=20, hi=500, group="Rear frame")
    rail_width_mm: float = length(65.0, "rail width", lo=10, hi=300, group="Rear frame")
    rail_end_mm: float = length(1120.0, "axle to rail end", "Rear axle centre to the rear end of the rails.", lo=-500, hi=4000, group="Rear frame")
    rail_wall_mm: float = length(3.5, "rail wall", "Metal behind the bolts.", lo=0.8, hi=30, group="Rear frame")
    rail_material: str = stock("S355", "rail steel", "material", "If unknown, take the weaker.", group="Rear frame")
    bumper_bottom_mm: float = length(520.0, "underside of bumper", lo=50, hi=2500, group="Rear frame")
    bumper_height_mm: float = length(210.0, "bumper height", lo=10, hi=900, group="Rear frame")
    bumper_depth_mm: float = length(120.0, "bumper depth", lo=5, hi=900, group="Rear frame")
    front_kg: float = mass(1150.0, "front axle, ready to tow", "Weighed with crew and gear, no trailer.", lo=20, group="Masses")
    rear_kg: float = mass(1050.0, "rear axle, ready to tow", "Weighed with crew and gear, no trailer.", lo=20, group="Masses")
    front_rating_kg: float = mass(1500.0, "front axle rating", "From the maker's plate.", lo=20, group="Maker's limits")
    rear_rating_kg: float = mass(1850.0, "rear axle rating", "From the maker's plate.", lo=20, group="Maker's limits")
    gross_rating_kg: float = mass(3100.0, "gross vehicle rating", "From the maker's plate.", lo=40, group="Maker's limits")
    combination_rating_kg: float = mass(5500.0, "gross combination", "Vehicle and trailer together, from the maker.", lo=60, group="Maker's limits")
    tow_rating_kg: float = mass(2500.0, "towing limit", "Braked trailer, from the maker.", lo=20, group="Maker's limits")
    tongue_rating_kg: float = mass(250.0, "tongue limit", "Vertical limit at the ball, from the maker.", lo=2, group="Maker's limits")
    squat_mm_per_100kg: float = length(9.0, "squat per 100 kg", "How far the rear sinks for each 100 kg at the ball; measure it with a helper on the bumper.", lo=0, hi=200, group="Masses")
    left: Points = Field(default_factory=_three, title="left holes")
    right: Points = Field(default_factory=_three, title="right holes")


class Towing(Value):
    """The duty: tow a trailer on a ball."""

    trailer_name: str = text("Trailer", "trailer", group="Trailer")
    trailer_mass_kg: float = mass(1850.0, "trailer, loaded", "Everything: trailer, cargo, water.", lo=1, group="Trailer")
    tongue_mass_kg: float = mass(190.0, "tongue weight", "What the coupler puts on the ball when level.", lo=0.5, group="Trailer")
    school: Literal["10-15", "4-8"] = choice(
        "10-15", "school", "10–15 % keeps long, fast or softly sprung rigs straight and is the default; 4–8 % suits short, balanced trailers at lower speed under a maker's hard limit.",
        words={"10-15": "10–15 %", "4-8": "4–8 %"}, group="Trailer")  # fmt: skip
    coupler_height_mm: float = length(450.0, "coupler height", "Ground to the top of the ball socket, trailer level.", lo=100, hi=1500, group="Trailer")
    axle_behind_mm: float = length(3300.0, "coupler to axle", "Coupler to the middle of the axles.", lo=300, hi=15_000, group="Trailer")
    bed_length_mm: float = length(3000.0, "bed length", "Length of the load bed.", lo=200, hi=15_000, group="Trailer")
    air_suspension: bool = choice(False, "air suspension on the towing axle", group="Trailer")
    articulation_deg: float = number(60.0, "jackknife angle", "Where tongue and bumper meet, or the coupler's stop.", lo=10, hi=110, kind="angle", group="Trailer")
    factors: dict[str, Annotated[float, Field(ge=-10, le=10)]] = Field(default_factory=dict, title="changed factors")

    @model_validator(mode="after")
    def _tongue_within_trailer(self) -> Towing:
        if self.tongue_mass_kg >= self.trailer_mass_kg:
            raise ValueError("The tongue weight is as much as the whole trailer; weigh the tongue again.")
        return self


class Proof(Value):
    """How strength is judged."""

    basis: Literal["ASD", "LRFD", "FoS"] = choice(
        "ASD", "basis", "ASD compares the real force with an allowable one, as a shop thinks; LRFD factors load and strength apart; FoS is a plain factor on yield.",
        words={"ASD": "allowable (ASD)", "LRFD": "factored (LRFD)", "FoS": "plain factor"}, group="Basis")  # fmt: skip
    factor_of_safety: float = number(2.0, "plain factor on yield", "Used by the plain-factor basis: 2.0 on worst-case loads.", lo=1.0, hi=10, group="Basis")
    weld_method: Literal["elastic", "centre"] = choice(
        "elastic", "weld groups", "Elastic is quick to follow and conservative, so it is the default; the instantaneous centre uses the weld's true strength for loads in its plane.",
        words={"elastic": "elastic", "centre": "instantaneous centre"}, group="Basis")  # fmt: skip
    foot: Literal["bolts", "fixed", "pinned"] = choice(
        "bolts", "plates on the rails", "As stiff as the bolts and plate really are (default), or idealised.",
        words={"bolts": "as stiff as the bolts", "fixed": "fixed", "pinned": "pinned"}, group="Basis")  # fmt: skip


class Design(Value):
    """Base of every family's parameters; ``family`` names it."""

    family: str


_DESIGNS: dict[str, type[Design]] = {}
_load_families: list[Callable[[], None]] = []


def register_design(name: str, model: type[Design]) -> None:
    """Make a family's parameter model known to the document."""
    _DESIGNS[name] = model


def designs() -> dict[str, type[Design]]:
    """Every registered parameter model by family name."""
    return dict(_DESIGNS)


class Job(Value):
    """One job: what is towed, by what, with which part."""

    format: Literal[1] = FORMAT
    title: str = text("New job", "title", group="Job")
    customer: str = text("", "for", group="Job")
    notes: str = Field("", title="notes", max_length=20_000)
    units: Literal["inch", "metric"] = choice("metric", "units", words={"inch": "inches", "metric": "millimetres"}, group="Job")
    nearest: Literal[16, 32] = choice(16, "inch fractions to", words={"16": "1/16", "32": "1/32"}, group="Job")
    vehicle: Vehicle = Field(default_factory=Vehicle)
    duty: Towing = Field(default_factory=Towing)
    proof: Proof = Field(default_factory=Proof)
    design: SerializeAsAny[Design]

    @field_validator("nearest", mode="before")
    @classmethod
    def _nearest_from_text(cls, value: Any) -> Any:
        return int(value) if isinstance(value, str) and value.isdigit() else value

    @model_validator(mode="before")
    @classmethod
    def _design_by_family(cls, data: Any) -> Any:
        if isinstance(data, dict) and isinstance(data.get("design"), dict):
            raw = data["design"]
            model = _DESIGNS.get(str(raw.get("family")))
            if model is None:
                known = ", ".join(sorted(_DESIGNS)) or "none"
                raise ValueError(f"The job is of family “{raw.get('family')}”, which is not known here; there are {known}.")
            data = {**data, "design": model.model_validate(raw)}
        return data


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
    schema["properties"]["design"] = {"oneOf": options} if len(options) > 1 else options[0]
    defs.pop("Design", None)
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Urial job document"
    return schema
