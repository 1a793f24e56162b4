"""A bank's statement ticked off, and its interest counted anew, against sums by hand (RULES §8, §17)."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal, localcontext
from fractions import Fraction
from itertools import product

import pytest
from households import TODAY
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from seen import seen

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.books.registers import RegisterLine, Wanted, lines_of, matching, register, together
from next_penny.core.checks.statements import ticked_problems
from next_penny.core.dates.calendar import add_months
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.account_statements import AccountStatement
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import ADJUSTMENTS
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.problems import PlanError
from next_penny.core.reconciling.interest import (
    Counted,
    Movement,
    Statement,
    average_balance,
    by_day,
    check_statement,
    counted,
    credited_months,
    otherwise,
    yield_earned,
)
from next_penny.core.reconciling.readings import balance_on
from next_penny.core.reconciling.statements import Reconciling, finished, opened, proposed, ticked
from next_penny.core.reconciling.statements import check_statement as check_account_statement

FIRST = date(2027, 1, 30)
ways = st.fixed_dictionaries({"apy": st.just(Decimal("4.2")), "rate": st.none()}) | st.fixed_dictionaries(
    {"apy": st.none(), "rate": st.sampled_from([Decimal(0), Decimal("3.65"), Decimal(12)])}
)


@st.composite
def statements(draw: st.DrawFn) -> Statement:
    days = draw(st.integers(0, 40))
    moves = draw(st.lists(st.tuples(st.integers(0, days), st.integers(-900_00, 2_000_00)), max_size=4))
    movements = tuple(Movement(FIRST + timedelta(days=ahead), amount) for ahead, amount in sorted(moves))
    last = FIRST + timedelta(days=days)
    return Statement(FIRST, last, draw(st.integers(-100_00, 9_000_00)), movements, draw(st.integers(0, 40_00)),
                     **draw(ways))  # fmt: skip


def balances(statement: Statement, later: int) -> list[tuple[date, int]]:
    """What earns on each day: its end, or its start where money earns from the next day on."""
    days = [statement.first + timedelta(days=ahead) for ahead in range((statement.last - statement.first).days + 1)]
    moved = [(each.date + timedelta(days=later), each.amount) for each in statement.movements]
    return [(day, statement.opening + sum(amount for on, amount in moved if on <= day)) for day in days]


def earned(statement: Statement, terms: SavingsTerms) -> int:
    """Day by day, with digits enough."""
    with localcontext() as context:
        context.prec = 80
        total, each_day = Decimal(0), terms.rounding == "daily"
        for day, balance in balances(statement, int(terms.movements_earn == "next_day")):
            year = 366 if day.year % 4 == 0 else 365
            days = Decimal(year if terms.basis == "actual" else int(terms.basis))
            grown = (
                (1 + terms.apy / 100) ** (1 / days)
                if terms.apy is not None
                else 1 + (terms.rate or Decimal(0)) / 100 / days
            )
            interest = (max(0, balance) + (total if terms.compounding == "daily" else 0)) * (grown - 1)
            total += half_up(Fraction(interest)) if each_day else interest
        # A half but for the last of so many digits is a half.
        return half_up(Fraction(total.quantize(Decimal("1e-40"))))


@given(statements())
@settings(max_examples=examples(150))
def test_every_way_of_counting_is_as_a_day_by_day_sum(statement: Statement) -> None:
    usual = product(("365", "actual", "360"), ("daily", "none"), ("same_day", "next_day"), ("at_credit", "daily"))
    terms = [SavingsTerms(statement.apy, statement.rate, *way) for way in usual]
    sums = [earned(statement, each) for each in terms]
    wanted = [Counted(each, sum_, statement.credited - sum_) for each, sum_ in zip(terms, sums, strict=True)]
    assert counted(statement) == sorted(wanted, key=lambda count: abs(count.difference))
    nearest = counted(statement)[0]
    rows = by_day(statement, nearest.terms)
    held = balances(statement, int(nearest.terms.movements_earn == "next_day"))
    assert [(day, base) for day, base, _ in rows] == [(day, max(0, balance)) for day, balance in held]
    assert abs(sum(part for _, _, part in rows) - nearest.interest) <= Decimal("0.5") + len(rows) * Decimal("0.005")
    average = Fraction(sum(balance for _, balance in balances(statement, 0)), len(held))
    assert abs(Fraction(average_balance(statement)) - average) < Fraction(1, 10**30)
    found = yield_earned(statement)
    # None on nothing, and beyond sense: a twenty-fifth in one day is a yield of more than a million percent.
    assert found is None if average <= 0 else found is not None or 25 * statement.credited > average
    if found is not None and found < 1000:
        assert float(found) == pytest.approx(100 * ((1 + statement.credited / float(average)) ** (365 / len(held)) - 1),
                                             abs=0.0051)  # fmt: skip


@given(statements(), st.data())
@settings(max_examples=examples(150))
def test_a_movement_a_day_later_or_one_that_is_missing_explains_what_was_paid(
    statement: Statement, data: st.DataObject
) -> None:
    terms = data.draw(st.sampled_from([count.terms for count in counted(statement)]))
    moves = statement.movements
    if data.draw(st.booleans()) or not moves:
        true = (*moves, Movement(statement.first, data.draw(st.integers(-5_000_00, 5_000_00))))
    else:
        at = data.draw(st.integers(0, len(moves) - 1))
        true = (*moves[:at], replace(moves[at], date=moves[at].date + timedelta(days=1)), *moves[at + 1 :])
    statement = replace(statement, credited=earned(replace(statement, movements=true), terms))
    counts = counted(statement)
    found = otherwise(statement, counts)
    if abs(counts[0].difference) <= 1:
        assert found == []
        return
    for each in found:
        place = next((at for at, movement in enumerate(moves) if movement == each.movement), None)
        if each.is_missing:
            changed = (*moves, each.movement)
        else:
            assert place is not None
            later = replace(each.movement, date=each.movement.date + timedelta(days=1))
            changed = (*moves[:place], later, *moves[place + 1 :])
        inside = replace(statement, movements=tuple(one for one in changed if one.date <= statement.last))
        assert statement.credited in [earned(inside, count.terms) for count in counts]
    assert len({each.is_missing for each in found}) == len(found)


@pytest.mark.parametrize(
    ("changed", "loc"),
    [
        ({"last": FIRST - timedelta(days=1)}, ("to",)), ({"last": FIRST + timedelta(days=4_000)}, ("to",)),
        ({"apy": None}, ("apy",)), ({"rate": Decimal(1)}, ("apy",)), ({"apy": Decimal(101)}, ("apy",)),
        ({"movements": (Movement(FIRST - timedelta(days=1), 5),)}, ("movements", 0, "date")),
    ],
)  # fmt: skip
def test_a_stretch_that_cannot_be_counted_is_refused(changed: dict[str, object], loc: tuple[str | int, ...]) -> None:
    good = Statement(FIRST, FIRST + timedelta(days=3_999), 0, (Movement(FIRST, 5),), 0, Decimal(100))
    check_statement(good)
    with pytest.raises(PlanError) as refused:
        check_statement(replace(good, **changed))  # type: ignore[arg-type]
    assert refused.value.problems[0].loc == loc


@st.composite
def recorded(draw: st.DrawFn) -> list[Entry]:
    """Entries of the account `a`, in order of day; some are interest."""
    days = sorted(draw(st.lists(st.integers(0, 90), max_size=8)))
    rows = [(date(2026, 12, 1) + timedelta(days=ahead), draw(st.integers(-50_00, 90_00)), draw(st.booleans()))
            for ahead in days]  # fmt: skip
    return [
        Entry(f"e{at}", day, f"Payee {at % 3}", (Leg(amount, "a"), Leg(-amount, category="c")),
              flow=interest_id("a") if is_interest else None, nominal=day if is_interest else None)
        for at, (day, amount, is_interest) in enumerate(rows)
    ]  # fmt: skip


def household(entries: list[Entry], *kept: AccountStatement) -> tuple[Account, Moment, list[RegisterLine]]:
    account = Account("a", "Everyday", "savings", "USD", Opening(date(2026, 12, 1), 300_00),
                      savings=SavingsTerms(rate=Decimal(6)))  # fmt: skip
    moment = seen(Plan(Household(), (account,), statements=kept), entries, TODAY)
    return account, moment, register(moment, account, lines_of(entries, account))


@given(recorded(), st.data())
@settings(max_examples=examples(200))
def test_a_statement_is_even_where_what_is_ticked_comes_to_its_closing(
    entries: list[Entry], data: st.DataObject
) -> None:
    ends = data.draw(st.sampled_from([date(2026, 12, 31), date(2027, 1, 15), date(2027, 2, 28)]))
    begins = data.draw(st.sampled_from([date(2026, 12, 1), date(2026, 12, 20)]))
    mine, others = set[str](), set[str]()
    for entry in entries:
        if begins <= entry.date <= ends:
            data.draw(st.sampled_from([mine, others, set()])).add(entry.id)
    by_id = {entry.id: entry for entry in entries}
    opening = 300_00 + sum(entry.legs[0].amount for entry in entries if entry.date < begins)
    closing = opening + data.draw(st.integers(-20_00, 20_00))
    other = AccountStatement("two", "a", begins, ends, 0, 0, tuple(sorted(others)))
    open_one = AccountStatement("one", "a", begins, ends, opening, closing, tuple(sorted(mine)))
    account, moment, lines = household(entries, open_one, other)
    reconciling = Reconciling(moment.plan, "a", lines)
    standing = reconciling.standing(open_one)
    free = [entry for entry in entries if begins <= entry.date <= ends and entry.id not in mine | others]
    assert (standing.ticked, standing.missing) == (
        len(mine), closing - opening - sum(by_id[id].legs[0].amount for id in mine))  # fmt: skip
    assert (standing.outstanding, standing.outstanding_sum) == (len(free), sum(e.legs[0].amount for e in free))
    listed = {line.entry for line in reconciling.lines_for(open_one)}
    assert listed == mine | {entry.id for entry in free}
    for day in (begins, ends, TODAY):
        held = 300_00 + sum(entry.legs[0].amount for entry in entries if entry.date <= day)
        assert balance_on(account, lines, day) == held
    (change,) = ticked(moment, open_one, sorted(listed), lines)
    assert isinstance(change.item, AccountStatement)
    assert change.item.entries == tuple(sorted(listed))
    for wrong in (others, {entry.id for entry in entries if entry.date > ends}, {"nothing"}):
        if wrong:
            with pytest.raises(PlanError):
                ticked(moment, open_one, sorted(wrong), lines)
    # Finished with what is missing booked on its last day; the next one begins the day after, with what it closed with.
    if standing.missing:
        with pytest.raises(PlanError):
            finished(moment.plan, open_one, standing.missing, TODAY, adjust=False)
    done = finished(replace(moment.plan, statements=(open_one,)), open_one, standing.missing, TODAY, adjust=True)
    final = done[-1].item
    assert isinstance(final, AccountStatement)
    booked = [change.item for change in done if isinstance(change.item, Entry)]
    legs = [{leg.account or leg.category: leg.amount for leg in entry.legs} for entry in booked]
    assert legs == ([{"a": standing.missing, ADJUSTMENTS.id: -standing.missing}] if standing.missing else [])
    assert (final.finished, len(final.entries)) == (TODAY, len(mine) + len(booked))
    plan = replace(moment.plan, statements=(final,))
    then = proposed(plan, account, lines, TODAY)
    month = add_months(ends + timedelta(days=1), 1) - timedelta(days=1)
    assert (then.first, then.last, then.opening) == (
        min(ends + timedelta(days=1), TODAY), min(month, TODAY), closing)  # fmt: skip
    assert opened(plan, final)[0].item == replace(final, finished=None)
    with pytest.raises(PlanError):
        opened(plan, open_one)


@given(recorded())
def test_the_first_statement_is_of_the_last_whole_month(entries: list[Entry]) -> None:
    account, moment, lines = household(entries)
    first = proposed(moment.plan, account, lines, TODAY)
    before = 300_00 + sum(entry.legs[0].amount for entry in entries if entry.date < date(2027, 2, 1))
    assert (first.first, first.last, first.opening) == (date(2027, 2, 1), date(2027, 2, 28), before)
    young = replace(account, opening=Opening(date(2027, 2, 9), 70_00))
    first = proposed(moment.plan, young, [], TODAY)
    assert (first.first, first.last, first.opening) == (date(2027, 2, 9), TODAY, 70_00)


@given(recorded())
@settings(max_examples=examples(150))
def test_months_with_a_credit_are_statements_of_what_else_moved(entries: list[Entry]) -> None:
    account, moment, lines = household(entries)
    assert account.savings is not None
    months = credited_months(account, account.savings, lines, TODAY, 9)
    wanted = []
    for year, month in ((2027, 3), (2027, 2), (2027, 1), (2026, 12)):
        inside = [entry for entry in entries if (entry.date.year, entry.date.month) == (year, month)]
        credits = [entry.legs[0].amount for entry in inside if entry.flow]
        if credits:
            before = sum(entry.legs[0].amount for entry in entries if entry.date < date(year, month, 1))
            moves = [(entry.date, entry.legs[0].amount) for entry in inside if not entry.flow]
            wanted.append((date(year, month, 1), 300_00 + before, sorted(moves), sum(credits)))
    found = [each.statement for each in months]
    assert [(each.first, each.opening, sorted((move.date, move.amount) for move in each.movements), each.credited)
            for each in found] == wanted  # fmt: skip
    assert [each.own for each in months] == [earned(each, account.savings) for each in found]
    # Newest first, and found by any of its words, its category and its days.
    assert [line.day for line in lines] == sorted((line.day for line in lines), reverse=True)
    one = Wanted("yee 1", "c", date(2026, 12, 15), date(2027, 2, 15))
    assert {line.entry for line in matching(moment, lines, one)} == {
        entry.id for entry in entries if entry.payee == "Payee 1" and date(2026, 12, 15) <= entry.date <= date(2027, 2, 15)
    }  # fmt: skip
    both = together([(account, lines), (account, lines)])
    assert [row.line.day for row in both] == sorted((line.day for line in [*lines, *lines]), reverse=True)


def test_a_statement_follows_the_one_that_is_finished() -> None:
    account = Account("a", "A", "checking", "USD", Opening(FIRST, 5_00))
    done = AccountStatement("one", "a", FIRST, date(2027, 2, 10), 5_00, 5_00, finished=TODAY)
    plan = Plan(Household(), (account,), statements=(done,))

    def refused_at(**changed: object) -> str | None:
        two = AccountStatement("two", "a", date(2027, 2, 11), date(2027, 2, 28), 5_00, 9_00)
        try:
            check_account_statement(plan, replace(two, **changed), TODAY)  # type: ignore[arg-type]
        except PlanError as error:
            return str(error.problems[0].loc[0])
        return None

    assert refused_at() is None
    assert refused_at(opening=5_01) == "opening"
    assert refused_at(last=date(2027, 2, 10)) == "to"
    assert refused_at(last=date(2027, 2, 9), first=FIRST) == "to"
    assert refused_at(last=TODAY) is None
    assert refused_at(last=TODAY + timedelta(days=1)) == "to"
    assert refused_at(first=FIRST) is None
    assert refused_at(first=FIRST - timedelta(days=1)) == "from"
    assert refused_at(first=date(2027, 3, 1)) == "to"


@pytest.mark.parametrize(("closing", "ticks", "field"), [(9_00, ("e",), None), (9_01, ("e",), "closing"),
                                                         (5_00, (), None), (9_00, (), "closing")])  # fmt: skip
def test_a_finished_statement_of_a_document_is_even(closing: int, ticks: tuple[str, ...], field: str | None) -> None:
    account = Account("a", "A", "checking", "USD", Opening(FIRST, 5_00))
    done = AccountStatement("one", "a", FIRST, date(2027, 2, 10), 5_00, closing, ticks, finished=TODAY)
    entry = Entry("e", date(2027, 2, 10), "P", (Leg(4_00, account="a"), Leg(-4_00, category="pay")))
    plan = Plan(Household(), (account,), statements=(done,))
    assert [problem.loc for problem in ticked_problems(plan, [entry])] == ([("statements", 0, field)] if field else [])
    late = replace(entry, date=date(2027, 2, 11))
    assert [problem.loc for problem in ticked_problems(plan, [late])][: len(ticks)] == [
        ("statements", 0, "entries", 0)
    ] * len(ticks)
