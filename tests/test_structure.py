"""The core stays readable: a function fits on a screen, and no class holds more than one can keep in mind."""

import ast
import re
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import next_penny.core

CORE = Path(next_penny.core.__file__).parent
PRODUCT, WEB = CORE.parent, Path(__file__).parents[1] / "web" / "src"
ROOMS_OF_PARTS = (
    "core/accounts/",
    "core/plan/",
    "core/payoff/parts/",
    "formats/documents/",
    "store/sql/accounts.py",
    "demo/",
)
LONGEST_FILE, MOST_FILES = 300, 15
LONGEST_FUNCTION = 40
MOST_ATTRIBUTES = 12
# What a household writes down has as many fields as it has: these are the plan document's own.
DOCUMENTS = CORE / "plan"


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
        if DOCUMENTS not in file.parents
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef) and len(attributes(node)) > MOST_ATTRIBUTES
    ]
    assert large == []


def test_outside_the_plan_and_its_maker_nobody_asks_for_a_loans_payment() -> None:
    asking = {str(file.relative_to(CORE)) for file, _ in parsed() if '"loan_payment"' in file.read_text()}
    assert {file for file in asking if not file.startswith(("plan/", "checks/"))} == set()


def test_what_an_account_does_over_balances_is_asked_of_its_part() -> None:
    """Cards and loans are also questions of the household's own (its debts); savings and sweeps are nobody's."""
    asking = re.compile(r"\.(savings|sweep)\b(?! import)")
    outside = [
        str(file.relative_to(PRODUCT)) for file in PRODUCT.rglob("*.py")
        if asking.search(file.read_text()) and not str(file.relative_to(PRODUCT)).startswith(ROOMS_OF_PARTS)
    ]  # fmt: skip
    assert outside == []
    # What a debt is to the way out, its part there says.
    way_out = [file.name for file in (CORE / "payoff").glob("*.py") if re.search(r"\.(card|loan)\b", file.read_text())]
    assert way_out == []


def test_no_file_is_long_and_no_folder_full() -> None:
    files = [
        *(file for file in PRODUCT.rglob("*.py")),
        *(file for kind in ("ts", "tsx") for file in WEB.rglob(f"*.{kind}") if file.name != "schema.d.ts"),
    ]
    assert [str(file) for file in files if file.read_text().count("\n") > LONGEST_FILE] == []
    folders = Counter(file.parent for file in files)
    assert {str(folder): count for folder, count in folders.items() if count > MOST_FILES} == {}
