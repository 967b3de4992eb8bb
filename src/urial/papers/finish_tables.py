"""What goes on at the end, as JSON: bolts, wiring."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from urial.making.fastened import Bolted
from urial.making.wiring import Wired


def bolts_json(rows: Iterable[Bolted]) -> dict[str, Any]:
    """The output of ``urial bolts --json``: groups in the order they are tightened."""
    return {
        "groups": [
            {
                "name": r.name,
                "joints": list(r.joints),
                "bolt": r.bolt,
                "grade": r.grade,
                "count": r.count,
                "length_mm": r.long,
                "grip_mm": r.grip,
                "showing_mm": r.shows,
                "in_thread_mm": r.held,
                "torque_dry_Nm": r.torque or None,
                "torque_oiled_Nm": r.oiled or None,
                "order": list(r.order),
                "short": r.short or None,
                "limit": r.limit or None,
            }
            for r in rows
        ]
    }


def wiring_json(wired: Wired | None) -> dict[str, Any]:
    """The output of ``urial wiring --json``; every list empty where nothing is wired."""
    if wired is None:
        return {"plug": None, "colours": None, "wires": [], "free": [], "words": [], "bought": []}
    return {
        "plug": wired.plug.title,
        "colours": wired.school,
        "length_guessed": wired.guessed,
        "worst_drop_V": wired.worst,
        "wires": [
            {
                "contact": w.at,
                "does": w.does,
                "colour": w.colour,
                "current_A": w.amps,
                "length_mm": w.mm,
                "cable": w.cable.name,
                "cable_mm2": w.cable.mm2,
                "carries_A": w.cable.carries,
                "fuse_A": w.fuse or None,
                "drop_V": w.drop,
                "terminal": w.terminal,
                "earth": w.earth or None,
            }
            for w in wired.wires
        ],
        "free": [c.at for c in wired.free],
        "words": list(wired.words),
        "bought": [{"what": b.what, "amount": b.amount, "unit": b.unit} for b in wired.bought],
    }


__all__ = ["bolts_json", "wiring_json"]
