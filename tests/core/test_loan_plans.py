"""A household's loans over their life: paid as planned they end, alternatives come true, and every sum adds up."""

import re
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from loans_followed import LONG_AGO, coming, household, plain_loans, short_loans, standing_of, stands_after
from seen import of

from effort import examples
from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.edits.settling.settle import Settlement, leave_out, settle
from next_penny.core.flows.makers import past_due
from next_penny.core.forecast.projection import project
from next_penny.core.loans.overview import debt_free, overview
from next_penny.core.loans.schedule import insured_payments, schedule
from next_penny.core.loans.standing import standing
from next_penny.core.loans.why import why
from next_penny.core.money import round_half_up
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.household import Household, PastDue
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import PAYMENTS_PER_YEAR, DatedAmount, Insurance, LoanTerms


@pytest.mark.parametrize(("flow_since", "loan_since", "first"), [
    (None, None, (2, 1)), (date(2027, 3, 15), None, (4, 1)), (None, date(2027, 3, 15), (4, 1)),
    (date(2027, 3, 15), date(2027, 4, 15), (5, 1)), (date(2027, 4, 15), date(2027, 3, 15), (5, 1)),
])  # fmt: skip
def test_a_payment_is_due_since_both_it_and_its_loan_are_known(
    flow_since: date | None, loan_since: date | None, first: tuple[int, int]
) -> None:
    plan = household(LoanTerms(12_000_00, Decimal(6), date(2027, 1, 1), date(2027, 2, 1), 24))
    flow = plan.loan_flow("loan")
    assert flow is not None
    loan = replace(plan.account_by_id["loan"], known_since=loan_since)
    known = replace(plan, accounts=(plan.accounts[0], loan), flows=(replace(flow, known_since=flow_since),))
    rows = past_due(of(known, Books(), date(2027, 6, 20)), known.flows[0])
    assert date.fromordinal(rows.nominal[0]) == date(2027, *first)


@given(short_loans, st.data())
@settings(max_examples=examples(80))
def test_settling_each_payment_as_planned_changes_nothing_to_come_and_ends_the_debt(
    terms: LoanTerms, data: st.DataObject
) -> None:
    plan = household(terms)
    planned = standing_of(plan, Books(), terms.disbursed)
    until = planned.agreed.paid_off + timedelta(days=40)
    before = project(of(plan, Books(), terms.disbursed), until)
    settled_plan, books, *_ = stands_after(plan, terms, data.draw(st.integers(0, len(planned.parts) + 1)))
    after = project(of(settled_plan, books, terms.disbursed), until)
    assert [run.levels for run in after.runs] == [run.levels for run in before.runs]
    whole_plan, whole, today, ended = stands_after(plan, terms, len(planned.parts) + 1)
    assert (ended.owed, ended.rest, debt_free(of(whole_plan, whole, today))) == (0, None, None)
    paid = [leg.amount for entry in whole.ahead for leg in entry.legs if leg.account == "a"]
    assert -sum(paid) == sum(parts.total for parts in planned.parts.values())


@given(short_loans.filter(lambda terms: len(schedule(terms)) > 2), st.sampled_from(["carry", "ignore"]), st.data())
def test_whatever_is_skipped_left_out_or_paid_by_hand_the_loan_ends_at_zero(
    terms: LoanTerms, past_due: PastDue, data: st.DataObject
) -> None:
    plan = replace(household(terms), household=Household(past_due=past_due))
    flow, recorded, skipped = plan.loan_flow("loan"), list[Entry](), set[int]()
    assert flow is not None
    days = sorted(standing_of(plan, Books(), terms.disbursed).parts)
    reached = data.draw(st.integers(1, len(days) - 1))
    for day in days[: reached + 1]:
        today = date.fromordinal(day)
        moment = of(plan, books_from_entries(recorded, today), today)
        parts = standing(moment, plan.account_by_id["loan"]).parts
        if day not in parts or not parts[day].total or day in flow.exceptional.left_out:
            continue
        what = data.draw(st.sampled_from(["settle", "settle", "more", "skip", "leave out"]))
        if what == "leave out":
            plan = apply(plan, leave_out(moment, flow.id, today))
            flow = plan.flow_by_id[flow.id]
        elif what == "skip":
            skipped.add(day)
        else:
            more = data.draw(st.integers(1, 300_00)) if what == "more" else 0
            told = Settlement(f"e{day}", flow.id, today, amount=parts[day].total + more, day=today)
            changes = settle(moment, told)
            plan = apply(plan, [change for change in changes if change.kind != "entry"])
            recorded += [change.item for change in changes if isinstance(change.item, Entry)]
    today = date.fromordinal(days[reached] + 1)
    forecast = project(
        of(plan, books_from_entries(recorded, today), today), schedule(terms).paid_off + timedelta(days=8000)
    )
    # Paid more than was owed it is the household's; else nothing is left over, and nothing still owed.
    assert forecast.runs[1].levels[-1][1] == max(0, forecast.runs[1].levels[0][1])
    late = {event.nominal for event in forecast.events if event.status == "past_due" and event.account == "loan"}
    assert late <= skipped
    assert past_due == "carry" or not late


