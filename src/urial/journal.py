"""Where the application keeps its state, and its log."""

from __future__ import annotations

import logging
import os
from pathlib import Path

from platformdirs import user_state_path


def state_dir() -> Path:
    """Where logs and recovery copies live (``URIAL_STATE_DIR`` sets another place)."""
    return Path(os.environ.get("URIAL_STATE_DIR") or user_state_path("urial"))


def start_log() -> logging.Logger:
    """The log in the state directory; silence when it cannot be written."""
    from logging.handlers import RotatingFileHandler

    log = logging.getLogger("urial")
    if not log.handlers:
        try:
            state_dir().mkdir(parents=True, exist_ok=True)
            handler: logging.Handler = RotatingFileHandler(
                state_dir() / "urial.log", maxBytes=500_000, backupCount=2, encoding="utf-8", delay=True
            )
        except OSError:
            handler = logging.NullHandler()
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
        log.addHandler(handler)
        log.propagate = False
    return log
