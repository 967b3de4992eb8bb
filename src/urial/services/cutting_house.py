"""A stand-in for a cutting service: a small real server that speaks what `cutting.py` asks, prices by its own
table, looks at every drawing, remembers its orders, and can be slow, down, lying or break off.

It looks at what a real one looks at: outlines that close, a table they fit, a thickness it cuts, openings no
narrower than it can pierce.
"""

from __future__ import annotations

import json
import threading
import time
from dataclasses import dataclass, field
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from types import TracebackType
from typing import Any, Literal
from uuid import uuid4

import numpy as np
from pydantic import ValidationError
from shapely.geometry import Polygon

from urial.geometry.fitted import NoOutline
from urial.geometry.outline import area, flatten
from urial.measure.outline_file import FINE, Traced, traced
from urial.measure.rings import chained
from urial.measure.taken import BackdropError, outline_of
from urial.services.cutting import Offer, PartWanted, Placed, Priced, Trouble
from urial.words import one_line

Fault = Literal["none", "slow", "down", "lying", "half", "nonsense", "endless"]
LARGEST = 20_000_000
BED = (3000.0, 1500.0)
THICKEST = 25.0
SLOW_S = 60.0
METAL = {"steel": 3.4, "stainless": 9.5, "aluminium": 8.8}
"""Per kg, cut from the service's own sheets; guesses, as all of its prices."""
PER_M, PIERCE, SET_UP, BEND = 1.1, 0.22, 4.5, 6.5
FINISHED = {"none": 0.0, "deburred": 2.5, "powder": 38.0, "galvanised": 30.0}
"""Per m² of plate, both faces."""
DELIVERY = 24.0
CURRENCY = "EUR"
NAME = "Sheepfold Cutting (simulated)"


