"""How many small bugs the core's own tests catch: each is put in by a rule at a place that a seed chooses.

.venv/bin/python tests/mutations.py --count 60 --seed 1

Signs are swapped, bounds shifted by one, terms dropped, roundings changed, least and most exchanged. One run of
`tests/core` first writes down which tests come by which line. Each bug is put into a copy of the product, two at a
time, and the tests that came by its line are run against that, those first that come by little else: the others would
run as they did. What is reckoned while a file is imported meets all of them. What survives is printed.
"""

import argparse
import ast
import os
import queue
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple
from xml.etree import ElementTree

import pytest
from coverage import Coverage, CoverageData

ROOT = Path(__file__).parents[1]
CORE = Path("next_penny") / "core"
COMPARED = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">"}
SIGNS = {ast.Add: ("+", "-"), ast.Sub: ("-", "+")}
CALLS = {
    "min": "max",
    "max": "min",
    "round_half_up": "int",
    "bisect_right": "bisect_left",
    "bisect_left": "bisect_right",
}
# What is measured before the first test runs is nobody's.
IMPORTED = ""
EVERYTHING = "tests/core"
PYTEST = ["pytest", "-q", "-m", "not slow", "-n", "0", "-p", "no:cacheprovider"]
# As many as there are cores on a usual machine.
COPIES = 2
# A bug in what is only said, or that only makes it slower, is none that a figure would show.
PASSED_OVER = ("wording.py", "sentences.py", "notes.py", "defaults.py", "writing.py", "explain.py", "why.py")


class Bug(NamedTuple):
    """A text put in the place of another, at an offset in a file of the core."""

    file: Path
    line: int
    begin: int
    end: int
    text: str


def bugs_of(file: Path) -> Iterator[Bug]:
    source = (ROOT / "src" / file).read_text()
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line.encode()))
    raw = source.encode()

    def at(node: ast.expr, *, is_end: bool = False) -> int:
        line, column = (node.end_lineno, node.end_col_offset) if is_end else (node.lineno, node.col_offset)
        return starts[(line or 1) - 1] + (column or 0)

    for node in ast.walk(ast.parse(source)):
        match node:
            case ast.BinOp(left, op, right) if type(op) in SIGNS and not _is_text(left) and not _is_text(right):
                sign, other = SIGNS[type(op)]
                between = raw[at(left, is_end=True) : at(right)].decode()
                place = at(left, is_end=True) + between.index(sign)
                yield Bug(file, node.lineno, place, place + 1, other)
                yield Bug(file, node.lineno, at(left, is_end=True), at(node, is_end=True), " ")  # the term dropped
            case ast.Compare(left, [op], [right]) if type(op) in COMPARED:
                yield Bug(file, node.lineno, at(left, is_end=True), at(right), f" {COMPARED[type(op)]} ")
            case ast.Call(ast.Name(name)) if name in CALLS:
                yield Bug(file, node.lineno, at(node.func), at(node.func, is_end=True), CALLS[name])
            case ast.Call(_, [ast.BinOp(_, ast.Add() | ast.Sub(), ast.Constant(1)) as shifted]):
                yield Bug(file, node.lineno, at(shifted.left, is_end=True), at(shifted, is_end=True), "")


def _is_text(node: ast.expr) -> bool:
    return isinstance(node, ast.JoinedStr | ast.Tuple | ast.List) or (
        isinstance(node, ast.Constant) and isinstance(node.value, str)
    )


def chosen(count: int, seed: int) -> list[Bug]:
    files = sorted(file.relative_to(ROOT / "src") for file in (ROOT / "src" / CORE).rglob("*.py"))
    places = [bug for file in files if file.name not in PASSED_OVER for bug in bugs_of(file) if _still_reads(bug)]
    return random.Random(seed).sample(places, count)


def _still_reads(bug: Bug) -> bool:
    try:
        compile(_changed(bug), str(bug.file), "exec")
    except SyntaxError:
        return False
    return True


def _changed(bug: Bug) -> bytes:
    raw = (ROOT / "src" / bug.file).read_bytes()
    return raw[: bug.begin] + bug.text.encode() + raw[bug.end :]


class Passages(NamedTuple):
    """Which tests came by which line, as one run wrote it down, and how long (s) each took."""

    tests: dict[tuple[Path, int], set[str]]
    lines: Counter[str]
    seconds: Counter[str]

    def by(self, bug: Bug) -> list[str]:
        """The tests that come by a bug's statement; those that come by the fewest lines of the core first."""
        passing = {test for line in _statement(bug) for test in self.tests.get((bug.file, line), ())}
        if IMPORTED in passing:
            return [EVERYTHING]
        return sorted(passing, key=lambda test: (self.lines[test], test))


