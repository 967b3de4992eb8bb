"""What a trailer is coupled to: the kinds of socket that tow, and the name of each as people say it."""

from __future__ import annotations

COUPLINGS = {"ball": "ball", "clevis": "clevis", "hook": "pintle", "coupler": "ball", "lunette": "pintle"}
"""By kind of socket; a hook of several layers has a socket in each, a coupler and a lunette are the
trailer's own half."""
TRAILERS = ("coupler", "lunette")
"""Those that are pulled the other way."""
