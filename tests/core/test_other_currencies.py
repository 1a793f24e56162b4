"""Money of one currency paid from an account in another, against sums by hand (RULES §3, §4, §14)."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest
from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from reviewed_households import Remembers
from seen import of, seen

from effort import examples
from next_penny.core.ahead.year_list import year_list
from next_penny.core.books.books import Books
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.flows.allowances import status
from next_penny.core.flows.setting_aside import SavingWish, propose
from next_penny.core.forecast.projection import project
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError
from next_penny.core.review.forward.proposals import proposals
from next_penny.core.review.occurrences import occurrences_over

OPENED = date(2026, 10, 1)
DUE = [date(2026, 11, 5), date(2026, 12, 5), date(2027, 1, 5), date(2027, 2, 5)]
# One dollar in minor units of the other currency, by the day from which that is so; and the exponent of its units.
RATES = {"EUR": {iso(OPENED): "0.8", "2027-01-01": "0.75"}, "JPY": {iso(OPENED): "151.3", "2027-02-01": "149"}}
UNITS = {"EUR": 1, "JPY": Fraction(1, 100)}
sums = st.integers(1, 900_00)


def household(other: str, amount: int, *, rates: bool = True, kind: str = "bill") -> Document:
    ends = {"bill": {"from_account": "a"}, "income": {"to_account": "a"},
            "transfer": {"from_account": "a", "to_account": "b"}}[kind]  # fmt: skip
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "accounts": [{"id": id, "name": id, "kind": "checking", "currency": currency,
                      "opening": {"date": iso(OPENED), "balance": 1_000_00}}
                     for id, currency in (("a", "USD"), ("b", "USD"), ("y", other))],
        "categories": [{"id": "food", "name": "Food", "kind": "expense"}],
        "allowances": [{"id": "eat", "name": "Eating", "limit": 5_000_00, "account": "a", "period": "month",
                        "categories": ["food"]}] if kind == "bill" else [],
        "flows": [{"id": "f", "name": "Rent", "kind": kind, "amount": amount, **ends,
                   "category": "food" if kind == "bill" else None, "dates": [*map(iso, DUE), iso(TODAY)]}],
        "rates": [{"date": day, "from": "USD", "to": other, "rate": rate} for day, rate in RATES[other].items()]
                 if rates else [],
    }  # fmt: skip


def rate_on(other: str, day: date) -> Fraction:
    return Fraction([rate for since, rate in RATES[other].items() if since <= iso(day)][-1]) * UNITS[other]


def in_other(other: str, dollars: int, day: date) -> int:
    return half_up(dollars * rate_on(other, day))


def in_dollars(other: str, amount: int, day: date) -> int:
    return half_up(amount / rate_on(other, day))


def paid(plan: Plan, books: Books, id: str, nominal: date, **how: object) -> tuple[Plan, Books, Entry]:
    changes = settle(of(plan, books, TODAY), Settlement(id, "f", nominal, account="y", **how))  # type: ignore[arg-type]
    (entry,) = [change.item for change in changes if isinstance(change.item, Entry)]
    return apply(plan, changes), apply_to_books(books, changes, lambda _: None, TODAY), entry


def below(plan: Plan, books: Books) -> int:
    """What leaves the dollars of the first account from today on."""
    (run,) = [run for run in project(of(plan, books, TODAY), TODAY).runs if run.account.id == "a"]
    return 1_000_00 - int(run.balances[-1])


@given(st.sampled_from(sorted(RATES)), sums, st.sampled_from(DUE), st.integers(0, 20), st.booleans(), st.data())
@settings(max_examples=examples(200))
def test_a_bill_paid_in_another_currency_is_what_was_expected_at_the_rate_of_the_day(
    other: str, amount: int, nominal: date, late: int, in_part: bool, data: st.DataObject
) -> None:
    plan, _ = read(household(other, amount))
    day = nominal + timedelta(days=late)
    whole = in_other(other, amount, day)
    given_sum = data.draw(st.integers(1, max(1, 2 * whole))) if in_part else None
    covers = in_dollars(other, whole if given_sum is None else given_sum, day)
    before = below(plan, Books())
    if in_part and not 0 < covers < amount:
        with pytest.raises(PlanError, match="A part is more than nothing and less than"):
            paid(plan, Books(), "e", nominal, amount=given_sum, day=day, is_part=True)
        return
    plan, books, entry = paid(plan, Books(), "e", nominal, amount=given_sum, day=day, is_part=in_part)
    sum_paid = whole if given_sum is None else given_sum
    assert [(leg.account, leg.amount) for leg in entry.legs if leg.account] == [("y", -sum_paid)]
    assert sum(leg.amount for leg in entry.legs) == 0
    # The rest stays due, in dollars: a bill of 100 of which 40 euros were paid at 0.8 has 50 left.
    assert before - below(plan, books) == (covers if in_part else amount)
    # The year has what was paid and what is still to pay in the bill's own currency.
    (row,) = year_list(of(plan, books, TODAY), nominal.year).rows
    assert row.months[nominal.month - 1].amount == (amount - covers if in_part else covers)
    rows = occurrences_over(seen(plan, [entry], TODAY), Remembers([entry]), nominal, nominal)  # type: ignore[arg-type]
    (became,) = rows
    expected = amount - covers if in_part else amount
    assert (became.account, became.expected) == ("y", -in_other(other, expected, nominal))
    assert became.actual == -sum_paid


@given(st.sampled_from(sorted(RATES)), st.lists(st.tuples(st.sampled_from(["a", "b", "y"]), st.integers(-50_00, 90_00),
       st.integers(0, 40)), max_size=6), st.booleans())  # fmt: skip
@settings(max_examples=examples(200))
def test_what_is_used_of_an_allowance_counts_at_the_rate_of_its_day(
    other: str, spent: list[tuple[str, int, int]], has_rates: bool
) -> None:
    document = household(other, 1, rates=has_rates)
    document["entries"] = [
        {"id": f"e{number}", "date": iso(TODAY - timedelta(days=back - 5)), "payee": "", "flow": None, "nominal": None,
         "legs": [{"account": account, "amount": -amount}, {"category": "food", "amount": amount}]}
        for number, (account, amount, back) in enumerate(spent)
    ]  # fmt: skip
    plan, recorded = read(document)
    used = later = 0
    for account, amount, back in spent:
        day = TODAY - timedelta(days=back - 5)
        counted = amount if account != "y" else in_dollars(other, amount, day) if has_rates else 0
        used += counted if day == TODAY else 0
        later += counted if day > TODAY else 0
    stands = status(seen(plan, recorded, TODAY), plan.allowances[0])
    assert stands is not None
    # What is due and past due is of the bill of a cent on five days.
    assert (stands.period.used, stands.period.committed) == (used, later + 5)


@pytest.mark.parametrize("kind", ["bill", "income", "transfer"])
def test_paid_as_expected_in_another_currency_nothing_else_is_proposed(kind: str) -> None:
    plan, _ = read(household("EUR", 100_00, kind=kind))
    books, entries = Books(), []
    for nominal in DUE:
        plan, books, entry = paid(plan, books, iso(nominal), nominal)
        entries.append(entry)
        rate = rate_on("EUR", nominal)
        there = half_up(100_00 * rate) * (1 if kind == "income" else -1)
        assert next(leg for leg in entry.legs if leg.account == "y").amount == there
        if kind == "transfer":
            assert next(leg for leg in entry.legs if leg.account == "b").amount == 100_00
    assert proposals(seen(plan, entries, TODAY), Remembers(entries)) == []  # type: ignore[arg-type]


def test_for_a_bill_money_is_set_aside_in_its_currency() -> None:
    plan, _ = read(household("EUR", 100_00))
    abroad = replace(plan.flows[0], id="abroad", from_account="y")
    plan = replace(plan, flows=(*plan.flows, abroad))
    with pytest.raises(PlanError, match="“Rent” is in EUR: choose accounts in EUR") as error:
        propose(of(plan, Books(), TODAY), SavingWish("w", "a", "b", "abroad"))
    assert [problem.loc for problem in error.value.problems] == [("from_account",)]


def test_without_a_rate_it_is_refused_at_the_account() -> None:
    plan, _ = read(household("EUR", 100_00, rates=False))
    with pytest.raises(PlanError, match="no exchange rate from USD to EUR") as error:
        paid(plan, Books(), "e", DUE[0])
    assert [problem.loc for problem in error.value.problems] == [("account",)]
