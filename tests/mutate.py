"""``./run mutate [N] [SEED]``: would a test see it?

A seeded sample of N lines of strength, loads, fit and geometry is changed, one line at a time and in one
place of it (a sign, a comparison, a figure, a branch), in a copy of the source; the tests that reach that
line are run on it.  A change that no test sees survives, and is named.  Which tests reach a line is found
once, by a run of them all under coverage, and kept for as long as no file changes.
"""

from __future__ import annotations

import ast
import hashlib
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PLACES = ("prove", "strength", "loads", "fit", "geometry")
TESTS = (
    "prove",
    "strength",
    "loads",
    "families",
    "pieces",
    "fit",
    "geometry",
    "assembly",
    "calc",
    "road",
    "stock",
)
MOST_TESTS = 60
"""So many tests are run on a change, those that reach the fewest lines first: they look at what they reach.
"""
PATIENCE_S = 240
EVERY = 20
SWAPS: dict[type[ast.AST], tuple[type[ast.AST], ...]] = {
    ast.Add: (ast.Sub,),
    ast.Sub: (ast.Add,),
    ast.Mult: (ast.Div,),
    ast.Div: (ast.Mult,),
    ast.Lt: (ast.GtE,),
    ast.LtE: (ast.Gt,),
    ast.Gt: (ast.LtE,),
    ast.GtE: (ast.Lt,),
    ast.Eq: (ast.NotEq,),
    ast.NotEq: (ast.Eq,),
    ast.And: (ast.Or,),
    ast.Or: (ast.And,),
}
CALLS = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "sin": "cos", "cos": "sin"}


@dataclass(frozen=True)
class Change:
    """One place in a file: its line, what it was and is, and the whole of the changed file.

    ``begins``: the line its statement begins in, which is the one that counts as reached; 0 for what is read
    when the file is imported, which every test of the file depends on.
    """

    path: Path
    line: int
    words: str
    text: str
    begins: int = 0


def _spots(tree: ast.AST) -> Iterator[tuple[ast.AST, str]]:
    """Every node that can be changed, and how."""
    for node in ast.walk(tree):
        if (isinstance(node, (ast.BinOp, ast.AugAssign)) and type(node.op) in SWAPS) or isinstance(
            node, ast.BoolOp
        ):
            yield node, "op"
        elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SWAPS:
            yield node, "compare"
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.Not)):
            yield node, "bare"
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float) and node.value not in (0, 1):
            yield node, "figure"
        elif isinstance(node, (ast.IfExp, ast.If)):
            yield node, "branch"
        elif isinstance(node, ast.Call) and getattr(node.func, "id", getattr(node.func, "attr", "")) in CALLS:
            yield node, "call"


def _changed(node: ast.AST, how: str) -> str:
    """Change a node in its tree; what was done, in words."""
    if how == "op":
        old = node.op  # type: ignore[attr-defined]
        node.op = SWAPS[type(old)][0]()  # type: ignore[attr-defined]
        return f"{type(old).__name__} → {type(node.op).__name__}"  # type: ignore[attr-defined]
    if how == "compare":
        assert isinstance(node, ast.Compare)
        old = node.ops[0]
        node.ops = [SWAPS[type(old)][0]()]  # type: ignore[list-item]
        return f"{type(old).__name__} → {type(node.ops[0]).__name__}"
    if how == "bare":
        assert isinstance(node, ast.UnaryOp)
        words = "without its minus" if isinstance(node.op, ast.USub) else "without its not"
        node.op = ast.UAdd()
        return words
    if how == "figure":
        assert isinstance(node, ast.Constant)
        old_value, new = node.value, node.value + 1 if isinstance(node.value, int) else 1.1 * node.value
        node.value = new
        return f"{old_value} → {new:g}"
    if how == "branch":
        assert isinstance(node, (ast.IfExp, ast.If))
        node.test = ast.copy_location(ast.UnaryOp(ast.Not(), node.test), node.test)
        return "the other branch"
    assert isinstance(node, ast.Call)
    if isinstance(node.func, ast.Name):
        node.func.id = CALLS[node.func.id]
        return f"→ {node.func.id}"
    assert isinstance(node.func, ast.Attribute)
    node.func.attr = CALLS[node.func.attr]
    return f"→ {node.func.attr}"


