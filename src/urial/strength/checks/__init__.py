"""Every joint and member of an assembly to checks: one small function a kind of joint, vectorised over the cases."""

from __future__ import annotations

from urial.assembly.model import BoltJoint, FitJoint, NetSection, PinJoint, WallJoint, WeldJoint
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Check
from urial.strength.checks.bolts import bolt_checks
from urial.strength.checks.members import member_checks, net_section_check
from urial.strength.checks.pins import eye_check, fit_check, pin_checks, wall_check
from urial.strength.checks.welds import weld_check


def judge(forces: Forces, basis: Basis, method: str) -> list[Check]:
    """Every strength check of an assembly."""
    out = member_checks(forces, basis)
    for j in forces.assembly.joints:
        if isinstance(j, WeldJoint):
            out += weld_check(forces, basis, j, method)
        elif isinstance(j, BoltJoint):
            out += bolt_checks(forces, basis, j, method)
        elif isinstance(j, NetSection):
            out.append(net_section_check(forces, basis, j))
        elif isinstance(j, PinJoint):
            out += pin_checks(forces, basis, j)
        elif isinstance(j, FitJoint):
            out.append(fit_check(forces, basis, j))
        elif isinstance(j, WallJoint):
            out.append(wall_check(forces, basis, j))
        else:
            out.append(eye_check(forces, basis, j))
    return out
