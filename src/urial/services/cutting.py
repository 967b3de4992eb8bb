"""A cutting service: what is asked of one, what it answers, and how it is asked, over HTTP and JSON.

Nothing it says is believed unread: its answers are bounded in size and time, name the parts that were asked
for and no others, and hold no figure that cannot be.  An order carries a key of its own, so that asking twice
orders once.
"""

from __future__ import annotations

import ipaddress
import json
from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal, TypeVar
from urllib.parse import urlsplit

import httpx
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from urial.words import Complaint as Sentence
from urial.words import one_line

CONNECT_S, WHOLE_S = 5.0, 30.0
"""How long a service may take to be reached, and to answer."""
LARGEST = 2_000_000
"""No answer is larger, bytes."""
FINISHES = ("none", "deburred", "powder", "galvanised")

T = TypeVar("T", bound=BaseModel)
Mark = Annotated[str, Field(min_length=1, max_length=40)]
Money = Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]
Ident = Annotated[str, Field(min_length=1, max_length=120)]
Finish = Literal["none", "deburred", "powder", "galvanised"]


class ServiceError(Sentence):
    """The service cannot be asked, or its answer cannot be used; one sentence says why."""


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="ignore")


class PartWanted(_Value):
    """One plate: its drawing as a DXF (millimetres), steel, thickness, how many, how it is finished, how many
    bends are made in it.
    """

    mark: Mark
    dxf: Annotated[str, Field(max_length=2_000_000)]
    material: Annotated[str, Field(max_length=60)]
    thick_mm: float = Field(gt=0, le=200, allow_inf_nan=False)
    count: int = Field(1, ge=1, le=10_000)
    finish: Finish = "none"
    bends: int = Field(0, ge=0, le=100)


class Trouble(_Value):
    """What the service finds wrong with a part: where on its drawing, mm, and what, in words."""

    at_mm: tuple[
        Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)],
        Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)],
    ]
    words: Annotated[str, Field(min_length=1, max_length=300)]


class Priced(_Value):
    """One part's price each, and what is wrong with it; a part with something wrong has no price."""

    mark: Mark
    each: Money | None = None
    troubles: Annotated[tuple[Trouble, ...], Field(max_length=200)] = ()


class Offer(_Value):
    """What the service would take for all of it, and in how many working days."""

    id: Ident
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    days: int = Field(ge=0, le=1000)
    delivery: Money = 0.0
    lines: Annotated[tuple[Priced, ...], Field(max_length=2000)]
    house: Annotated[str, Field(max_length=120)] = ""

    def total(self, counts: dict[str, int]) -> float | None:
        """For so many of each; None while a part has no price."""
        if any(line.each is None for line in self.lines):
            return None
        return self.delivery + sum((line.each or 0.0) * counts[line.mark] for line in self.lines)


class Placed(_Value):
    """An order that stands: its number, and when it is promised (a date as it was written)."""

    order: Ident
    promised: Annotated[str, Field(max_length=40)] = ""
    house: Annotated[str, Field(max_length=120)] = ""