def _statement(bug: Bug) -> range:
    """The lines of the statement that a bug is in; of one with a body, its head."""
    tree = ast.parse((ROOT / "src" / bug.file).read_text())
    around = [
        node for node in ast.walk(tree) if isinstance(node, ast.stmt) and _head(node)[0] <= bug.line <= _head(node)[1]
    ]
    first, last = max(map(_head, around), default=(bug.line, bug.line))
    return range(first, last + 1)


def _head(node: ast.stmt) -> tuple[int, int]:
    body = getattr(node, "body", None)
    return node.lineno, body[0].lineno - 1 if body else node.end_lineno or node.lineno


def pytest_runtest_setup(item: pytest.Item) -> None:
    """What is measured from here on is this test's: this file is a plugin of the run that writes the passages down.

    What an earlier test left in a cache would keep this one from coming by where it was reckoned.
    """
    measuring = Coverage.current()
    assert measuring is not None
    for name, module in list(sys.modules.items()):
        if name.startswith("next_penny."):
            for thing in vars(module).values():
                getattr(thing, "cache_clear", int)()
    measuring.switch_context(item.nodeid.split("[", 1)[0])


def passages(place: Path) -> Passages:
    data, settings = place / "passages", place / "coverage.ini"
    settings.write_text(f"[run]\nsource_pkgs = next_penny.core\ndata_file = {data}\n")
    report = place / "report.xml"
    reporting = [f"--junitxml={report}", "-o", "junit_family=xunit1", "-p", "mutations"]
    measuring = ["-m", "coverage", "run", f"--rcfile={settings}", "-m", *PYTEST, *reporting, EVERYTHING]
    environment = _environment(ROOT / "src", place, "40")
    subprocess.run([sys.executable, *measuring], cwd=ROOT, env=environment, check=True)
    read = CoverageData(str(data))
    read.read()
    tests = {
        (Path(name).relative_to(ROOT / "src"), line): set(contexts)
        for name in read.measured_files()
        for line, contexts in read.contexts_by_lineno(name).items()
    }
    seconds: Counter[str] = Counter()
    for case in ElementTree.parse(report).iter("testcase"):
        seconds[f"{case.get('file')}::{case.get('name', '').split('[', 1)[0]}"] += float(case.get("time", 0))
    seconds[EVERYTHING] = sum(seconds.values())
    return Passages(tests, Counter(test for passing in tests.values() for test in passing), seconds)


def _environment(source: Path, place: Path, effort: str) -> dict[str, str]:
    """Without the examples that earlier bugs failed with: a bug must be found, not remembered."""
    storage = tempfile.mkdtemp(dir=place)
    return {
        **os.environ,
        "PYTHONPATH": f"{source}:{ROOT / 'tests'}",
        "NEXT_PENNY_EFFORT": effort,
        "NEXT_PENNY_SHRINKS": "no",
        "HYPOTHESIS_STORAGE_DIRECTORY": storage,
    }


def is_caught(bug: Bug, source: Path, seen: Passages) -> bool:
    file = source / bug.file
    kept = file.read_bytes()
    file.write_bytes(_changed(bug))
    tests = seen.by(bug)
    try:
        return bool(tests) and _run(tests, source, seen) != 0
    finally:
        file.write_bytes(kept)


def _run(tests: list[str], source: Path, seen: Passages) -> int:
    """pytest's exit status; 1 also where it does not end, which is noticed."""
    words = [sys.executable, "-m", *PYTEST, "-x", *tests]
    environment = _environment(source, source.parent, "100")
    usual = sum(seen.seconds[test] for test in tests)
    try:
        run = subprocess.run(words, cwd=ROOT, env=environment, capture_output=True, timeout=60 + 6 * usual, check=False)
    except subprocess.TimeoutExpired:
        return 1
    return run.returncode


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n", 1)[0])
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as place, ThreadPoolExecutor(COPIES) as both:
        seen = passages(Path(place))
        free: queue.Queue[Path] = queue.Queue()
        for number in range(COPIES):
            source = Path(place) / str(number) / "src"
            shutil.copytree(ROOT / "src", source, ignore=shutil.ignore_patterns("interface", "__pycache__"))
            free.put(source)

        def tried(bug: Bug) -> bool:
            source = free.get()
            try:
                return is_caught(bug, source, seen)
            finally:
                free.put(source)

        bugs = chosen(options.count, options.seed)
        caught = 0
        for number, (bug, is_one) in enumerate(zip(bugs, both.map(tried, bugs), strict=True), 1):
            caught += is_one
            line = (ROOT / "src" / bug.file).read_text().splitlines()[bug.line - 1].strip()
            print(
                f"{number:3} {'caught  ' if is_one else 'SURVIVED'} {bug.file}:{bug.line} {bug.text!r} in: {line}",
                flush=True,
            )
        print(f"{caught} of {options.count} caught")


if __name__ == "__main__":
    main()
