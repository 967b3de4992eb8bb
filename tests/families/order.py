"""Prints all that has an order in every family's verdict; test_every_family runs it with other hash seeds."""

from urial import families
from urial.fit.model import Step, never
from urial.fit.order import order_findings
from urial.fit.room import room_of
from urial.making.parts import parts_list
from urial.prove.verdict import prove


def said() -> str:
    """A line for each family."""
    lines = []
    for name in families.families():
        v = prove(families.new_job(name))
        order = [s.link for s in v.chain], [c.id for c in v.checks], v.warnings, v.unchecked
        lines.append(f"{name} {order} {parts_list(v.assembly)}\n")
        if name == "rack-carrier":  # two of its pieces go on as one
            room = room_of(v.job, v.assembly)
            on = [s for s in order_findings(v.assembly, room, never) if isinstance(s, Step)]
            lines.append(f"{[(s.words, s.keys) for s in on]}\n")
    return "".join(lines)


if __name__ == "__main__":
    print(said(), end="")