class CuttingService:
    """One service by its address.  ServiceError where that is none, or not safe."""

    def __init__(self, address: str) -> None:
        self.address = checked_address(address)

    def quote(self, parts: Sequence[PartWanted], stopped: Callable[[], bool] = lambda: False) -> Offer:
        """What it would take.  ServiceError where it cannot be asked, or answers what cannot be."""
        asked = {"parts": [p.model_dump(mode="json") for p in parts]}
        offer = self._read(Offer, self._ask("POST", "/v1/quotes", asked, stopped=stopped))
        wanted, named = {p.mark for p in parts}, [line.mark for line in offer.lines]
        if set(named) != wanted or len(named) != len(wanted):
            odd = sorted(set(named) ^ wanted) or sorted(m for m in set(named) if named.count(m) > 1)
            raise ServiceError(
                f"The service's offer is not for what was asked: {', '.join(odd[:5])}. Ask again, or ask "
                "somebody there."
            )
        for line in offer.lines:
            if line.each is None and not line.troubles:
                raise ServiceError(f"The service gives no price for {line.mark} and no reason; ask there.")
        return offer

    def order(self, offer: str, key: str, stopped: Callable[[], bool] = lambda: False) -> Placed:
        """Order what was offered.

        Args: ``key``: the same for the same order: asked again with it, nothing is ordered twice.
        """
        return self._read(Placed, self._ask("POST", "/v1/orders", {"quote": offer}, key, stopped))

    def _ask(
        self,
        method: str,
        path: str,
        body: dict[str, Any],
        key: str = "",
        stopped: Callable[[], bool] = lambda: False,
    ) -> Any:
        """One question, read no farther than it may go on."""
        headers = {"Idempotency-Key": key} if key else {}
        limits = httpx.Timeout(WHOLE_S, connect=CONNECT_S)
        host = urlsplit(self.address).netloc
        try:
            with (
                httpx.Client(timeout=limits, follow_redirects=False, trust_env=False) as client,
                client.stream(method, self.address + path, json=body, headers=headers) as answer,
            ):
                data = b""
                for piece in answer.iter_bytes(16_384):
                    data += piece
                    if len(data) > LARGEST:
                        raise ServiceError(f"The service at {host} answers without end; nothing was taken.")
                    if stopped():
                        raise ServiceError("Stopped; nothing was ordered.")
        except httpx.ConnectTimeout:
            raise ServiceError(f"Nobody answers at {host} within {CONNECT_S:.0f} s.") from None
        except httpx.TimeoutException:
            raise ServiceError(
                f"The service at {host} takes longer than {WHOLE_S:.0f} s; try again later."
            ) from None
        except httpx.ConnectError:
            raise ServiceError(f"Nobody answers at {host}: is the address right, and the line up?") from None
        except httpx.RemoteProtocolError:
            raise ServiceError(
                f"The service at {host} broke off in the middle of its answer; ask again."
            ) from None
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            why = one_line(str(error), 120) or type(error).__name__
            raise ServiceError(f"The service at {host} cannot be asked: {why}.") from None
        if answer.status_code // 100 != 2:
            raise ServiceError(_refused(host, answer.status_code, data))
        try:
            return json.loads(data)
        except (ValueError, RecursionError):
            raise ServiceError(
                f"The service at {host} answers what is no offer: half of one, or none; ask again."
            ) from None

    @staticmethod
    def _read(kind: type[T], value: Any) -> T:
        try:
            return kind.model_validate(value)
        except ValidationError as error:
            where = ".".join(str(x) for x in error.errors()[0]["loc"])
            raise ServiceError(
                f"The service's answer holds what cannot be ({where or 'all of it'}); nothing was taken."
            ) from None


def _refused(host: str, status: int, data: bytes) -> str:
    try:
        words = json.loads(data)["error"]
    except (ValueError, KeyError, TypeError, RecursionError):
        words = ""
    said = one_line(str(words), 200) if isinstance(words, str) else ""
    if said:
        return f"The service at {host} refuses: {said.rstrip('.')}."
    return f"The service at {host} answers with {status}; try again later, or ask there."


def checked_address(text: str) -> str:
    """An address without what does not belong to it.  ServiceError where it is none; what goes out of the
    house goes by https.
    """
    parts = urlsplit(text.strip())
    if parts.scheme not in ("http", "https") or not parts.hostname or parts.username or parts.password:
        raise ServiceError("A service's address begins with https://, as https://cut.example.")
    if parts.scheme == "http" and not _near(parts.hostname):
        raise ServiceError("Drawings go out by https alone; http is for a stand-in on this machine.")
    try:
        _ = parts.port
    except ValueError:
        raise ServiceError("The number behind the service's address is no port.") from None
    return f"{parts.scheme}://{parts.netloc}{parts.path.rstrip('/')}"


def _near(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


__all__ = [
    "FINISHES",
    "CuttingService",
    "Finish",
    "Offer",
    "PartWanted",
    "Placed",
    "Priced",
    "ServiceError",
    "Trouble",
    "checked_address",
]
