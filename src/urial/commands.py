"""What each command does.  No logic of its own: it calls one function, prints, and imports what it uses."""

from __future__ import annotations

import argparse
import sys
from dataclasses import replace

from urial import commands_finish, commands_making, commands_shop
from urial.arguments import HOLDS, SHORT, Refused, a_path
from urial.opened import load as _load
from urial.opened import print_json as _print_json
from urial.opened import prove as _prove
from urial.opened import put as _put

TYPE_CHECKING = False  # typing itself is not needed to run: a command imports only what it uses
if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path


def _families(_: argparse.Namespace) -> int:
    from urial.families import _shop, _stack, families
    from urial.families.registry import DOES
    from urial.job import host

    for family in families().values():
        hosts = _stack.hosts_of(family, host.starting_host, list(host.kinds()))
        print(f"{family.name}  {family.title}  {DOES[family.does]}  {', '.join(hosts)}")
    here = _shop.shelf()
    for kind in here.kinds:
        hosts = _stack.hosts_of(kind.family, host.starting_host, list(host.kinds()))
        print(f"{kind.name}  {kind.title}  {DOES[kind.family.does]}  {', '.join(hosts)}")
    for _file, why in here.lost:
        print(f"Mind: {why}", file=sys.stderr)
    return 0


def _new(args: argparse.Namespace) -> int:
    from datetime import date

    from urial.assembly.model import BuildError
    from urial.families import _shop, build, new_job, survey_job
    from urial.job.edit import EditError, find_path, own_paths, write
    from urial.job.file import Document, FileError
    from urial.job.origin import Origin, follow

    try:
        kind = args.family.removeprefix("survey:") if args.family.startswith("survey:") else None
        name: str = args.family
        if name.startswith(_shop.OWN):
            own = _shop.called(name)
            name, start = own.piece.family, _shop.start(own, args.host, tuple(args.on))
        else:
            start = new_job(name, args.host, tuple(args.on)) if kind is None else survey_job(kind)
        job = start
        for item in args.set:
            key, sign, value = item.partition("=")
            if not sign:
                raise Refused(f"“{item}” is not key=value; write it like drop=120mm.")
            for path in own_paths(job, name, key.strip()) or [find_path(job, key.strip())]:
                job = write(job, path, value)
        job = follow(start, job, Origin(how="typed", on=date.today().isoformat()))
        if job.has_part:
            build(job)
        _put(args.output, Document(job).numbered(str(args.output.absolute())), args.over)
    except (BuildError, EditError, FileError, _shop.ShopError) as error:
        raise Refused(str(error)) from None
    return 0


def _sockets(args: argparse.Namespace) -> int:
    import urial.families as f
    from urial.assembly.model import BuildError

    try:
        assembly = f.build(_load(args.job).job)
    except BuildError as error:
        raise Refused(str(error)) from None
    rows = []
    for s in assembly.sockets:
        used = assembly.occupied.get(s.key)
        rows.append(
            {
                "socket": s.key,
                "kind": s.kind,
                "piece": s.part.split("/", 1)[0],
                "at_mm": [round(x, 3) + 0.0 for x in s.place.o],
                "used_by": used.split("/", 1)[0] if used else None,
            }
        )
    _print_json(rows)
    return 0


def _keys(args: argparse.Namespace) -> int:
    from urial.assembly.model import BuildError
    from urial.families import new_job
    from urial.job.edit import all_specs, shown

    try:
        job = new_job(args.family)
    except BuildError as error:
        raise Refused(str(error)) from None
    for path, field in all_specs(job).items():
        options = f"  ({' | '.join(field.choices)})" if field.choices else ""
        print(f"{path} = {shown(job, path)}{options}  {field.title}")
    return 0


