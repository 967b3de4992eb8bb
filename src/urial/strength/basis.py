"""Design bases behind one interface: ASD, LRFD, plain factor of safety.  No limit state knows which is in
force.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from urial.job.model import Proof


class Basis(Protocol):
    """How a nominal strength becomes an available one, and what is done to the loads."""

    @property
    def name(self) -> str:
        """Short name for sheets."""

    @property
    def load_factor(self) -> float:
        """Multiplies every load."""

    @property
    def von_mises(self) -> bool:
        """Members judged by the von Mises stress instead of the interaction equations."""

    def available(self, nominal: float, omega: float) -> float:
        """Available strength of a limit state whose ASD safety factor is ``omega``."""

    def words(self, omega: float) -> str:
        """How the available strength was reached, for a working."""


@dataclass(frozen=True)
class AllowableStrength:
    """ASD: Rn / Ω against real forces (AISC 360-22 B3.2)."""

    name: str = "ASD"
    load_factor: float = 1.0
    von_mises: bool = False

    def available(self, nominal: float, omega: float) -> float:
        """Rn / Ω."""
        return nominal / omega

    def words(self, omega: float) -> str:
        """Rn / Ω."""
        return f"Rn / {omega:.2f}"


@dataclass(frozen=True)
class LoadAndResistance:
    """LRFD: φ Rn against 1.6 × loads; φ = 1.5 / Ω, the relation AISC's own pairs keep (AISC 360-22 B3.1,
    ASCE 7).
    """

    name: str = "LRFD"
    load_factor: float = 1.6
    von_mises: bool = False

    def available(self, nominal: float, omega: float) -> float:
        """φ Rn."""
        return nominal * 1.5 / omega

    def words(self, omega: float) -> str:
        """φ Rn."""
        return f"{1.5 / omega:.2f} Rn, loads × 1.6"


@dataclass(frozen=True)
class PlainFactor:
    """A plain factor on yield; limits that break rather than yield keep AISC's larger reserve in
    proportion (Ω/1.67).
    """

    factor: float = 2.0
    name: str = "FoS"
    load_factor: float = 1.0
    von_mises: bool = True

    def available(self, nominal: float, omega: float) -> float:
        """Rn / (FoS · Ω/1.67)."""
        return nominal / (self.factor * omega / 1.67)

    def words(self, omega: float) -> str:
        """Rn over the factor."""
        return f"Rn / ({self.factor:g} × {omega:.2f}/1.67)"


def basis_of(proof: Proof) -> Basis:
    """The basis a job asks for."""
    if proof.basis == "LRFD":
        return LoadAndResistance()
    if proof.basis == "FoS":
        return PlainFactor(proof.factor_of_safety)
    return AllowableStrength()
