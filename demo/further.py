"""More jobs of the Tallow Creek workshop: every further kind of part on a host.  Every figure is made up."""

from __future__ import annotations

from common import sized, standing
from tallow_creek import rescue

from urial import families
from urial.families import _stack as stack
from urial.job import edit
from urial.job.duty import Anchor, Ballast, Carrier, Deck, Implement, Item, Link, Recovery, Winch
from urial.job.file import Document
from urial.job.host import starting_host
from urial.job.making import Wiring
from urial.job.model import Job

Made = tuple[str, str, str, Document]


def with_points(job: Job, *groups: str) -> Job:
    """The job's host with the starting hard points of further groups, where it has none of them yet."""
    host = job.vehicle
    for group in groups:
        if any(h.group == group for h in host.left):
            continue
        more = tuple(h for h in starting_host(host.kind, group).left if h.group == group)  # type: ignore[attr-defined]
        host = host.model_copy(update={"left": (*host.left, *more), "right": (*host.right, *more)})
    return job.model_copy(update={"hosts": (host, *job.hosts[1:])})


def asked(job: Job, *duties: object, **towing: object) -> Job:
    """The job with other duties; towing nothing unless it is said."""
    duty = job.duty.model_copy(update={"towed": False, **towing})
    return families.with_marks(
        job.model_copy(update={"duties": duties, "duty": duty, "deck": Deck(), "weighings": ()})
    )


def named(job: Job, title: str, customer: str, host: str) -> Job:
    """A new job's title, whose it is, and its host's name."""
    job = job.model_copy(update={"title": title, "customer": customer})
    return job.with_vehicle(job.vehicle.model_copy(update={"name": host}))


def rescue_jobs() -> list[Made]:
    """On the rescue post's crew cab."""
    post = Document(rescue("rescue-receiver.urial").job)
    bumper = standing(
        "bumper-receiver", post, "Rescue post: bumper with a receiver", "mountain rescue post", drop_mm=150.0
    )
    bumper = bumper.model_copy(update={"duty": post.job.duty})
    kit = with_points(
        standing("winch-cradle", post, "Rescue post: winch and recovery points", "mountain rescue post"),
        "recovery, front",
    )
    kit = stack.put_on(kit, "recovery-point", "host", "recovery, front")
    rings = next(p.id for p in kit.stack if p.family == "recovery-point")
    kit = asked(
        kit,
        Winch(title="winch", rated_N=12_000.0),
        Recovery(title="bog", stuck_kg=2300.0, socket=f"{rings}/ring.left"),
    )
    rough = standing("pintle", post, "Rescue post: pintle for the sled trailer", "mountain rescue post")
    rough = rough.model_copy(update={"duty": post.job.duty.model_copy(update={"hitch": "pintle"})})
    return [
        (
            "rescue-bumper.urial",
            "Bumper with a receiver",
            "A plate bumper on the Marram 300: mounts on the rails, a folded skin, a receiver, recovery tabs "
            "through slots; the spare wheel stays.",
            Document(bumper),
        ),
        (
            "rescue-winch.urial",
            "Winch cradle and recovery points",
            "A winch that goes into the rear receiver of the Marram 300, and two points at its front to be "
            "pulled out by.",
            Document(kit),
        ),
        (
            "rescue-pintle.urial",
            "Pintle for rough ground",
            "A hook built of three plate layers in the rescue post's receiver, latched, for the sled "
            "trailer's lunette.",
            Document(rough),
        ),
    ]


