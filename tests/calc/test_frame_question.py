"""A frame written as a question to the calculator is the frame again when it is asked."""

import pytest

from urial.calc import structure
from urial.calc.registry import CalcError
from urial.strength import frame as frames

NODES = {"a": (0.0, 0.0, 0.0), "b": (900.0, 0.0, 0.0), "c": (900.0, 500.0, 300.0)}


def model(**more):
    first = frames.Member("ab", "a", "b", 205e3, 79e3, 900.0, 4e5, 9e5, 7e5, (0.0, 0.0, 1.0), **more)
    second = frames.Member("bc", "b", "c", 205e3, 79e3, 700.0, 3e5, 3e5, 5e5, (0.0, 0.0, 1.0))
    return frames.Frame(NODES, [first, second], {"a": (1,) * 6, "c": (1, 1, 1, 0, 0, 0)}, {})


LOADS = {"down": {"b": (0.0, 0.0, -900.0, 0.0, 0.0, 0.0)}, "twist": {"b": (200.0, 0, 0, 0, 0, 4e4)}}


@pytest.mark.parametrize(
    "more",
    [
        {},
        {"Avy": 500.0, "Avz": 400.0},
        {"Iyz": 1.2e5},
        {"release_j": (0, 0, 0, 0, 1, 0)},
        {"offset_i": (0.0, 40.0, 0.0)},
        {"offset_i": (10.0, 0.0, 0.0), "offset_j": (-20.0, 0.0, 15.0)},
    ],
)
def test_what_is_asked_of_the_calculator_is_what_was_solved(more):
    frame = model(**more)
    own = frames.solve(frame, LOADS)
    asked = structure.frame_question(frame, LOADS)
    answer = structure.frame(structure.FrameQuestion.model_validate(asked))
    for c, case in enumerate(LOADS):
        for name, k in own.node_index.items():
            moved = own.displacements[c, k].tolist()
            assert answer[case]["displacements"][name] == pytest.approx(moved, rel=1e-9, abs=1e-12)
        for k, member in enumerate(frame.members):
            ends = answer[case]["members"][member.id]
            assert [*ends["i"], *ends["j"]] == pytest.approx(
                own.end_forces[c, k].tolist(), rel=1e-9, abs=1e-9
            )
        held = [sum(answer[case]["reactions"][n][k] for n in ("a", "c")) for k in range(3)]
        assert held == pytest.approx([-v for v in LOADS[case]["b"][:3]], abs=1e-6)


def test_a_member_named_twice_and_an_unknown_key_are_refused():
    asked = structure.frame_question(model(), LOADS)
    asked["members"][1]["id"] = "ab"
    with pytest.raises(CalcError, match="Two members are called ab"):
        structure.frame_of(structure.FrameQuestion.model_validate(asked))
    asked["members"][1]["stiff"] = 3.0
    with pytest.raises(ValueError, match="stiff"):
        structure.FrameQuestion.model_validate(asked)


def test_only_what_is_not_nothing_is_written():
    (row, _) = structure.frame_question(model(), LOADS)["members"]
    assert not {"Avy_mm2", "Iyz_mm4", "release_i", "offset_j_mm"} & set(row)
    (row, _) = structure.frame_question(model(Iyz=2.0), LOADS)["members"]
    assert row["Iyz_mm4"] == 2.0