def lines_of(path: Path) -> list[int]:
    """The lines of a file that have something to change."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    return sorted({getattr(n, "lineno", 0) for n, _ in _spots(tree)} - {0})


def change_of(path: Path, line: int, rng: random.Random) -> Change:
    """One change of a line."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    spots = [s for s in _spots(tree) if getattr(s[0], "lineno", 0) == line]
    node, how = spots[rng.randrange(len(spots))]
    begins = _begins(tree, node)
    words = _changed(node, how)
    return Change(path, line, words, ast.unparse(ast.fix_missing_locations(tree)), begins)


def _begins(tree: ast.AST, node: ast.AST) -> int:
    """The line of the statement a node is in; 0 outside of every function."""
    above = {child: parent for parent in ast.walk(tree) for child in ast.iter_child_nodes(parent)}
    statement, at = 0, node
    while at in above:
        if isinstance(at, ast.stmt) and not statement:
            statement = at.lineno
        at = above[at]
        if isinstance(at, (ast.FunctionDef, ast.Lambda)):
            return statement or getattr(node, "lineno", 0)
    return 0


def tests_of(change: Change, by_line: dict[str, list[str]]) -> list[str]:
    """The tests that reach a change, the most telling first."""
    if not change.begins:
        every = Counter(t for tests in by_line.values() for t in tests)
        return [t for t, _ in every.most_common(MOST_TESTS)]
    lines = dict.fromkeys((str(change.line), str(change.begins)))
    return list(dict.fromkeys(t for n in lines for t in by_line.get(n, ())))[:MOST_TESTS]


def sample(count: int, seed: int) -> list[Change]:
    """So many changes over all places, each line once."""
    rng = random.Random(seed)
    files = [p for place in PLACES for p in sorted((ROOT / "src" / "urial" / place).rglob("*.py"))]
    every = [(path, line) for path in files for line in lines_of(path)]
    return [change_of(*spot, rng) for spot in rng.sample(every, min(count, len(every)))]


# ---- which tests reach a line