def _check(args: argparse.Namespace) -> int:
    job = _load(args.job).job
    if args.basis:
        job = job.model_copy(update={"proof": job.proof.model_copy(update={"basis": args.basis})})
    verdict = _prove(job)
    from urial.assembly.bodies import total_mass

    mass = total_mass(verdict.assembly)
    if args.json:
        from urial.papers.tables import check_json

        _print_json(check_json(verdict, mass, args.workings))
    else:
        from urial.job.origin import assumed
        from urial.job.speech import said
        from urial.loads.thresholds import sides
        from urial.prove.bump import bump
        from urial.prove.verdict import CAUTION

        worst = verdict.weak_link
        print("It holds." if verdict.holds else f"Short in {len(verdict.short)} place(s).")
        weakest = f"{worst.name}, {100 * worst.utilisation:.0f} % in “{worst.case}”"
        print(said(job, f"Weakest link of the part: {weakest}. Basis {verdict.basis.name}. {mass:.1f} kg."))
        print()
        for c in verdict.checks:
            row = f"{'SHORT' if c.short else '     '} {100 * c.utilisation:5.0f} %  {c.name} ({c.case})"
            print(said(job, row))
            for line in c.working() if args.workings else ():
                whole = " = ".join(x for x in (line.formula, line.numbers, line.result) if x)
                print(f"              {line.what}: {whole}")
        for u in dict.fromkeys(verdict.unchecked):
            print(said(job, f"NOT JUDGED  {u.part}: {u.what}"))
        for w in verdict.warnings:
            print(f"Mind: {w}")
        for words in sides(job):
            print(f"Mind: {said(job, words)}")
        hit = bump(verdict)
        if hit is not None:
            print(said(job, hit.words))
        guessed = assumed(verdict.job)
        if guessed:
            print(
                f"Assumed, not measured: {len(guessed)} of the figures it is reckoned from; --json "
                "names them."
            )
        print(f"\n{CAUTION}")
    return HOLDS if verdict.holds else SHORT


def _fit(args: argparse.Namespace) -> int:
    import time

    from urial.assembly.model import BuildError
    from urial.families import build
    from urial.fit import fit
    from urial.job.speech import said

    job = _load(args.job).job
    try:
        assembly = build(job)
    except BuildError as error:
        raise Refused(said(job, str(error))) from None
    if not args.seconds > 0:
        raise Refused("The seconds to look for must be more than 0.")
    end = time.monotonic() + args.seconds
    found = fit(job, assembly, stopped=lambda: time.monotonic() > end)
    if time.monotonic() > end:
        raise Refused(
            f"It was not looked at to the end in {args.seconds:g} s; give it more with --seconds, or look at "
            "fewer pieces."
        )
    if args.json:
        from urial.papers.tables import fit_json

        _print_json(fit_json(found))
        return HOLDS if found.clear else SHORT

    n = len(found.open)
    print("It goes together." if found.clear else f"{n} thing{'s are' if n > 1 else ' is'} in the way.")
    for f in found.findings:
        why = f" Waived: {f.waived}" if f.waived else ""
        print(f"{'waived' if f.waived else f.kind:7} {said(job, f.words)}{why}")
        if f.remedy and not f.waived:
            print(f"        {said(job, f.remedy)}")
    if found.steps:
        print("\nOn, in this order:")
        for k, step in enumerate(found.steps, 1):
            print(f"{k:3}. {said(job, step.words)}")
    for words in (*(p.words for p in found.pieces), *found.facts):
        print(said(job, words))
    for words in found.early:
        print(f"Mind: {said(job, words)}")
    return HOLDS if found.clear else SHORT


LONGEST_LIST = 1_000_000
"""A list of prices is no longer, bytes."""


def _prices(path: Path | None) -> dict[str, float]:
    """What a kilogram costs: lines “stock or kind,price”."""
    if path is None:
        return {}
    import math

    out = {}
    try:
        if not path.is_file() or path.stat().st_size > LONGEST_LIST:
            raise OSError
        lines = path.read_text(encoding="utf-8").splitlines()
    except (OSError, UnicodeDecodeError):
        raise Refused(f"{path} cannot be read; give a text file of lines like “bar,1.90”.") from None
    for n, line in enumerate(lines, 1):
        name, _, text = line.rpartition(",")
        if not line.strip() or line.startswith("#"):
            continue
        try:
            price = float(text)
        except ValueError:
            price = math.nan
        if not name.strip() or not 0 <= price < 1e6:
            raise Refused(f"Line {n} of {path} is no price; write “bar,1.90”: what it is, what a kg costs.")
        out[name.strip()] = price
    return out