def river_jobs(surveys: dict[str, Document]) -> list[Made]:
    """On the river-survey crew's machines."""
    fittings = with_points(
        standing(
            "winch-base",
            surveys["river-trailer.urial"],
            "River crew: winch, rail and rings on the trailer",
            "river-survey crew",
        ),
        "nose",
    )
    fittings = edit.put(fittings, "stack.1.shelf", False)
    for family, socket, sizes in (
        ("front-rail", "trailer nose", {"high_mm": 640.0, "spools": 2.0}),
        ("ring-backing", "timber deck", {"along_mm": 500.0, "across_mm": 380.0}),
        ("ring-backing", "timber deck", {"along_mm": 500.0, "across_mm": -380.0}),
    ):
        fittings = stack.put_on(fittings, family, "host", socket)
        for name, value in sizes.items():
            fittings = edit.put(fittings, f"stack.{fittings.stack[-1].id}.{name}", value)
    poles = Item(
        name="survey poles",
        kg=36.0,
        behind_mm=0.0,
        above_mm=60.0,
        long_mm=1800.0,
        wide_mm=300.0,
        high_mm=80.0,
    )
    turned = {"pull up/rise": 70.0, "pull left/turn": 75.0, "pull right/turn": -75.0}
    lashing = Anchor(
        title="lashing",
        pull_N=1500.0,
        legs="1",
        links=(Link(name="lashing strap", what="strap", limit_N=25_000.0),),
        factors=turned,
    )
    fittings = asked(
        fittings,
        Winch(title="winch", rated_N=5_000.0),
        Carrier(title="poles", items=(poles,), ground="unpaved"),
        lashing,
    )
    rack = standing(
        "rack-carrier",
        surveys["river-utility.urial"],
        "River crew: rack for rods and boxes",
        "river-survey crew",
    )
    rack = edit.put(edit.put(rack, "stack.2.rods", 4.0), "stack.2.wide_mm", 1000.0)
    rack = edit.put(rack, "stack.1.bolt", "M10")
    boxes = (
        Item(
            name="sounder box",
            kg=18.0,
            behind_mm=480.0,
            above_mm=210.0,
            long_mm=380.0,
            wide_mm=560.0,
            high_mm=300.0,
        ),
        Item(
            name="rods", kg=6.0, behind_mm=680.0, above_mm=300.0, long_mm=60.0, wide_mm=900.0, high_mm=500.0
        ),
        Item(
            name="rack", kg=16.0, behind_mm=430.0, above_mm=30.0, long_mm=500.0, wide_mm=1000.0, high_mm=60.0
        ),
    )
    rack = asked(rack, Carrier(title="rack", items=boxes))
    post = named(
        families.new_job("post-mount"),
        "River crew: receiver on the gate post",
        "river-survey crew",
        "Gate post by the ford",
    )
    return [
        (
            "river-fittings.urial",
            "Fittings for a trailer",
            "Winch base on the nose, a bent rail with spools, two recessed rings with backing plates: four "
            "pieces on the flat trailer Dipper.",
            Document(fittings),
        ),
        (
            "river-rack.urial",
            "Rack for rods and boxes",
            "A rack that folds up behind the buggy Reedling: two arms, a deck of expanded metal, four rod "
            "holders.",
            Document(rack),
        ),
        (
            "river-post-mount.urial",
            "Receiver on a post",
            "Cheeks through a sawn timber post by the ford, a receiver on them for a hand winch; the post in "
            "the ground is a link of the chain.",
            Document(families.with_marks(post)),
        ),
    ]


def small_two_wheeler() -> Job:
    """A subframe for a little one: lighter, its wheel smaller, its bolts lower."""
    job = named(
        families.new_job("slot-frame"),
        "River crew: subframe for the little two-wheeler",
        "river-survey crew",
        "Stonechat",
    )
    side = tuple(
        h.model_copy(update={"behind_mm": b, "height_mm": z})
        for h, (b, z) in zip(job.vehicle.left, ((-240.0, 330.0), (70.0, 610.0)), strict=True)
    )
    little = {
        "left": side,
        "right": side,
        "tyre_mm": 540.0,
        "tyre_width_mm": 110.0,
        "wheelbase_mm": 1310.0,
        "front_kg": 70.0,
        "rear_kg": 95.0,
        "front_rating_kg": 110.0,
        "rear_rating_kg": 190.0,
        "gross_rating_kg": 300.0,
        "seat_mm": 770.0,
        "tail_height_mm": 640.0,
        "rear_overhang_mm": 360.0,
    }
    job = job.with_vehicle(job.vehicle.model_copy(update=little))
    for path, value in {"behind_mm": 380.0, "strut_mm": 200.0}.items():
        job = edit.put(job, f"stack.1.{path}", value)
    load = {
        "trailer_name": "sample trailer",
        "trailer_mass_kg": 60.0,
        "tongue_mass_kg": 4.5,
        "coupler_height_mm": 258.0,
    }
    return job.model_copy(update={"duty": job.duty.model_copy(update=load)})


