"""The load chain: from every loaded place back to the vehicle, one link a part and a joint, left and right
as one.
"""

from __future__ import annotations

from dataclasses import dataclass

from urial.assembly.model import HOST, LOAD, Assembly, Fit, Pin, Shank, Weld, bare

VEHICLE = "vehicle"


@dataclass(frozen=True)
class ChainLink:
    """A link: its id (a key without instance), what it is called, whether it is yours to change."""

    id: str
    name: str
    yours: bool = True


def chain(assembly: Assembly, sockets: tuple[str, ...], host_name: str) -> tuple[ChainLink, ...]:
    """Links in the order a load runs through them, the longest way first; dead ends left out; the host and
    its limits last.
    """
    near: dict[str, set[str]] = {}
    for j in assembly.joints:
        if not (isinstance(j.how, Weld) and j.how.helps):
            for end in (j.a, j.b):
                if end != LOAD:
                    link = "joint " + joint_link(assembly, j.key)
                    near.setdefault(_node(end), set()).add(link)
                    near.setdefault(link, set()).add(_node(end))
    steps = _steps(near)
    wanted: dict[str, int] = {}
    wave = {s for key in sockets if (s := _node(assembly.loaded_part(assembly.socket_by_key[key]))) in steps}
    while wave:  # down every shortest way
        wanted.update({n: steps[n] for n in wave})
        wave = {m for n in wave for m in near[n] if steps.get(m, -1) == steps[n] - 1}
    as_built = {
        n: i
        for i, n in enumerate(
            [
                *(_node(p.key) for p in assembly.parts),
                *("joint " + joint_link(assembly, j.key) for j in assembly.joints),
            ]
        )
    }
    order = sorted((n for n in wanted if n != HOST), key=lambda n: (-wanted[n], as_built[n]))
    joints = {"joint " + joint_link(assembly, j.key): j for j in reversed(assembly.joints)}
    out = []
    for n in order:
        if n in joints:
            j = joints[n]
            if isinstance(j.how, Shank):
                continue  # the ball and its seat are one link
            out.append(ChainLink(joint_link(assembly, j.key), _tail(j.family)))
        else:
            out.append(ChainLink(n, _tail(n)))
    return (*out, ChainLink(HOST, host_name, False), ChainLink(VEHICLE, "vehicle limits", False))


def _steps(near: dict[str, set[str]]) -> dict[str, int]:
    """Steps from the host to everything that hangs on it."""
    out = {HOST: 0} if HOST in near else {}
    wave = list(out)
    while wave:
        wave = [
            m for n in wave for m in sorted(near[n]) if m not in out and (out.update({m: out[n] + 1}) or True)
        ]
    return out


def _node(key: str) -> str:
    return key if key == HOST else bare(key)


def _tail(key: str) -> str:
    """What a key calls its part or joint: ``1/side plate`` → side plate."""
    return key.split("/", 1)[1]


def joint_link(assembly: Assembly, key: str) -> str:
    """The link a joint belongs to: a bar's bearings in its bore go with its pin, helpers with what they
    help.
    """
    j = assembly.joint_by_key[key]
    if isinstance(j.how, Weld) and j.how.helps:
        return joint_link(assembly, j.how.helps)
    if isinstance(j.how, Fit):
        pin = next((o for o in assembly.joints if isinstance(o.how, Pin) and {o.a, o.b} == {j.a, j.b}), None)
        if pin is not None:
            return pin.family
    return j.family
