"""What the window can be told to do, declared once: the menus, the keys, what can be found and the list of
keys are made from it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

MENUS = ("Job", "Edit", "View", "Help")
DRAWN = ("scene", "chain")


@dataclass(frozen=True)
class Act:
    """``do``: the window's method, with a dot for one of what it holds, after a colon what it is called with;
    ``keys``: the first stands in the menu; ``needs_job``: not without an open job; ``within``: the keys count
    only while one of these, named as the window holds them, has the focus (plain keys belong to typing).
    """

    name: str
    menu: str
    words: str
    do: str
    keys: tuple[str, ...] = ()
    needs_job: bool = True
    within: tuple[str, ...] = ()


ACTS = (
    Act("start page", "Job", "Start page", "show_start", needs_job=False),
    Act("open", "Job", "Open…", "ask_open", ("Ctrl+O",), needs_job=False),
    Act("save", "Job", "Save", "save", ("Ctrl+S",)),
    Act("save as", "Job", "Save as…", "save_as", ("Ctrl+Shift+S",)),
    Act("packet", "Job", "Write the packet…", "write_packet", ("Ctrl+P",)),
    Act("job card", "Job", "Name, customer, revision, notes…", "job_card", ("Ctrl+I",)),
    Act(
        "shop", "Job", "The shop: rack, saw, prices, rates…", "shop_card", ("Ctrl+Shift+R",), needs_job=False
    ),
    Act("leave", "Job", "Leave", "close", ("Ctrl+Q",), needs_job=False),
    Act("undo", "Edit", "Undo", "undo", ("Ctrl+Z",)),
    Act("redo", "Edit", "Redo", "redo", ("Ctrl+Shift+Z", "Ctrl+Y")),
    Act("find", "Edit", "Find…", "look_up", ("Ctrl+K",)),
    Act("units", "View", "Inches or millimetres", "switch_units", ("Ctrl+U",)),
    Act("stock", "View", "Stock of both systems, or the job's alone", "switch_stock"),
    Act("decimals", "View", "Decimal point or comma", "switch_decimals", needs_job=False),
    Act("bench size", "View", "Bench size", "bench_size", ("Ctrl+B",), needs_job=False),
    Act("night", "View", "Night or day", "night", ("Ctrl+D",), needs_job=False),
    Act("turn", "View", "Turn the view", "scene.next_view", ("Space",), within=DRAWN),
    Act("bench", "View", "Bench view: one step, large", "toggle_bench", ("F8",)),
    Act("calculators", "View", "Bench calculators", "toggle_drawer", ("F9",)),
    Act("whole part", "View", "Whole part", "scene.fit"),
    Act("paint", "View", "Paint by utilisation", "scene.toggle_paint"),
    Act("bent shape", "View", "Bent shape", "scene.toggle_deflection"),
    Act("chain back", "View", "Load chain: the link before", "chain.walk:-1", ("[",), within=DRAWN),
    Act("chain on", "View", "Load chain: the next link", "chain.walk:1", ("]",), within=DRAWN),
    Act("guide", "Help", "Guide: from tape to plate…", "guide", needs_job=False),
    Act("about", "Help", "Keys and limits", "about", needs_job=False),
    Act("explain", "Help", "Explain what is under the pointer", "explain", ("F1",), needs_job=False),
)


def of_stations(names: Iterable[str]) -> tuple[Act, ...]:
    """To each station by its number."""
    return tuple(
        Act(f"go {name}", "View", f"Go to {name}", f"go:{name}", (f"Alt+{n}",))
        for n, name in enumerate(names, 1)
    )


def keys_in_words(acts: Iterable[Act]) -> str:
    """Every key and what it does, a line each."""
    return "\n".join(
        f"{' or '.join(a.keys)}   {a.words.removesuffix('…')}{' (in the drawing)' if a.within else ''}"
        for a in acts
        if a.keys
    )


__all__ = ["ACTS", "MENUS", "Act", "keys_in_words", "of_stations"]
