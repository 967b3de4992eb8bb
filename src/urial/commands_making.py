"""Commands of the making: plan, nest, bends, plate, quote, shop.  No logic of their own."""

from __future__ import annotations

import argparse
from dataclasses import replace
from datetime import datetime

from urial.arguments import Refused
from urial.commands_shop import the_shop
from urial.opened import opened_part, print_json, prove, put

TYPE_CHECKING = False
if TYPE_CHECKING:
    from urial.assembly.model import Part
    from urial.job.file import Document
    from urial.job.model import Job
    from urial.making.price import Quote
    from urial.making.status import Stood
    from urial.prove.verdict import Verdict
    from urial.shop.snapshot import Shop


def _stood(document: Document, v: Verdict, shop: Shop) -> tuple[Stood, ...]:
    from urial.making.status import status
    from urial.prove.planned import goes_on, planned

    return status(planned(v, shop, goes_on(document.job, v.assembly)), document.log)


def plan(args: argparse.Namespace) -> int:
    """The plan of work."""
    from urial.job.speech import said
    from urial.making.stands import as_it_stands
    from urial.papers.work_tables import plan_json
    from urial.prove.verdict import CAUTION

    document, v = opened_part(args.job)
    shop = the_shop(document.job.id)
    rows = _stood(document, v, shop)
    if args.json:
        print_json(plan_json(rows))
        return 0
    print(shop.words)
    number = {r.step.key: n for n, r in enumerate(rows, 1)}
    for n, r in enumerate(rows, 1):
        done = {"open": " ", "part": "~", "done": "x", "stale": "!", "gone": "-"}[r.state]
        needs = ",".join(str(number[k]) for k in sorted(r.step.needs, key=number.__getitem__)[:4])
        print(f"{n:4} [{done}] {r.step.minutes:5.0f} min  {said(document.job, r.step.words)}", end="")
        print(f"  (after {needs})" if needs else "")
        for words in (*(said(document.job, o.words) for o in r.off), *r.step.hazards):
            print(f"          {words}")
    words = as_it_stands(rows)
    if words:
        print(f"\n{words}")
    hours = sum(r.step.minutes for r in rows) / 60
    print(f"\nAbout {hours:.1f} hours. {CAUTION}")
    return 0


def nest(args: argparse.Namespace) -> int:
    """Bars and sheets."""
    from urial.making.nested import nested
    from urial.making.sheet_strips import closer
    from urial.papers.work_tables import nest_json, nest_words

    if not 0 <= args.seconds <= 600:
        raise Refused("A search takes 0 to 600 seconds; give --seconds so many.")
    document, v = opened_part(args.job)
    shop = the_shop(document.job.id)
    found = nested(v.assembly, _stood(document, v, shop), document.log, shop, v.job.making)
    if found.bars.refused:
        raise Refused(" ".join(found.bars.refused))
    if args.seconds:
        sheets = closer(found.sheets, shop, v.job.making.turning, args.seconds)
        found = replace(found, sheets=sheets)
    if args.json:
        print_json(nest_json(found))
        return 0
    for line in nest_words(found, shop, document.job):
        print(line)
    return 0


def order(args: argparse.Namespace) -> int:
    """What a cutting service takes for the plates that are not cut, beside table and hand; or order them."""
    from urial.making.parts import parts_list
    from urial.papers.have_cut import compared, order_json, order_key, order_words, to_have_cut
    from urial.services.cutting import CuttingService, ServiceError

    document, v = opened_part(args.job)
    job, shop = document.job, the_shop(document.job.id)
    stood, rows = _stood(document, v, shop), parts_list(v.assembly)
    only = [m.strip() for m in args.only.split(",") if m.strip()]
    parts = to_have_cut(v.assembly, rows, stood, int(job.making.sets), args.finish, only)
    missing = [m for m in only if m not in {p.mark for p in parts}]
    if missing or not parts:
        raise Refused(
            f"There is no plate {', '.join(missing)} to be cut."
            if missing
            else "No plate of it is to be cut."
        )
    if args.place and not args.service:
        raise Refused("To order, say of whom: --service ADDRESS.")
    placed = offer = None
    try:
        if args.service:
            service = CuttingService(args.service)
            offer = service.quote(parts)
            if args.place:
                placed = service.order(offer.id, order_key(job.id, parts, args.again))
    except ServiceError as error:
        raise Refused(str(error)) from None
    ways = compared(v.assembly, rows, stood, parts, offer, shop)
    if args.json:
        print_json(order_json(ways, offer, placed, shop))
        return 0
    print(shop.words)
    for line in order_words(ways, offer, placed):
        print(line)
    return 0