def _size(args: argparse.Namespace) -> int:
    import math

    from urial.assembly.model import BuildError
    from urial.job.edit import EditError, find_path, shown, spec_of
    from urial.job.file import FileError
    from urial.job.speech import said
    from urial.prove.sizing import Wish, size
    from urial.prove.verdict import CAUTION
    from urial.units import parse, show

    document = _load(args.job)
    job = document.job
    if not 0 < args.target <= 1:
        raise Refused("The target is how much of its strength may be used: more than 0, no more than 1.")
    try:
        keep, only = (
            [k if k.isdigit() else find_path(job, k) for k in row] for row in (args.keep, args.only)
        )
        leg = parse(args.leg, "length", job.units) if args.leg else math.inf
        shop = commands_shop.the_shop(job.id) if args.rack else None
        stocks = shop.stocks if shop is not None else frozenset[str]()
        if args.rack and not stocks:
            raise Refused("Nothing lies on the rack; urial shop add puts bars and sheets there.")
        prices = _prices(args.prices)
        wish = Wish(args.aim, args.target, tuple(keep), tuple(only), prices, leg, stocks)
        found = size(job, wish)
    except (BuildError, EditError, ValueError) as error:
        raise Refused(said(job, str(error))) from None
    if args.output and found.found:
        try:
            _put(args.output, replace(document, job=found.found[0].job), args.over)
        except FileError as error:
            raise Refused(str(error)) from None
    if args.json:
        from urial.papers.tables import size_json

        _print_json(size_json(found))
        return HOLDS if found.found else SHORT
    if not found.found:
        print(said(job, found.why))
    near = [found.nearest] if found.nearest is not None else []
    for n, s in enumerate([*found.found, *near], 1):
        price = f", price {s.price:.2f}" if s.price is not None else ""
        head = f"{n}." if found.found else "Nearest, and still short:"
        print(
            f"{head} {show(s.mass_kg, 'mass', job.units)}{price}, {s.stocks} different stocks; "
            f"{100 * s.utilisation:.0f} % used: {said(job, s.words)}"
        )
        if s.also:
            print(f"     as the trade would: {said(job, s.also)}")
        for path in (p for p in s.changes if not p.endswith(".changes")):
            print(f"     {spec_of(s.job, path).title}: {shown(job, path)} → {shown(s.job, path)}  ({path})")
        if not s.changes:
            print("     as it is")
    for w in found.ways if not found.found else ():
        then = "gone" if w.utilisation <= 0 else f"{100 * w.utilisation:.0f} % used"
        used = f"{then} then, weakest {100 * w.worst:.0f} %, {w.kg:+.1f} kg"
        print(f"  what the trade would do: {said(job, f'{w.words}: {used}')}")
    if found.found or found.ways:
        print(f"\n{CAUTION}")
    return HOLDS if found.found else SHORT


def _chance(args: argparse.Namespace) -> int:
    from urial.assembly.model import BuildError
    from urial.job.speech import said
    from urial.prove.chance import MOST, chance

    job = _load(args.job).job
    if not 1 <= args.samples <= MOST:
        raise Refused(f"--samples is how many parts are judged: 1 to {MOST}.")
    if not 0 <= args.seed < 2**32:
        raise Refused("--seed is a whole number from 0 to 4294967295.")
    try:
        found = chance(job, args.samples, args.seed, args.dask)
    except BuildError as error:
        raise Refused(said(job, str(error))) from None
    if args.json:
        from urial.papers.tables import chance_json

        _print_json(chance_json(found))
        return 0
    from urial.prove.verdict import CAUTION

    for words in found.words:
        print(words)
    for share in (found.hard, found.again):
        for name, count in share.governs[:3] if share else ():
            print(f"  weakest in {count}: {said(job, name)}")
    print(f"\n{CAUTION}")
    return 0


