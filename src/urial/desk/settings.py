"""What the window remembers from one day to the next: units, paper, decimal mark and cutting service last
used.
"""

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

FREE = {"cutting service": 300}
"""What may be any text, of so many letters at most."""


def remembered(name: str) -> str:
    """The value last used; the first of what is possible where nothing (or nonsense) is kept."""
    try:
        kept = json.loads((state_dir() / "settings.json").read_text(encoding="utf-8"))
        value = kept.get(name) if isinstance(kept, dict) else None
    except (OSError, ValueError, RecursionError):
        value = None
    if name in FREE:
        return value if isinstance(value, str) and len(value) <= FREE[name] else ""
    return value if value in KNOWN[name] else KNOWN[name][0]


def remember(name: str, value: str) -> None:
    """Keep a value for the next time; not worth a message when it cannot be."""
    allowed = len(value) <= FREE[name] if name in FREE else value in KNOWN[name]
    if not allowed or remembered(name) == value:
        return
    kept = {k: remembered(k) for k in (*KNOWN, *FREE)} | {name: value}
    try:
        state_dir().mkdir(parents=True, exist_ok=True)
        write_atomically(state_dir() / "settings.json", json.dumps(kept).encode(), durable=False)
    except (FileError, OSError):
        return
