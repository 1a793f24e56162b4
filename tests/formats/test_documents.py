"""Plan documents: what fields take, what they refuse, and that any household survives the way out and in."""

import json
import sys
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

sys.path.insert(0, str(Path(__file__).parent.parent / "core"))
from households import documents
from households import read as read_household
from random_loans import loans

from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.categories import Category
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.formats.documents.fields import Amount, Day, Id, Name, Percent, Text
from next_penny.formats.documents.loans import Loan
from next_penny.formats.documents.plan import PlanDocument, plan_document, plan_json

NOT_YET = {"savings": None, "card": None, "sweep": None, "loan": None}


def read(field: Any, value: object) -> Any:
    return TypeAdapter(field).validate_python(value)


def refuses(field: Any, value: object) -> str:
    with pytest.raises(ValidationError) as refusal:
        read(field, value)
    return str(refusal.value.errors()[0]["msg"])


@pytest.mark.parametrize("value", [12.0, "12", True, None, 10**12 + 1, -(10**13), [], {}])
def test_an_amount_is_a_whole_number_within_bounds(value: object) -> None:
    assert "amount" in refuses(Amount, value).lower()


@given(st.integers(-(10**12), 10**12))
def test_every_amount_within_bounds_is_read(value: int) -> None:
    assert read(Amount, value) == value


@pytest.mark.parametrize(
    "value", ["2027-3-1", "20270301", "2027-02-29", "2027-13-01", "1899-12-31", "2299-01-01", 738946, None]
)
def test_a_day_is_written_in_one_way(value: object) -> None:
    message = refuses(Day, value)
    assert message.endswith(".")
    assert message[0] in "WT“"


@given(st.dates(date(1900, 1, 1), date(2298, 12, 31)))
def test_every_day_of_four_centuries_is_read(day: date) -> None:
    assert read(Day, day.isoformat()) == day


@pytest.mark.parametrize(
    ("value", "read_as"), [("5.85", "5.85"), (5.85, "5.85"), (3, "3"), ("-0.10", "-0.10"), (" 7 ", "7")]
)
def test_a_rate_is_read_as_it_was_written(value: object, read_as: str) -> None:
    assert read(Percent, value) == Decimal(read_as)
    assert TypeAdapter(Percent).dump_json(read(Percent, value)) == f'"{read_as}"'.encode()


@pytest.mark.parametrize("value", ["five", "", "NaN", "Infinity", "1e99", True, None, "0.0000000000001"])
def test_what_is_no_rate_is_refused(value: object) -> None:
    assert refuses(Percent, value) == "Write a decimal number such as 5.85."


@pytest.mark.parametrize(("field", "value"), [(Name, "a\x00"), (Text, "\x00"), (Id, ""), (Id, "x" * 201), (Name, 5)])
def test_text_that_cannot_be_kept_is_refused(field: Any, value: object) -> None:
    assert refuses(field, value)


@given(documents(), st.sampled_from(["at_end", "evenly"]), st.sampled_from(["none", "forward"]), st.integers(0, 6))
def test_any_household_survives_the_way_out_and_in(
    household: dict[str, Any], timing: str, carry: str, week_starts: int
) -> None:
    plan, entries = read_household(household)
    allowance = Allowance(
        "food", "Food", 5, "a", "two_weeks", week_starts, ("food",), timing, carry, date(2027, 1, 1), None,  # type: ignore[arg-type]
        (LimitRevision(date(2028, 1, 1), 7),),
    )  # fmt: skip
    whole = Plan(plan.household, plan.accounts, (Category("food", "Food"),), plan.flows, (allowance,), plan.rates)
    written = plan_document(whole, entries).model_dump_json(by_alias=True)
    document = PlanDocument.model_validate_json(written)
    assert (document.to_core(), document.core_entries()) == (whole, entries)
    assert document.model_dump_json(by_alias=True) == written == plan_json(whole, entries)


def smallest(**more: Any) -> str:
    return json.dumps({"format": "next-penny-plan", "version": 1, "currency": "EUR", "accounts": [], **more})


def test_what_is_left_out_comes_out_with_its_default() -> None:
    account = {"id": "a", "name": "A", "kind": "cash", "opening": {"date": "2027-03-01", "balance": 0}, "floor": 300}
    flow = {"id": "f", "name": "F", "kind": "bill", "amount": 5}
    document = PlanDocument.model_validate_json(smallest(accounts=[account], flows=[flow]))
    told = json.loads(document.model_dump_json(by_alias=True))
    assert told["accounts"][0] == {**account, "currency": "EUR", "cushion": 300, "spendable": True, **NOT_YET}
    assert told["flows"][0] == {
        **flow, "category": None, "from_account": None, "to_account": None, "payee": "", "rules": [], "dates": [],
        "except": [], "start": None, "until": None, "count": None, "roll": "none", "seasonal": {}, "growth": None,
        "revisions": [], "changes": [], "splits": [], "estimate": False, "subscription": False, "remind_days": 3,
        "late_days": 0, "may_skip": False, "may_pause": False, "alarm_days": None,
        "notes": "",
    }  # fmt: skip


@pytest.mark.parametrize(
    ("more", "loc"),
    [
        ({"format": "other"}, ("format",)),
        ({"version": 0}, ("version",)),
        ({"version": "1.5"}, ("version",)),
        ({"past_due": "forget"}, ("past_due",)),
        ({"flows": [{"id": "f", "name": "F", "kind": "loan", "amount": 5}]}, ("flows", 0, "kind")),
        ({"flows": [{"id": "f", "name": "F", "kind": "bill", "amount": 5, "count": 0}]}, ("flows", 0, "count")),
        ({"flows": [{"id": "f", "name": "F", "kind": "bill", "amount": 5, "seasonal": {"13": 5}}]}, ("flows", 0, "seasonal")),
        ({"flows": [{"id": "f", "name": "F", "kind": "bill", "amount": 5, "rules": ["a\nb"]}]}, ("flows", 0, "rules")),
        ({"entries": [{"id": "e", "date": "2027-01-01", "legs": []}]}, ("entries", 0, "legs")),
        ({"allowances": [{"id": "l", "name": "L", "limit": 5, "account": "a", "week_starts": 1}]}, ("allowances", 0, "week_starts")),
        ({"rates": [{"date": "2027-01-01", "from": "EUR", "to": "USD"}]}, ("rates", 0, "rate")),
    ],
)  # fmt: skip
def test_a_document_of_another_shape_is_refused_where_it_differs(more: dict[str, Any], loc: tuple[Any, ...]) -> None:
    with pytest.raises(ValidationError) as refusal:
        PlanDocument.model_validate_json(smallest(**more))
    assert {tuple(error["loc"][: len(loc)]) for error in refusal.value.errors()} == {loc}


@given(loans())
def test_a_loan_comes_out_as_it_went_in(terms: LoanTerms) -> None:
    document = Loan.of(terms)
    written = document.model_dump_json(by_alias=True)
    assert Loan.model_validate_json(written).to_core() == terms
    assert Loan.model_validate_json(written).model_dump_json(by_alias=True) == written
