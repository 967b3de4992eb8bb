"""Will it go together: clash, access, order, holes that line up, from the solids of the design and the
survey.
"""

from urial.fit.model import Finding, Fit, Move, OnOff, Step
from urial.fit.whole import fit

__all__ = ["Finding", "Fit", "Move", "OnOff", "Step", "fit"]