def bench_service(args: argparse.Namespace) -> int:
    """The simulated cutting service, until it is stopped."""
    import time

    from urial.services.cutting_house import CuttingHouse

    if args.fault in ("dropout", "garbage"):
        raise Refused(
            f"“{args.fault}” is an instrument's fault; the service has slow, down, lying, half, more."
        )
    try:
        with CuttingHouse(fault=args.fault, port=args.port) as house:
            print(f"The simulated cutting service listens at {house.address}. Ctrl+C stops it.", flush=True)
            end = time.monotonic() + args.seconds if args.seconds else None
            while end is None or time.monotonic() < end:
                time.sleep(0.1)
    except (OSError, OverflowError) as error:
        raise Refused(f"It cannot listen there: {error}.") from None
    return 0


def outline(args: argparse.Namespace) -> int:
    """A plate cut to an outline out of a file; what a cutter would make badly of it is said."""
    from urial.geometry.fitted import NoOutline
    from urial.job import edit
    from urial.measure import outline_file
    from urial.measure.taken import BackdropError
    from urial.pieces.outlined import outline_change
    from urial.pieces.spots import Refused as NoFit
    from urial.units import UnitError, parse

    document, v = opened_part(args.job)
    part = _plate_of(v, args.part)
    system = document.job.units
    try:
        wide = parse(args.wide, "length", system) if args.wide else None
        found = outline_file.read(args.file)
        if args.bridge:
            found = outline_file.bridged(found, parse(args.bridge, "length", system))
        change = outline_change(part, found, wide, args.turn, args.turned_over)
    except (BackdropError, UnitError, NoFit) as error:
        raise Refused(str(error)) from None
    except NoOutline as why:
        raise Refused(f"{args.file.name} {why}.") from None
    scale = change.wide_mm / found.size[0]
    scaled = outline_file.moved(found, (0.0, 0.0), 0.0, scale)
    thick = part.shape.t / part.layers  # type: ignore[union-attr]
    shop = the_shop(document.job.id)
    faults = outline_file.faults(scaled, thick, shop.table.kerf_mm)
    number = part.piece
    piece = document.job.numbered(number)
    assert piece is not None
    path = f"stack.{number}.changes"
    job = edit.put(document.job, path, (*piece.changes, change))
    after = prove(job)
    lapsed = [w for w in after.warnings if w.startswith(f"Change {len(piece.changes) + 1},")]
    if lapsed:
        raise Refused(lapsed[0])
    if args.output is not None:
        put(args.output, replace(document, job=job), args.over)
    if args.json:
        print_json(
            {
                "part": part.mark,
                "size_mm": [round(n, 3) for n in scaled.size],
                "edges": len(scaled.rim),
                "holes": [
                    {"at_mm": [round(x, 3), round(y, 3)], "d_mm": round(d, 3)} for x, y, d in scaled.holes
                ],
                "windows": len(scaled.windows),
                "islands": len(scaled.islands),
                "left_out": scaled.others,
                "turned_deg": change.turn_deg,
                "turned_over": change.over,
                "faults": [{"at_mm": [round(n, 2) for n in f.at], "words": f.words} for f in faults],
            }
        )
        return 0
    arcs = sum(bool(b) for _, _, b in scaled.rim)
    print(
        f"{part.mark} {part.name}: {scaled.size[0]:.1f} × {scaled.size[1]:.1f} mm, {len(scaled.rim)} edges, "
        f"{arcs} of them arcs, {len(scaled.holes)} holes, {len(scaled.windows)} openings."
    )
    if scaled.others:
        print(f"Of the file's pieces the largest; {scaled.others} beside it left out.")
    for f in faults:
        print(f"Mind, at {f.at[0]:.0f}, {f.at[1]:.0f} from its middle: {f.words}.")
    if args.output is not None:
        print(args.output)
    return 0


def _plate_of(v: Verdict, name: str) -> Part:
    """The plate of a mark or a key; Refused where there is none."""
    from urial.geometry.shape import Plate

    found = [p for p in v.assembly.parts if name in (p.mark, p.key) and isinstance(p.shape, Plate)]
    if not found:
        plates = sorted({p.mark for p in v.assembly.parts if isinstance(p.shape, Plate) and not p.hardware})
        raise Refused(f"There is no plate called “{name}”; there are {', '.join(plates) or 'none'}.")
    return found[0]


def bends(args: argparse.Namespace) -> int:
    """Every bent bar."""
    from urial.making.bends import NoBend
    from urial.making.bent import bent_bars
    from urial.making.parts import parts_list
    from urial.papers.work_tables import bends_json, bends_words

    document, v = opened_part(args.job)
    try:
        rows = bent_bars(v.assembly, parts_list(v.assembly), the_shop(document.job.id))
    except NoBend as refusal:
        raise Refused(str(refusal)) from None
    if args.json:
        print_json(bends_json(rows))
        return 0
    for line in bends_words(rows, document.job):
        print(line)
    return 0