def valley_jobs(surveys: dict[str, Document]) -> list[Made]:
    """For the dairy and the ramp."""
    bridge = standing(
        "stub-bridge",
        surveys["ramp-van.urial"],
        "Ramp carrier: bridge between two stubs",
        "wheelchair user in the valley",
    )
    bridge = stack.put_on(bridge, "badge-cover", "1", "1/receiver")
    foot = Item(
        name="somebody's foot",
        kg=90.0,
        behind_mm=25.0,
        above_mm=65.0,
        long_mm=90.0,
        wide_mm=110.0,
        high_mm=60.0,
    )
    bridge = asked(bridge, Carrier(title="step", items=(foot,)))
    ballast = with_points(
        standing(
            "ballast-rack", surveys["spreader-tractor.urial"], "Dairy: ballast and upper hook", "alpine dairy"
        ),
        "posts",
        "coupler head",
    )
    ballast = stack.put_on(ballast, "hook-plate", "host", "coupler head")
    ballast = asked(
        sized(ballast, weights=4, spare=3),
        Ballast(title="winter ballast", kg=104.0, behind_mm=850.0, grip=0.35),
        Implement(
            title="hay-net spreader", kg=110.0, payload_kg=110.0, behind_mm=480.0, tip_mm=900.0, draft_N=0.0
        ),
    )
    trailer = named(families.new_job("flat-trailer"), "Dairy: churn trailer", "alpine dairy", "Churn trailer")
    trailer = sized(trailer, side_mm=270.0, side_weld_mm=5.0, wide_mm=1180.0)
    lamps = Wiring(what="lamps on it", plug="7-round", run_mm=4850.0)
    trailer = trailer.model_copy(update={"making": trailer.making.model_copy(update={"wiring": lamps})})
    bar = named(
        families.new_job("drawbar"), "Dairy: drawbar for the churn trailer", "alpine dairy", "Churn trailer"
    )
    bar = bar.model_copy(
        update={
            "duty": bar.duty.model_copy(
                update={
                    "trailer_name": "churn trailer",
                    "trailer_mass_kg": 560.0,
                    "tongue_mass_kg": 38.0,
                    "towing_kg": 560.0,
                }
            )
        }
    )
    cart = standing(
        "clevis-tongue", surveys["dairy-car.urial"], "Dairy: clevis for the water cart", "alpine dairy"
    )
    cart = cart.model_copy(
        update={
            "duty": cart.duty.model_copy(
                update={
                    "trailer_name": "water cart",
                    "trailer_mass_kg": 750.0,
                    "tongue_mass_kg": 60.0,
                    "school": "4-8",
                }
            )
        }
    )
    return [
        (
            "ramp-bridge.urial",
            "Bridge between two stubs",
            "Stub receivers in place of the van Plover's tow eyes, a bridge that lifts off, a badge cover in "
            "its bore.",
            Document(bridge),
        ),
        (
            "hay-ballast.urial",
            "Ballast rack and upper hook",
            "Weights on the accessory posts of the Teasel 28 and a hook plate on its quick coupler for the "
            "hay-net spreader's mast.",
            Document(ballast),
        ),
        (
            "milk-trailer.urial",
            "Churn trailer",
            "Frame, tongue, axle and timber deck of the dairy's milk-churn trailer, its wheels held to their "
            "marks.",
            Document(families.with_marks(trailer)),
        ),
        (
            "churn-drawbar.urial",
            "Drawbar for the churn trailer",
            "An A of two legs under the frame, a bought coupler, chains: for the quad Sorrel.",
            Document(families.with_marks(bar)),
        ),
        (
            "water-clevis.urial",
            "Clevis tongue",
            "Two ears and a pin in the dairy car's receiver for the old water cart with an eye. In inches.",
            Document(cart),
        ),
    ]


def more_parts(surveys: dict[str, Document]) -> list[Made]:
    """All of them."""
    subframe = (
        "river-subframe.urial",
        "Subframe bent by slots",
        "A hoop round the rear wheel of the little two-wheeler Stonechat, of square tube bent without a "
        "bender, with a small pintle for the sample trailer.",
        Document(small_two_wheeler()),
    )
    return [*rescue_jobs(), *river_jobs(surveys), *valley_jobs(surveys), subframe]
