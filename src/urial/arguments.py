"""What the ``urial`` command understands: its arguments, and how a wrong one is refused. It imports nothing
of Urial, so that a command starts at once.
"""

from __future__ import annotations

import argparse

TYPE_CHECKING = False
if TYPE_CHECKING:
    from pathlib import Path
    from typing import Any

HOLDS, SHORT, BAD = 0, 1, 2


class Refused(Exception):
    """Bad input; the message is the sentence to print."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> Any:
        raise Refused(f"{message[0].upper()}{message[1:]}. See “{self.prog} --help”.")


def a_path(text: str) -> Path:
    from pathlib import Path

    return Path(text)


Command = argparse.ArgumentParser


def parser() -> argparse.ArgumentParser:
    """All commands and their arguments."""
    p = _Parser(
        prog="urial",
        description="From tape measure to shop sheet: receiver hitches sized against what they tow.",
    )
    p.add_argument("--version", action="store_true", help="print the version")
    sub = p.add_subparsers(dest="command", metavar="command", parser_class=_Parser)
    for name, words, arguments in COMMANDS:
        arguments(sub.add_parser(name, help=words))
    return p


def _nothing(c: Command) -> None:
    pass


def _demo(c: Command) -> None:
    c.add_argument(
        "--shots", metavar="DIR", type=a_path, help="render each main view at 1280x800 into DIR and leave"
    )


def _new(c: Command) -> None:
    c.add_argument("family", help="a family, or survey:KIND for a survey without a part yet")
    _over(c)
    c.add_argument("-o", "--output", metavar="JOB", type=a_path, required=True)
    c.add_argument(
        "--set",
        metavar="key=value",
        action="append",
        default=[],
        help="a parameter, with units: drop=120mm, trailer_mass=2000lb",
    )
    c.add_argument("--host", metavar="KIND", help="the kind of host it goes on, with starting values")
    c.add_argument(
        "--on",
        metavar="FAMILY",
        action="append",
        default=[],
        help="a family it sits on (what it needs is put under it anyway)",
    )


def _job(c: Command) -> None:
    c.add_argument("job", metavar="JOB", type=a_path)


def _job_json(c: Command) -> None:
    _job(c)
    c.add_argument("--json", action="store_true")


def _fit(c: Command) -> None:
    _job_json(c)
    c.add_argument(
        "--seconds", metavar="S", type=float, default=600.0, help="stop looking after this long (600)"
    )


def _keys(c: Command) -> None:
    c.add_argument("family")


def _check(c: Command) -> None:
    _job_json(c)
    c.add_argument("--workings", action="store_true", help="with the working of every check")
    c.add_argument("--basis", choices=("ASD", "LRFD", "FoS"), help="instead of the job's own")


def _over(c: Command) -> None:
    c.add_argument("--over", action="store_true", help="write over what lies there, whatever it is")


def _nest(c: Command) -> None:
    _job_json(c)
    c.add_argument(
        "--seconds", type=float, default=0.0, help="search so long for sheets that leave more, 0 to 600"
    )


def _order(c: Command) -> None:
    _job_json(c)
    c.add_argument(
        "--service", default="", metavar="ADDRESS", help="https://…; without it table and hand alone"
    )
    c.add_argument("--only", default="", metavar="MARKS", help="these plates: A,B,C")
    c.add_argument("--finish", choices=("none", "deburred", "powder", "galvanised"), default="none")
    c.add_argument("--place", action="store_true", help="order it; without this only the price is asked")
    c.add_argument(
        "--again", default="", metavar="WORDS", help="the same plates once more, as an order of its own"
    )


def _outline(c: Command) -> None:
    _job_json(c)
    c.add_argument("part", metavar="PART", help="the plate: its mark, or its key (1/base plate)")
    c.add_argument("file", type=a_path, metavar="FILE", help="DXF, SVG, or a black-and-white picture")
    c.add_argument("--wide", default="", help="how wide the whole outline is: 240mm, 9 1/2in")
    c.add_argument("--turn", type=float, default=0.0, help="degrees against the clock")
    c.add_argument("--turned-over", action="store_true", help="its other face up")
    c.add_argument("--bridge", default="", help="hold islands by bridges so wide")
    c.add_argument(
        "-o", "--output", type=a_path, metavar="JOB", help="the job with it; else only what is found"
    )
    _over(c)


def _quote(c: Command) -> None:
    _job_json(c)
    _over(c)
    c.add_argument("-o", "--output", metavar="FILE", type=a_path, help="as a paper; ends with .pdf")
    c.add_argument("--invoice", metavar="NUMBER", default="", help="as an invoice of this number")


def _plate(c: Command) -> None:
    _job(c)
    _over(c)
    c.add_argument(
        "-o", "--output", metavar="FILE", type=a_path, required=True, help="ends with .pdf, .svg or .dxf"
    )
    c.add_argument("--by", metavar="NAME", default="", help="who signs it")
    c.add_argument(
        "--anyway",
        metavar="REASON",
        default="",
        help="why it is written although something speaks against it",
    )


def _sheet(c: Command) -> None:
    _job(c)
    _over(c)
    c.add_argument("-o", "--output", metavar="DIR", type=a_path, required=True)
    c.add_argument("--paper", choices=("A4", "Letter"), default="A4")
    c.add_argument(
        "--pages",
        metavar="NAMES",
        default="",
        help="the pages of the packet's PDF by name, with commas between: cover,parts,welds; else all",
    )
    c.add_argument(
        "--hand-on",
        metavar="TITLE",
        nargs="?",
        const="",
        default=None,
        help="a plan set to hand on or sell: without customer, survey and number, with what to measure anew",
    )


def _shop(c: Command) -> None:
    c.add_argument(
        "what",
        choices=("list", "add", "drop", "set", "export", "import", "backup", "restore", "learn"),
        nargs="?",
        default="list",
    )
    c.add_argument("words", nargs="*", help="what to add, drop or set, or the file")
    c.add_argument("--json", action="store_true")
    c.add_argument("--id", default="", help="its name on the rack")
    c.add_argument("--count", type=int, default=1)
    c.add_argument("--price", type=float, default=None, help="of one; without it by mass")
    c.add_argument("--where", default="", help="where it lies")
    c.add_argument("--remnant", action="store_true", help="a rest, which costs nothing")
    _over(c)


def _book(c: Command) -> None:
    c.add_argument("what", choices=("list", "add", "forget"), nargs="?", default="list")
    c.add_argument("words", nargs="*", help="job files to note, or ids to forget")
    c.add_argument("--json", action="store_true")


def _json_alone(c: Command) -> None:
    c.add_argument("--json", action="store_true")


def _due(c: Command) -> None:
    _json_alone(c)
    c.add_argument("--calendar", metavar="FILE.ics", type=a_path, help="write it for a calendar to take in")
    c.add_argument("--over", action="store_true", help="write over what is there")


def _size(c: Command) -> None:
    _job_json(c)
    c.add_argument("--for", dest="aim", choices=("mass", "price", "fewest"), default="mass")
    c.add_argument("--target", metavar="U", type=float, default=1.0, help="the most that may be used, 0 to 1")
    c.add_argument(
        "--keep",
        metavar="KEY",
        action="append",
        default=[],
        help="a parameter, or a piece by number, that stays",
    )
    c.add_argument(
        "--only", metavar="KEY", action="append", default=[], help="the parameters that may change, no other"
    )
    c.add_argument(
        "--prices",
        metavar="CSV",
        type=a_path,
        help="what a kg costs: lines like “bar,1.90” or a stock's name",
    )
    c.add_argument("--rack", action="store_true", help="only bars and plates that lie on the shop's rack")
    c.add_argument("--leg", metavar="LENGTH", help="the largest weld leg, what the machine lays in one pass")
    c.add_argument("-o", "--output", metavar="JOB", type=a_path, help="write the job with the best sizes")
    _over(c)


def _chance(c: Command) -> None:
    _job_json(c)
    c.add_argument("--samples", metavar="N", type=int, default=400, help="so many parts are judged (400)")
    c.add_argument(
        "--seed", metavar="K", type=int, default=1, help="other samples; the same seed, the same ones"
    )
    c.add_argument("--dask", metavar="ADDRESS", default="", help="share the work on a Dask cluster")


def _survey(c: Command) -> None:
    _job(c)
    c.add_argument("--csv", action="store_true", help="print every value of the survey as CSV")
    c.add_argument(
        "--read", metavar="CSV", type=a_path, help="take a survey table in; writes to -o, or back to JOB"
    )
    c.add_argument(
        "--blank", metavar="PDF", type=a_path, help="write the blank survey sheet for this kind of host"
    )
    c.add_argument("-o", "--output", metavar="JOB", type=a_path)
    c.add_argument("--paper", choices=("A4", "Letter"), default="A4")


def _bench(c: Command) -> None:
    c.add_argument("instrument", choices=("gauge", "scale", "service"))
    c.add_argument("--value", type=float, default=1.25, help="what it reads")
    c.add_argument("--drift", type=float, default=0.0, help="change per second")
    c.add_argument(
        "--fault",
        choices=("none", "dropout", "garbage", "slow", "down", "lying", "half", "nonsense", "endless"),
        default="none",
        help="of an instrument: dropout, garbage; of the cutting service the others",
    )
    c.add_argument("--port", type=int, default=0, help="of the cutting service; 0: any that is free")
    c.add_argument("--seconds", type=float, help="stop by itself after this long")


def _calc(c: Command) -> None:
    c.add_argument("name", nargs="?")
    c.add_argument("file", nargs="?", default="-")
    c.add_argument("--list", action="store_true")
    c.add_argument("--schema", action="store_true")


def _wiring(c: argparse.ArgumentParser) -> None:
    _job_json(c)
    c.add_argument("--what", choices=("nothing", "lamps on it", "a socket on the host"), default="")
    c.add_argument("--plug", choices=("7-round", "13-round", "7-blade", "4-flat"), default="")
    c.add_argument("--lamps", choices=("bulbs", "LED"), default="")


COMMANDS = (
    ("demo", "open the demo jobs", _demo),
    ("families", "list the kinds of part", _nothing),
    ("new", "write a job from a family", _new),
    ("sockets", "where something can go on a job's pieces, and what is there, as JSON", _job),
    ("keys", "the parameters of a family, with their starting values", _keys),
    ("check", "verdict and ranked checks", _check),
    ("fit", "will it go together: clash, access, order, holes, stack-ups", _fit),
    ("frame", "the analysis model as JSON", _job),
    ("parts", "parts and hardware", _job_json),
    ("plan", "the plan of work, in an order that can be done", _job_json),
    ("nest", "bars and sheets to cut it from", _nest),
    ("quote", "what it costs: material, consumables, hours", _quote),
    ("shop", "the rack, tools, prices and rates", _shop),
    ("book", "logs of all jobs", _book),
    ("due", "checks that are due", _due),
    ("weld", "seams, where to start the machine, order of the runs, expected pull", _job_json),
    ("order", "what a cutting service takes for the plates, beside table and hand; or order them", _order),
    ("outline", "cut a plate to an outline out of a DXF, an SVG or a picture", _outline),
    ("bends", "every bent bar: cut length, marks, angles, twist", _job_json),
    ("sheet", "write the shop packet", _sheet),
    ("bolts", "bolts in the order they are tightened: length, grip, torque, which hole first", _job_json),
    ("wiring", "cables of lamps or of a socket: contact, size, fuse, what is lost on the way", _wiring),
    ("plate", "the rating plate, where nothing speaks against it", _plate),
    ("size", "sizes from stock that hold, the best first", _size),
    ("chance", "chance of being short, from how sizes, beads and steel stray", _chance),
    ("recompute", "the frame once more by a second, independent solver", _job_json),
    ("survey", "the survey as CSV, and the blank sheet to fill in under the vehicle", _survey),
    ("bench", "simulated instruments, for trying things out", _bench),
    ("calc", "bench calculators, JSON in, JSON out", _calc),
    ("schema", "JSON Schema of the job document", _nothing),
)
