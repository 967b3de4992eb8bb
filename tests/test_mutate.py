"""The tool that changes a line and asks whether a test sees it: its changes change, and are seen or named."""

import ast
import random

import pytest

from tests import mutate

SOURCE = """
def least(a: float, b: float) -> float:
    if a < b and b > 3:
        return min(a, -b) + 2.5 * a
    return a / b if not b == 4 else b
"""


def test_every_kind_of_place_is_found_and_changed(tmp_path):
    path = tmp_path / "x.py"
    path.write_text(SOURCE)
    assert mutate.lines_of(path) == [3, 4, 5]
    seen = set()
    for seed in range(60):
        for line in (3, 4, 5):
            change = mutate.change_of(path, line, random.Random(seed))
            assert ast.dump(ast.parse(change.text)) != ast.dump(ast.parse(SOURCE))
            seen.add(change.words)
    assert {"Lt → GtE", "And → Or", "the other branch", "→ max", "without its minus", "Mult → Div"} <= seen
    assert {"2.5 → 2.75", "3 → 4", "without its not", "Eq → NotEq"} <= seen


def test_a_sample_is_the_same_every_time_and_takes_no_line_twice():
    one, two = (mutate.sample(12, 5) for _ in range(2))
    assert one == two and len({(c.path, c.line) for c in one}) == 12


@pytest.mark.parametrize(("figure", "seen"), [("2.0", True), ("1.0", False)])
def test_a_changed_line_is_seen_by_a_test_that_looks(tmp_path, monkeypatch, figure, seen):
    (tmp_path / "src").mkdir()
    module = tmp_path / "src" / "thing.py"
    module.write_text("def twice(x):\n    return 2.0 * x\n")
    looks = tmp_path / "test_thing.py"
    looks.write_text(f"from thing import twice\n\ndef test_it():\n    assert twice(1) >= {figure}\n")
    monkeypatch.setattr(mutate, "ROOT", tmp_path)
    worse = mutate.Change(module, 2, "", "def twice(x):\n    return 1.5 * x\n")
    room = tmp_path / "room"
    room.mkdir()
    assert mutate.outcome(worse, [str(looks)], room) == ("seen" if seen else "lives")
    assert (room / "src" / "thing.py").read_text() == module.read_text()  # it is as it was again


def test_what_counts_as_reached_is_the_statement_or_for_a_file_s_own_figures_all_of_its_tests(tmp_path):
    module = tmp_path / "thing.py"
    module.write_text("MOST = 7\n\ndef f(x):\n    return min(\n        x,\n        5,\n    )\n")
    figure, inner = (mutate.change_of(module, n, random.Random(1)) for n in (1, 6))
    assert (figure.begins, inner.begins) == (0, 4)
    reached = {
        "1": ["test_a.test_first"],
        "4": ["test_b.test_x", "test_a.test_first"],
        "5": ["test_c.test_y"],
    }
    assert set(mutate.tests_of(figure, reached)) == {"test_a.test_first", "test_b.test_x", "test_c.test_y"}
    assert mutate.tests_of(inner, reached) == ["test_b.test_x", "test_a.test_first"]