@given(short_loans.filter(lambda terms: len(schedule(terms)) > 3), st.data())
def test_after_any_overpayment_settling_as_told_changes_nothing_to_come(terms: LoanTerms, data: st.DataObject) -> None:
    plan, recorded, flow = household(terms), list[Entry](), household(terms).loan_flow("loan")
    assert flow is not None
    insured = replace(terms, insurance=Insurance(9_00, Decimal(60), terms.amount_financed), from_account="a")
    plan = apply(plan, [PlanChange("account", "loan", replace(plan.account_by_id["loan"], loan=insured))])
    more = data.draw(st.lists(st.integers(0, 400_00), min_size=1, max_size=4))
    for beyond in (*more, 0):
        moment = of(plan, books_from_entries(recorded, terms.disbursed), terms.disbursed)
        before = standing(moment, plan.account_by_id["loan"])
        open_days = [day for day in before.open_days(10**7) if before.parts[day].total]
        # However fast it is paid, insurance ends where the original schedule says.
        ends = insured_payments(insured)
        assert all((row.insurance > 0) == (row.number <= ends) for row in before.shown.rows)
        if not open_days:
            return
        due = date.fromordinal(open_days[0])
        told = Settlement(f"e{due}", flow.id, due, amount=before.parts[open_days[0]].total + beyond, day=due)
        changes = settle(moment, told)
        plan = apply(plan, [change for change in changes if change.kind != "entry"])
        recorded += [change.item for change in changes if isinstance(change.item, Entry)]
    after = standing_of(plan, books_from_entries(recorded, terms.disbursed), terms.disbursed)
    assert coming(after, due) == coming(before, due)


MONEY = r"−?\$([\d,]+\.\d\d)"


def cents(text: str) -> int:
    return int(text.replace(",", "").replace(".", ""))


def worked_out(sum_told: str) -> int:
    """What the sum before the equals sign comes to, reading it as a person would."""
    total = Fraction(0)
    for part in re.split(r" \+ ", sum_told):
        factors = re.fullmatch(rf"{MONEY} × ([\d.]+)% (?:÷ (\d+) payments a year|× (.+))", part)
        assert factors, part
        share = Fraction(factors[2]) / 100 * cents(factors[1])
        if factors[3]:
            total += share / int(factors[3])
        else:
            days = re.findall(r"(\d+) days of (\d+)", factors[4])
            total += sum(share * int(number) / int(year) for number, year in days)
    return round_half_up(total)


@given(short_loans, st.data())
@settings(max_examples=examples(120))
def test_every_sum_that_is_told_comes_to_the_figure_it_explains(terms: LoanTerms, data: st.DataObject) -> None:
    found = schedule(terms)
    row = data.draw(st.sampled_from(list(found.rows)))
    assume(row.principal >= 0)
    interest = why(found, row.number, "interest", "USD")
    told, result = re.split(" = ", interest)
    assert cents(re.findall(MONEY, result)[0]) == row.interest
    if " days " in told or " ÷ " in told:
        assert worked_out(told) == row.interest, interest
    payment, less, principal = map(cents, re.findall(MONEY, why(found, row.number, "principal", "USD")))
    assert payment - less == principal == row.principal
    owed, part, extra, left = map(cents, re.findall(MONEY, why(found, row.number, "balance", "USD")))
    assert owed - part - extra == left == row.balance
    assert cents(re.findall(MONEY, why(found, row.number, "payment", "USD"))[0]) in (
        row.payment, row.principal, found.opening, *found.balance)  # fmt: skip
    with pytest.raises(KeyError):
        why(found, found.rows[-1].number + 1, "interest", "USD")