def _recompute(args: argparse.Namespace) -> int:
    from urial.assembly.model import BuildError
    from urial.prove.second import recompute

    verdict = _prove(_load(args.job).job)
    assert verdict.forces is not None
    try:
        found = recompute(verdict.forces, verdict.job.proof.foot)
    except BuildError as error:
        raise Refused(str(error)) from None
    if args.json:
        from urial.papers.tables import second_json

        _print_json(second_json(found))
    else:
        print(found.words)
        for p in found.pairs[:10]:
            print(f"  {100 * p.apart:8.4f} %  {p.what}, “{p.case}”: {p.here:.6g} and {p.there:.6g} {p.unit}")
    return HOLDS if found.agrees else SHORT


def _frame(args: argparse.Namespace) -> int:
    from urial.calc.structure import frame_question
    from urial.strength.analysis import at_nodes, frame_of
    from urial.strength.equivalent import as_members

    verdict = _prove(_load(args.job).job)
    forces = verdict.forces
    assert forces is not None
    frame = frame_of(forces.assembly, forces.net, verdict.job.proof.foot)
    for link in frame.links:
        if link.one_way:
            print(
                f"Mind: {link.id} carries only one way; the frame shows it as carrying both.", file=sys.stderr
            )
    _print_json(
        frame_question(as_members(frame), at_nodes(forces.assembly, forces.cases, forces.points, forces.net))
    )
    return 0


def _parts(args: argparse.Namespace) -> int:
    from urial.making.parts import parts_list, torque_note
    from urial.papers.tables import parts_json

    verdict = _prove(_load(args.job).job)
    rows = parts_list(verdict.assembly)
    if args.json:
        _print_json(parts_json(rows))
        return 0
    from urial.units import show_length

    job = verdict.job
    for r in rows:
        size = show_length(r.cut_length_mm, job.units, job.nearest) if not r.hardware else ""
        print(
            f"{r.mark:3} {r.qty:2} × {r.name:36} {r.stock:28} {size:>12} {r.ends:8} {r.mass_kg:7.2f} "
            f"kg{'  mirror pair' if r.mirror else ''}"
        )
    print(f"{sum(r.mass_kg for r in rows):.1f} kg in all. {torque_note(verdict.assembly)}")
    return 0


def _sheet(args: argparse.Namespace) -> int:
    from urial.job.file import FileError
    from urial.papers.packet import packet
    from urial.papers.packet_folder import somebody_elses, write_packet
    from urial.papers.plan_set import plan_set
    from urial.papers.section import sections

    pages = [name.strip() for name in args.pages.split(",") if name.strip()]
    there = [s.name for s in sections()]
    unknown = next((name for name in pages if name not in there), None)
    if unknown is not None:
        raise Refused(f"The packet has no pages called “{unknown}”; it has {', '.join(there)}.")
    verdict = _prove(_load(args.job).job)
    shop = commands_shop.the_shop(verdict.job.id)
    if args.hand_on is not None and pages:
        raise Refused("A plan set that is handed on is whole: say --hand-on or --pages, not both.")
    if args.hand_on is not None:
        made = plan_set(verdict, args.hand_on, args.paper, shop=shop)
    else:
        made = packet(verdict, args.paper, pages=pages, shop=shop)
    taken = somebody_elses(made, args.output)
    if taken and not args.over:
        raise Refused(
            f"{args.output} holds {', '.join(taken[:3])}{' and more' if len(taken) > 3 else ''} of something "
            "else; give another folder, or say --over."
        )
    try:
        for path in write_packet(made, args.output):
            print(path)
    except FileError as error:
        raise Refused(str(error)) from None
    return 0


