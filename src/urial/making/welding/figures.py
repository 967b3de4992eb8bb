"""The figures of ``data/welding.toml``."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files
from typing import Any


@cache
def figures() -> dict[str, dict[str, Any]]:
    """Tables by name."""
    return tomllib.loads((files("urial.making") / "data" / "welding.toml").read_text(encoding="utf-8"))


__all__ = ["figures"]
