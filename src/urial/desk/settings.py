"""What the window remembers from one day to the next: units, paper and decimal mark last used."""

from __future__ import annotations

import json

from urial.job.file import FileError, write_atomically
from urial.journal import state_dir

KNOWN = {
    "units": ("metric", "inch"),
    "paper": ("A4", "Letter"),
    "stock": ("as the job", "both"),
    "decimals": ("as the place has it", ".", ","),
}


def remembered(name: str) -> str:
    """The value last used; the first of what is possible where nothing (or nonsense) is kept."""
    try:
        kept = json.loads((state_dir() / "settings.json").read_text(encoding="utf-8"))
        value = kept.get(name) if isinstance(kept, dict) else None
    except (OSError, ValueError, RecursionError):
        value = None
    return value if value in KNOWN[name] else KNOWN[name][0]


def remember(name: str, value: str) -> None:
    """Keep a value for the next time; not worth a message when it cannot be."""
    if value not in KNOWN[name] or remembered(name) == value:
        return
    kept = {k: remembered(k) for k in KNOWN} | {name: value}
    try:
        state_dir().mkdir(parents=True, exist_ok=True)
        write_atomically(state_dir() / "settings.json", json.dumps(kept).encode(), durable=False)
    except (FileError, OSError):
        return