@given(st.lists(short_loans, min_size=1, max_size=3), st.integers(0, 2000))
def test_the_overview_adds_up_what_each_loan_owes_and_will_cost(several: list[LoanTerms], after: int) -> None:
    today = max(terms.disbursed for terms in several) + timedelta(days=after)
    accounts = tuple(
        Account(f"l{place}", "Loan", "loan", "USD", Opening(terms.disbursed, -terms.amount_financed), loan=terms)
        for place, terms in enumerate(several)
    )
    plan = Plan(Household(), accounts)
    seen = overview(of(plan, Books(), today))
    each = [schedule(terms) for terms in several]
    assert seen.totals.owed == sum(found.opening for found in each)
    assert seen.debt_free == max(found.paid_off for found in each)
    assert sum(year.interest for year in seen.years) == sum(sum(found.interest) for found in each)
    assert sum(year.principal for year in seen.years) == seen.totals.owed
    assert seen.years[-1].paid_so_far == seen.totals.owed + sum(sum(found.interest) for found in each)
    assert [summary.interest_left for summary in seen.loans] == [sum(found.interest) for found in each]
    ends = [found.paid_off for found in each]
    assert [summary.months_left for summary in seen.loans] == [
        max(0, 12 * (end.year - today.year) + end.month - today.month) for end in ends
    ]
    days = [day for day, _ in seen.balances]
    assert days == sorted(set(days))
    assert (days[0], seen.balances[-1][1]) == (today.toordinal(), 0)


@given(plain_loans, st.integers(0, 400_00))
def test_escrow_is_gathered_and_spends_nothing_where_it_has_an_account(terms: LoanTerms, escrow: int) -> None:
    fed = replace(terms, escrow=(DatedAmount(terms.disbursed, escrow),), escrow_account="pot")
    plan = household(fed)
    pot = Account("pot", "Escrow", "savings", "USD", Opening(LONG_AGO, 0))
    plan = replace(plan, accounts=(*plan.accounts, pot))
    until = schedule(terms).paid_off + timedelta(days=1)
    runs = {run.account.id: run for run in project(of(plan, Books(), terms.disbursed), until).runs}
    gathered = escrow * len(schedule(terms))
    assert runs["pot"].levels[-1][1] == gathered
    assert runs["loan"].levels[-1][1] == 0
    assert -runs["a"].levels[-1][1] == terms.principal + sum(schedule(terms).interest) + gathered


@given(
    st.dates(date(2023, 1, 1), date(2031, 12, 31)), st.sampled_from(PAYMENTS_PER_YEAR),
    st.integers(0, 200), st.integers(1, 40),
)  # fmt: skip
def test_what_is_left_of_a_loan_keeps_its_due_dates(first: date, per_year: int, passed: int, left: int) -> None:
    whole = LoanTerms(1000_00, Decimal(5), first, first, payments=passed + left, payments_per_year=per_year)
    days = whole.due_days(passed + left)
    rest = replace(whole, first_payment=date.fromordinal(days[passed]), counted_from=first)
    assert rest.due_days(left) == days[passed:]
    assert rest.due_days(1)[0] == rest.first_payment.toordinal()
    apart = {later - earlier for earlier, later in pairwise(days)}
    assert apart <= {364 // per_year} if per_year in (26, 52) else all(gap > 0 for gap in apart)
    if per_year in (1, 2, 4, 12):
        # Every month has the day of the first one, or, where it lacks that day, its last.
        for day in map(date.fromordinal, days):
            assert day.day == first.day or ((day + timedelta(days=1)).day == 1 and day.day < first.day)