def _survey(args: argparse.Namespace) -> int:
    from urial.job.file import FileError, save, write_atomically
    from urial.measure.table import TableError, read_csv, write_csv
    from urial.papers.survey_sheet import survey_pdf

    document = _load(args.job)
    try:
        if args.read:
            try:
                text = args.read.read_text(encoding="utf-8-sig")
            except OSError as error:
                from urial.job.file import os_words

                raise Refused(f"{args.read} cannot be read: {os_words(error)}.") from None
            except UnicodeDecodeError:
                raise Refused(f"{args.read} is not UTF-8 text; save it as CSV in UTF-8.") from None
            document = replace(document, job=read_csv(document.job, text))
            save(args.output or args.job, document)
        if args.blank:
            write_atomically(args.blank, survey_pdf(document.job, args.paper))
    except (TableError, FileError) as error:
        raise Refused(str(error)) from None
    if args.csv or not (args.read or args.blank):
        sys.stdout.write(write_csv(document.job))
    return 0


def _bench(args: argparse.Namespace) -> int:
    import signal
    import time

    if args.instrument == "service":
        return commands_making.bench_service(args)
    from urial.services.simulated import Simulated, angle_line, scale_line

    # a shell that starts it in the background has it ignore Ctrl+C, which is what stops it
    signal.signal(signal.SIGINT, signal.default_int_handler)

    if args.fault not in ("none", "dropout", "garbage"):
        raise Refused(f"An instrument drops out or sends garbage; “{args.fault}” is the cutting service's.")
    line = scale_line if args.instrument == "scale" else angle_line
    with Simulated(value=args.value, line=line, drift_per_s=args.drift, fault=args.fault) as instrument:
        print(f"The simulated {args.instrument} sends on {instrument.port}. Ctrl+C stops it.", flush=True)
        end = time.monotonic() + args.seconds if args.seconds else None
        while end is None or time.monotonic() < end:
            time.sleep(0.1)
    return 0


def _calc(args: argparse.Namespace) -> int:
    if args.list or not args.name:
        from urial.calc.names import NAMES

        for name, (_, title) in sorted(NAMES.items()):
            print(f"{name}  {title}")
        return 0
    from urial.calc.registry import CalcError, ask, find
    from urial.job.file import os_words

    try:
        if args.schema:
            _print_json(find(args.name).question.model_json_schema())
            return 0
        find(args.name)
        try:
            text = sys.stdin.read() if args.file == "-" else a_path(args.file).read_text(encoding="utf-8")
        except OSError as error:
            raise Refused(f"{args.file} cannot be read: {os_words(error)}.") from None
        except UnicodeDecodeError:
            raise Refused(f"{args.file} is not text, so it is not a question; give a JSON file.") from None
        _print_json(ask(args.name, text))
    except CalcError as error:
        raise Refused(str(error)) from None
    return 0


def _schema(_: argparse.Namespace) -> int:
    import urial.families  # noqa: F401
    from urial.job.model import json_schema

    _print_json(json_schema())
    return 0


def _demo(args: argparse.Namespace) -> int:
    if args.shots:
        from urial.desk.shots import render_all

        return render_all(args.shots)
    return window(None, demo=True)


def window(path: Path | None, demo: bool = False) -> int:
    from urial.desk.application import NoDisplay, run

    try:
        return run(path, demo=demo)
    except NoDisplay:
        raise Refused(
            "There is no display to open a window on. “urial demo --shots DIR” draws the views into "
            "pictures without one."
        ) from None


COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {
    "demo": _demo,
    "families": _families,
    "new": _new,
    "sockets": _sockets,
    "keys": _keys,
    "check": _check,
    "fit": _fit,
    "size": _size,
    "chance": _chance,
    "recompute": _recompute,
    "frame": _frame,
    "parts": _parts,
    "plan": commands_making.plan,
    "nest": commands_making.nest,
    "order": commands_making.order,
    "outline": commands_making.outline,
    "bends": commands_making.bends,
    "weld": commands_making.weld,
    "quote": commands_making.quote,
    "bolts": commands_finish.bolts,
    "wiring": commands_finish.wiring,
    "plate": commands_making.plate,
    "shop": commands_shop.shop,
    "book": commands_shop.book,
    "due": commands_shop.due,
    "sheet": _sheet,
    "survey": _survey,
    "bench": _bench,
    "calc": _calc,
    "schema": _schema,
}