def weld(args: argparse.Namespace) -> int:
    """Seams, settings, order, expected pull."""
    from urial.fit.access import seams_missed
    from urial.making.welding.order import weld_order
    from urial.making.welding.seams import at_odds, seams
    from urial.papers.work_tables import weld_json, weld_words
    from urial.prove.verdict import CAUTION

    document, v = opened_part(args.job)
    shop = the_shop(document.job.id)
    found = seams(v.assembly, shop.welder, v.job.welding.process, seams_missed(v.assembly))
    order = weld_order(v.assembly, found)
    if args.json:
        print_json(weld_json(found, order))
        return 0
    if not found:
        print("Nothing of it is welded.")
        return 0
    print(f"{shop.words} Start here, run a coupon first.")
    odds = at_odds(v.job.welding.process, shop.welder)
    if odds:
        print(odds)
    for line in weld_words(found, order, v.job):
        print(line)
    print(f"\n{CAUTION}")
    return 0


def plate(args: argparse.Namespace) -> int:
    """The rating plate; 1 where something speaks against it and nobody says why it is written anyway."""
    from urial.job.file import FileError, write_atomically
    from urial.job.speech import said
    from urial.papers.rating_plate import FORMATS, laid
    from urial.prove.rating_plate import against, rating_plate

    write = FORMATS.get(args.output.suffix.lower())
    if write is None:
        raise Refused(f"A plate is written as {', '.join(FORMATS)}; end the file's name with one of them.")
    document, v = opened_part(args.job)
    rows, job = _stood(document, v, the_shop(document.job.id)), document.job
    found = against(v, rows)
    if found and not args.anyway.strip():
        print("No plate is written while this speaks against it:")
        for words in found:
            print(f"  {said(job, words)}")
        print('Mend it, or say --anyway "REASON"; the reason will stand on the plate.')
        return 1
    if args.output.exists() and not args.over:
        raise Refused(f"{args.output} is there already; give another name, or say --over.")
    try:
        made = rating_plate(v, rows, args.by, reason=args.anyway)
        write_atomically(args.output, write(laid(made, job.units, job.nearest)))
    except (ValueError, FileError) as error:
        raise Refused(str(error)) from None
    print(args.output)
    return 0


def _offer(args: argparse.Namespace, job: Job, q: Quote, shop: Shop) -> int:
    """A quote or an invoice as a paper."""
    from urial.job.file import FileError, write_atomically
    from urial.papers.offer import Offer, offer_pdf
    from urial.prove.verdict import CAUTION

    if args.output.suffix.lower() != ".pdf":
        raise Refused("A quote is written as .pdf; end the file's name with it.")
    if args.output.exists() and not args.over:
        raise Refused(f"{args.output} is there already; give another name, or say --over.")
    offer = Offer("invoice", args.invoice) if args.invoice else Offer()
    try:
        write_atomically(args.output, offer_pdf(job, q, shop, offer, CAUTION, datetime.now()))
    except (ValueError, FileError) as error:
        raise Refused(str(error)) from None
    print(args.output)
    return 0


def quote(args: argparse.Namespace) -> int:
    """What it costs."""
    from urial.job.speech import said
    from urial.making.nested import nested
    from urial.making.parts import parts_list
    from urial.making.price import quote as reckoned
    from urial.making.wiring import bought_for
    from urial.papers.work_tables import quote_json

    document, v = opened_part(args.job)
    shop = the_shop(document.job.id)
    stood = _stood(document, v, shop)
    fresh = tuple(replace(r, done=frozenset()) for r in stood)  # a price is of all of it
    nests = nested(v.assembly, fresh, (), shop, v.job.making)
    rows, wishes = parts_list(v.assembly), v.job.making
    wires = bought_for(v.assembly, wishes.wiring, document.job.units)
    q = reckoned(v.assembly, rows, stood, nests, shop, wishes, wires)
    if args.output is not None:
        return _offer(args, document.job, q, shop)
    if args.json:
        print_json(quote_json(q))
        return 0
    print(shop.words)
    for p in q.lines:
        print(f"{said(document.job, p.what):44} {p.amount:10.2f} {p.unit:6} {p.price:10.2f} {q.currency}")
    print(f"{'Without tax':44} {q.hours:10.2f} h      {q.total:10.2f} {q.currency}")
    print(f"{'With tax':44} {'':17} {q.taxed:10.2f} {q.currency}")
    for words in nests.bars.refused:
        print(f"Mind: {said(document.job, words)}")
    return 0
