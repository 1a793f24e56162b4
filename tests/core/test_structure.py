"""The core stays readable: a function fits on a screen, and no class holds more than one can keep in mind."""

import ast
from collections.abc import Iterator
from pathlib import Path

import next_penny.core

CORE = Path(next_penny.core.__file__).parent
LONGEST_FUNCTION = 40
MOST_ATTRIBUTES = 12
# What a household writes down has as many fields as it has: these are the plan document's own.
DOCUMENTS = {"plan.py", "loan_terms.py", "balance_terms.py"}


def parsed() -> Iterator[tuple[Path, ast.Module]]:
    for file in sorted(CORE.rglob("*.py")):
        yield file, ast.parse(file.read_text())


def test_every_function_fits_on_a_screen() -> None:
    long = [
        f"{file.name}:{node.name}"
        for file, tree in parsed()
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef) and (node.end_lineno or 0) - node.lineno + 1 > LONGEST_FUNCTION
    ]
    assert long == []


def attributes(node: ast.ClassDef) -> set[str]:
    """The fields of a record, and what methods set on themselves."""
    fields = {
        item.target.id for item in node.body if isinstance(item, ast.AnnAssign) and isinstance(item.target, ast.Name)
    }
    stored = {
        each.attr
        for each in ast.walk(node)
        if isinstance(each, ast.Attribute) and isinstance(each.ctx, ast.Store)
        and isinstance(each.value, ast.Name) and each.value.id == "self"
    }  # fmt: skip
    return fields | stored


def test_no_class_holds_too_much() -> None:
    large = [
        f"{file.name}:{node.name} ({len(attributes(node))})"
        for file, tree in parsed()
        if file.name not in DOCUMENTS
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef) and len(attributes(node)) > MOST_ATTRIBUTES
    ]
    assert large == []


def test_outside_the_plan_and_its_maker_nobody_asks_for_a_loans_payment() -> None:
    asking = {file.name for file, _ in parsed() if '"loan_payment"' in file.read_text()}
    assert asking == {"plan.py", "check.py"}