@dataclass
class CuttingHouse:
    """A server on this machine; as a context manager it listens at ``address``.  ``fault`` may be changed
    while it runs; ``orders`` are those that stand, by their key.
    """

    fault: Fault = "none"
    port: int = 0
    address: str = field(default="", init=False)
    offers: dict[str, Offer] = field(default_factory=dict, init=False)
    orders: dict[str, Placed] = field(default_factory=dict, init=False)
    asked: int = field(default=0, init=False)

    def __enter__(self) -> CuttingHouse:
        house = self
        stop = threading.Event()

        class Handler(BaseHTTPRequestHandler):
            protocol_version = "HTTP/1.1"

            def log_message(self, *_: object) -> None:
                """Nothing is written of who asks what."""

            def do_POST(self) -> None:
                house.asked += 1
                if house.fault == "slow":
                    stop.wait(SLOW_S)
                if house.fault == "down":
                    self.close_connection = True
                    self.connection.close()
                    return
                status, value = house.answer(self.path, self._body(), self.headers.get("Idempotency-Key", ""))
                house.say(self, status, value, stop)

            def _body(self) -> Any:
                length = int(self.headers.get("Content-Length") or 0)
                if not 0 < length <= LARGEST:
                    return None
                try:
                    return json.loads(self.rfile.read(length))
                except (ValueError, RecursionError):
                    return None

        self._stop = stop
        self._server = ThreadingHTTPServer(("127.0.0.1", self.port), Handler)
        self._server.daemon_threads = True
        self.port = self._server.server_address[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self._thread = threading.Thread(target=self._server.serve_forever, args=(0.05,), daemon=True)
        self._thread.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None
    ) -> None:
        self.stop()

    def stop(self) -> None:
        """Listen no more."""
        self._stop.set()
        self._server.shutdown()
        self._server.server_close()

    def say(self, handler: BaseHTTPRequestHandler, status: int, value: Any, stop: threading.Event) -> None:
        """Send an answer, whole or as the fault has it."""
        data = json.dumps(value).encode()
        if self.fault == "nonsense":
            data = b"<html>welcome</html>"
        promised = len(data)
        if self.fault == "half":
            data = data[: len(data) // 2]
        handler.send_response(status)
        handler.send_header("Content-Type", "application/json")
        if self.fault == "endless":
            handler.send_header("Connection", "close")
            handler.end_headers()
            handler.close_connection = True
            end = time.monotonic() + SLOW_S
            try:
                while time.monotonic() < end and not stop.is_set():
                    handler.wfile.write(b" " * 65_536)
            except OSError:
                return
            return
        handler.send_header("Content-Length", str(promised))
        handler.end_headers()
        handler.wfile.write(data)
        if self.fault == "half":
            handler.close_connection = True

    def answer(self, path: str, body: Any, key: str) -> tuple[int, Any]:
        """What is answered to a question: status, value."""
        if path == "/v1/quotes":
            return self._quoted(body)
        if path == "/v1/orders":
            return self._ordered(body, key)
        return 404, {"error": "There is nothing here."}

    def _quoted(self, body: Any) -> tuple[int, Any]:
        try:
            parts = [PartWanted.model_validate(p) for p in body["parts"]]
        except (ValidationError, KeyError, TypeError):
            return 422, {"error": "This is no list of parts."}
        if not parts:
            return 422, {"error": "There is nothing to cut."}
        lines = tuple(self._priced(p) for p in parts)
        thick = max(p.thick_mm for p in parts)
        days = 3 + (2 if thick > 10 else 0) + (3 if any(p.finish != "none" for p in parts) else 0)
        days += 2 if any(p.bends for p in parts) else 0
        offer = Offer(
            id=uuid4().hex, currency=CURRENCY, days=days, delivery=DELIVERY, lines=lines, house=NAME
        )
        self.offers[offer.id] = offer
        value = offer.model_dump(mode="json")
        if self.fault == "lying":
            value["lines"][0]["each"] = -1.0
        return 201, value

    def _priced(self, p: PartWanted) -> Priced:
        drawn, why = _drawing(p)
        if drawn is None:
            return Priced(mark=p.mark, troubles=(Trouble(at_mm=(0.0, 0.0), words=why),))
        troubles = _troubles(p, drawn)
        if troubles:
            return Priced(mark=p.mark, troubles=tuple(troubles[:200]))
        metal = (
            "aluminium" if p.material.startswith(("6", "5")) else "stainless" if "304" in p.material else ""
        )
        kg = area(drawn.rim) * p.thick_mm * (2.7e-6 if metal == "aluminium" else 7.85e-6)
        openings = len(drawn.holes) + len(drawn.windows)
        long = sum(Polygon(flatten(r)).length for r in (drawn.rim, *drawn.windows))
        long += sum(np.pi * d for _, _, d in drawn.holes)
        each = kg * METAL[metal or "steel"] + long / 1000 * PER_M * (1 + p.thick_mm / 10)
        each += PIERCE * (1 + openings) * (1 + p.thick_mm / 12) + SET_UP / p.count + BEND * p.bends
        each += FINISHED[p.finish] * 2 * area(drawn.rim) * 1e-6
        return Priced(mark=p.mark, each=round(float(each), 2))

    def _ordered(self, body: Any, key: str) -> tuple[int, Any]:
        offer = self.offers.get(body.get("quote", "") if isinstance(body, dict) else "")
        if offer is None:
            return 404, {"error": "This offer is not known here, or has lapsed."}
        if not 0 < len(key) <= 200:
            return 422, {"error": "An order needs a key of its own, so that it is not made twice."}
        if any(line.each is None for line in offer.lines):
            return 409, {"error": "A part of it cannot be cut as it is drawn."}
        if key in self.orders:
            return 200, self.orders[key].model_dump(mode="json")
        day = date.today() + timedelta(days=offer.days)
        placed = Placed(order=f"S-{len(self.orders) + 1:04}", promised=day.isoformat(), house=NAME)
        self.orders[key] = placed
        return 201, placed.model_dump(mode="json")


def _drawing(p: PartWanted) -> tuple[Traced | None, str]:
    """A part's outline about its middle, or why there is none."""
    try:
        lines, _ = outline_of(p.dxf.encode())
        rings = chained([line[:, :2] for line in lines])
        if not rings:
            return None, "no outline closes"
        return traced(rings, FINE, p.mark), ""
    except (BackdropError, NoOutline) as why:
        return None, one_line(str(why), 200)


def _troubles(p: PartWanted, drawn: Traced) -> list[Trouble]:
    """What cannot be cut, each with its place from the drawing's lower left corner."""
    wide, high = drawn.size

    def at(x: float, y: float) -> tuple[float, float]:
        return round(x + wide / 2, 2), round(y + high / 2, 2)

    out = []
    if p.thick_mm > THICKEST:
        out.append(Trouble(at_mm=at(0, 0), words=f"we cut to {THICKEST:.0f} mm"))
    if max(wide, high) > BED[0] or min(wide, high) > BED[1]:
        out.append(Trouble(at_mm=at(0, 0), words=f"larger than our table, {BED[0]:.0f} × {BED[1]:.0f} mm"))
    least = max(0.6 * p.thick_mm, 2.0)
    for x, y, d in drawn.holes:
        if d < least:
            out.append(Trouble(at_mm=at(x, y), words=f"a hole under {least:.1f} mm cannot be pierced"))
    for w in drawn.windows:
        ring = Polygon(flatten(w)).buffer(0)
        if ring.buffer(-least / 2).is_empty:
            c = ring.representative_point()
            out.append(Trouble(at_mm=at(c.x, c.y), words=f"an opening narrower than {least:.1f} mm"))
    for i in drawn.islands:
        c = Polygon(flatten(i)).representative_point()
        out.append(Trouble(at_mm=at(c.x, c.y), words="an island falls out"))
    return out


__all__ = ["CuttingHouse", "Fault"]
