"""How many small bugs the core's own tests catch: each is put in by a rule at a place that a seed chooses.

.venv/bin/python tests/mutations.py --count 60 --seed 1

Signs are swapped, bounds shifted by one, terms dropped, roundings changed, least and most exchanged. Each bug is put
into a copy of the product, and `tests/core` is run against that until the first failure. What survives is printed.
"""

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

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


def is_caught(bug: Bug, folder: Path) -> bool:
    file = folder / bug.file
    kept = file.read_bytes()
    file.write_bytes(_changed(bug))
    words = [sys.executable, "-m", "pytest", "tests/core", "-x", "-q", "-m", "not slow", "-n", "2",
             "-p", "no:cacheprovider"]  # fmt: skip
    environment = {**os.environ, "PYTHONPATH": str(folder), "NEXT_PENNY_EFFORT": "40"}
    try:
        run = subprocess.run(words, cwd=ROOT, env=environment, capture_output=True, timeout=300, check=False)
    except subprocess.TimeoutExpired:
        return True  # what no longer ends is noticed
    finally:
        file.write_bytes(kept)
    return run.returncode != 0


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n", 1)[0])
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "src"
        shutil.copytree(ROOT / "src", folder, ignore=shutil.ignore_patterns("interface", "__pycache__"))
        caught = 0
        for number, bug in enumerate(chosen(options.count, options.seed), 1):
            is_one = is_caught(bug, folder)
            caught += is_one
            line = (ROOT / "src" / bug.file).read_text().splitlines()[bug.line - 1].strip()
            print(
                f"{number:3} {'caught  ' if is_one else 'SURVIVED'} {bug.file}:{bug.line} {bug.text!r} in: {line}",
                flush=True,
            )
        print(f"{caught} of {options.count} caught")


if __name__ == "__main__":
    main()