def _state() -> str:
    """What the source and the tests are, so that a map of them is not used for others."""
    digest = hashlib.sha256()
    for folder in (ROOT / "src" / "urial", ROOT / "tests"):
        for path in sorted(folder.rglob("*.py")):
            digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def reached() -> dict[str, dict[str, list[str]]]:
    """By file (from the source's folder) and line: the tests that reach it, the quickest first."""
    kept = ROOT / ".mutate" / f"{_state()}.json"
    if kept.exists():
        found: dict[str, dict[str, list[str]]] = json.loads(kept.read_text())
        return found
    kept.parent.mkdir(exist_ok=True)
    print("mutate: running the tests once under coverage…", flush=True)
    files = sorted(f for t in TESTS for f in (ROOT / "tests" / t).glob("test_*.py"))
    files.sort(key=lambda f: -f.stat().st_size)  # the long ones are shared out first
    lanes = max(os.cpu_count() or 1, 1)
    source = ",".join(str(ROOT / "src" / "urial" / p) for p in PLACES)
    running = []
    for n in range(lanes):
        data = kept.with_suffix(f".coverage{n}")
        env = {**os.environ, "COVERAGE_FILE": str(data), "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
        run = [sys.executable, "-m", "coverage", "run", f"--source={source}", f"--rcfile={_rc(kept.parent)}"]
        out = data.with_suffix(f".times{n}").open("w+")
        command = [*run, "-m", "pytest", "-q", "--durations=0", "-vv", *map(str, files[n::lanes])]
        running.append((subprocess.Popen(command, cwd=ROOT, env=env, stdout=out), data, out))
    found = {}
    for process, data, out in running:
        process.wait()
        out.seek(0)
        for name, rows in _map(data, _times(out.read())).items():
            mine = found.setdefault(name, {})
            for line, tests in rows.items():
                mine[line] = [*mine.get(line, []), *tests]
        out.close()
    kept.write_text(json.dumps(found))
    return found


def _rc(folder: Path) -> Path:
    path = folder / "coveragerc"
    path.write_text("[run]\ndynamic_context = test_function\n")
    return path


def _times(text: str) -> dict[str, float]:
    """Seconds by a test's function, of pytest's list of durations."""
    out: dict[str, float] = {}
    for row in text.splitlines():
        parts = row.split()
        if len(parts) == 3 and parts[1] == "call" and parts[0].endswith("s"):
            name = parts[2].split("[")[0].split("::")
            out[name[-1]] = out.get(name[-1], 0.0) + float(parts[0][:-1])
    return out


def _map(data: Path, seconds: dict[str, float]) -> dict[str, dict[str, list[str]]]:
    """By file and line, what reaches it; of tests that reach as few lines the quicker first."""
    import coverage

    cover = coverage.CoverageData(str(data))
    cover.read()
    by_file = {
        str(Path(name).relative_to(ROOT / "src")): cover.contexts_by_lineno(name)
        for name in cover.measured_files()
    }
    wide: Counter[str] = Counter(
        c for rows in by_file.values() for contexts in rows.values() for c in contexts
    )

    def telling(context: str) -> tuple[int, float]:
        return wide[context], seconds.get(context.rsplit(".", 1)[-1], 0.0)

    out: dict[str, dict[str, list[str]]] = {}
    for name, rows in by_file.items():
        whole = {c for contexts in rows.values() for c in contexts if c}
        out[name] = {  # what is only read when the file is imported is reached by all that use the file
            str(n): sorted({c for c in found if c} or whole, key=telling)[:MOST_TESTS]
            for n, found in rows.items()
        }
    return out


def node_ids(contexts: list[str]) -> list[str]:
    """What pytest is asked for, of contexts like ``test_bolts.test_prying``: no two files of tests are called
    alike.
    """
    out = []
    for context in contexts:
        module, _, name = context.rpartition(".")
        found = next((ROOT / "tests").rglob(f"{module.rpartition('.')[2]}.py"), None)
        if found is not None and name.startswith("test_"):
            out.append(f"{found}::{name}")
    return out


# ---- trying


def outcome(change: Change, tests: list[str], room: Path) -> str:
    """``lives`` where the tests that reach the line pass on the changed source, ``seen`` where one fails,
    ``no end`` where they do not come to one: a loop that the change made endless, or tests that are slow,
    which is for a person to tell.
    """
    source = room / "src"
    if not source.exists():
        shutil.copytree(ROOT / "src", source, ignore=shutil.ignore_patterns("__pycache__"))
    target = source / change.path.relative_to(ROOT / "src")
    before = target.read_bytes()
    target.write_text(change.text, encoding="utf-8")
    env = {**os.environ, "PYTHONPATH": f"{source}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-o", f"pythonpath={source} {ROOT}", *tests],
            cwd=ROOT,
            env=env,
            capture_output=True,
            timeout=PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return "no end"
    finally:
        target.write_bytes(before)
    return "lives" if done.returncode == 0 else "seen"


def main(count: int, seed: int) -> int:
    """Try a sample; prints every survivor and the score of each place.  0 when the scores are as asked."""
    by_line, chosen = reached(), sample(count, seed)
    killed: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    start = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="urial-mutate-") as room:
        rooms = [Path(room) / str(n) for n in range(max(os.cpu_count() or 1, 1))]
        for one in rooms:
            one.mkdir()

        def attempt(lane: int) -> None:
            for change in chosen[lane :: len(rooms)]:
                key = str(change.path.relative_to(ROOT / "src"))
                tests = node_ids(tests_of(change, by_line.get(key, {})))
                how = outcome(change, tests, rooms[lane]) if tests else "lives"
                place = change.path.relative_to(ROOT / "src" / "urial").parts[0]
                tried[place] += 1
                killed[place] += how != "lives"
                done = sum(tried.values())
                if done % EVERY == 0:
                    print(f"       {done} of {len(chosen)} tried, {sum(killed.values())} seen", flush=True)
                if how != "seen":
                    where = f"{change.path.relative_to(ROOT)}:{change.line}"
                    print(f"{how:6} {where}  {change.words}  ({len(tests)} tests)", flush=True)

        with ThreadPoolExecutor(len(rooms)) as pool:
            list(pool.map(attempt, range(len(rooms))))
    print(f"seed {seed}, {sum(tried.values())} changes in {time.monotonic() - start:.0f} s")
    for place in PLACES:
        if tried[place]:
            share = 100 * killed[place] / tried[place]
            print(f"{place:9} {killed[place]} of {tried[place]} seen, {share:.0f} %")
    wanted = {"strength": 0.9, "prove": 0.9}
    return int(any(killed[p] < wanted.get(p, 0.8) * tried[p] for p in PLACES))


if __name__ == "__main__":
    sys.exit(
        main(int(sys.argv[1]) if len(sys.argv) > 1 else 60, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    )
