"""Where the shop's book is; known without a database's library."""

from __future__ import annotations

import os
from pathlib import Path

from urial.journal import state_dir

SQLITE = "sqlite:///"


def address() -> str:
    """Where the book is: ``URIAL_BOOK``, else a file in the state folder."""
    return os.environ.get("URIAL_BOOK") or f"{SQLITE}{state_dir() / 'shop.db'}"


def there() -> bool:
    """Has anybody begun a book?"""
    url = address()
    return not url.startswith(SQLITE) or Path(url.removeprefix(SQLITE)).exists()


__all__ = ["SQLITE", "address", "there"]
