"""A household's loans over their life: paid as planned they end, alternatives come true, and every sum adds up."""

import re
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import count, pairwise

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from random_loans import loans
from seen import of

from effort import examples
from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.entries import check_entry
from next_penny.core.checks.plan import check
from next_penny.core.edits.settling.settle import Settlement, leave_out, settle
from next_penny.core.flows.makers import past_due
from next_penny.core.forecast.projection import project
from next_penny.core.loans.alternatives.adoption import adoption
from next_penny.core.loans.alternatives.compare import (
    Variant,
    WithExtra,
    compare,
    extra_to_end_by,
    principal_for,
    rate_for,
)
from next_penny.core.loans.alternatives.variants import LoanWish, rest_as_loan, vary
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.overview import debt_free, overview
from next_penny.core.loans.schedule import Schedule, insured_payments, schedule
from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.loans.walked import LoanError
from next_penny.core.loans.why import why
from next_penny.core.money import round_half_up
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.household import Household, PastDue
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import PAYMENTS_PER_YEAR, DatedAmount, Extra, Insurance, LoanTerms, RateChange

LONG_AGO = date(2020, 1, 1)


def can_be_followed(terms: LoanTerms) -> bool:
    try:
        schedule(terms)
    except LoanError:
        return False
    return not loan_problems(terms, "USD")


def household(terms: LoanTerms) -> Plan:
    paying = Account("a", "Joint", "checking", "USD", Opening(LONG_AGO, 0))
    owed = Opening(terms.disbursed, -terms.amount_financed)
    loan = Account("loan", "Loan", "loan", "USD", owed, loan=replace(terms, from_account="a"))
    return Plan(Household(), (paying, loan))


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


short_loans = loans(least=1000_00, longest=36).filter(can_be_followed)


def coming(stands: Standing, after: date) -> dict[int, Parts]:
    return {day: parts for day, parts in stands.parts.items() if day > after.toordinal() and parts.total}


def standing_of(plan: Plan, books: Books, today: date) -> Standing:
    return standing(of(plan, books, today), plan.account_by_id["loan"])


def stands_after(plan: Plan, terms: LoanTerms, settled: int) -> tuple[Plan, Books, date, Standing]:
    """The household after its first payments were settled as planned, seen from the day after the last of them."""
    books, today, ids = Books(), terms.disbursed, count()
    for _ in range(settled):
        # Seen from before everything, so that what is recorded counts as movements, not as what was before.
        stands = standing_of(plan, books, terms.disbursed)
        flow = plan.loan_flow("loan")
        assert flow is not None
        settled_days = books.settled.get(flow.id, {})
        open_days = sorted(day for day, parts in stands.parts.items() if parts.total and day not in settled_days)
        if stands.rest is None or not open_days:
            break
        due = date.fromordinal(open_days[0])
        changes = settle(of(plan, books, terms.disbursed), Settlement(f"e{next(ids)}", flow.id, due, day=due))
        plan = apply(plan, changes)
        for change in changes:
            assert not (isinstance(change.item, Entry) and check_entry(plan, change.item))
        books = apply_to_books(books, changes, lambda id: None, terms.disbursed)
        today = due + timedelta(days=1)
        # What is still to come is what was to come, less this one.
        assert coming(standing_of(plan, books, today), due) == coming(stands, due)
    return plan, books, today, standing_of(plan, books, today)


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


wishes = st.one_of(
    st.builds(LoanWish, annual_rate=st.decimals(0, 15, places=2)),
    st.builds(LoanWish, payments=st.integers(1, 120)),
    st.builds(LoanWish, extra=st.integers(1, 900_00)),
    st.builds(LoanWish, payment=st.integers(100_00, 40_000_00)),
    st.builds(LoanWish, balloon=st.integers(0, 900_00)),
    st.builds(LoanWish, extra=st.integers(1, 900_00), annual_rate=st.decimals(0, 15, places=2)),
    st.builds(LoanWish, payments_per_year=st.sampled_from([12, 26]), accelerated=st.booleans()),
    st.builds(LoanWish, refinance=st.just(True), annual_rate=st.decimals(0, 9, places=1), fees=st.integers(0, 2000_00),
              fees_financed=st.booleans()),
)  # fmt: skip


@given(short_loans.map(lambda terms: replace(terms, fees=())).filter(can_be_followed), wishes, st.integers(0, 6))
@settings(max_examples=examples(150))
def test_an_alternative_that_is_adopted_comes_true(terms: LoanTerms, wish: LoanWish, settled: int) -> None:
    plan, books, today, stands = stands_after(household(terms), terms, settled)
    assume(stands.rest is not None and not stands.shown.between)
    assert stands.rest is not None
    try:
        varied = vary(rest_as_loan(stands.rest), wish, today, stands.rest, stands.arrears(today))
        as_wished = schedule(varied)
    except LoanError:
        return
    assume(not loan_problems(varied, "USD", is_rest=True) and as_wished.level > 0)
    assume(as_wished.first_number + len(as_wished) + stands.passed <= terms.most_payments)
    made = adoption(plan, stands, wish, varied, today)
    told, after = made.variant.schedule, apply(plan, made.changes)
    assert columns(told) == columns(as_wished)
    assert not check(after)
    for change in made.changes:
        assert not (isinstance(change.item, Entry) and check_entry(after, change.item))
    moment = of(after, apply_to_books(books, made.changes, lambda id: None, terms.disbursed), today)
    now = {account.id: standing(moment, account) for account in after.accounts if account.loan}
    if len(now) > 1:
        assert (now.pop("loan").rest, len(now)) == (None, 1)
    (adopted,) = now.values()
    assert adopted.rest is not None
    assert columns(adopted.rest) == columns(told)
    assert debt_free(moment) == told.paid_off
    # What it saves is all that is paid and charged without it, less the same with it.
    _, variant = compare([Variant(stands.rest), made.variant], today, 60)
    in_cash = sum(fee.amount for fee in told.terms.fees if not fee.financed) if len(after.accounts) > 2 else 0
    assert variant.saves_in_all == paid_in(stands.rest) - paid_in(told) - in_cash
    if wish == LoanWish(refinance=True, annual_rate=wish.annual_rate, fees=wish.fees, fees_financed=wish.fees_financed):
        same = stands.rest.rate[0] == wish.annual_rate and stands.rest.due[0] >= today.toordinal()
        assert not same or variant.saves_in_all <= len(told) - wish.fees


def paid_in(told: Schedule) -> int:
    return sum(told.interest) + sum(told.principal) + sum(told.extra) + sum(told.insurance)


def columns(found: Schedule) -> list[tuple[int, int, int, int]]:
    return [(row.due, row.interest, row.principal + row.extra, row.balance) for row in found.rows]


def with_extra(terms: LoanTerms) -> WithExtra:
    return lambda amount: schedule(replace(terms, extras=(Extra(amount, every=1, start=terms.first_payment),)))


plain_loans = st.builds(
    LoanTerms,
    principal=st.integers(1000_00, 400_000_00),
    annual_rate=st.decimals(0, 18, places=2),
    disbursed=st.just(date(2027, 1, 15)),
    first_payment=st.just(date(2027, 2, 15)),
    payments=st.integers(2, 240),
    payments_per_year=st.sampled_from([4, 12, 24, 26]),
).filter(can_be_followed)


@given(plain_loans, st.integers(1, 2000_00), st.integers(1, 2000_00))
def test_more_extra_never_costs_more_and_never_lasts_longer(terms: LoanTerms, extra: int, more: int) -> None:
    paying = [replace(terms, extras=(Extra(amount, every=1),)) for amount in (extra, extra + more)]
    base, some, most = compare([Variant(schedule(each)) for each in (terms, *paying)], terms.disbursed, 1200)
    assert base.total_interest >= some.total_interest >= most.total_interest
    assert base.paid_off >= some.paid_off >= most.paid_off
    for found in (some, most):
        assert found.saves_in_all == found.saves == base.total_interest - found.total_interest
        assert found.cost == sum(found.schedule.interest)
        assert found.apr == base.apr


def test_alternatives_are_held_against_each_other_over_the_same_days() -> None:
    monthly = LoanTerms(180_000_00, Decimal("4.75"), date(2027, 1, 10), date(2027, 2, 10), 360)
    weekly = replace(monthly, payments_per_year=52, first_payment=date(2027, 1, 17), payments=1560)
    one, other = compare([Variant(schedule(terms)) for terms in (monthly, weekly)], monthly.disbursed, 60)
    # Five years from the paying out: sixty monthly payments, and all 260 weekly ones that are due in them.
    assert one.cost == sum(one.schedule.interest[:60])
    assert other.cost == sum(other.schedule.interest[:260])
    assert other.saves == one.cost - other.cost > 0


@given(plain_loans, st.data())
def test_questions_the_other_way_round_are_answered_by_the_least_that_does(
    terms: LoanTerms, data: st.DataObject
) -> None:
    agreed = schedule(terms)
    by = date.fromordinal(data.draw(st.sampled_from(agreed.due)))
    extra = extra_to_end_by(with_extra(terms), terms.amount_financed, terms.first_payment, by)
    for amount, ends in ((extra, True), (extra - 1, False)):
        if amount >= 0:
            told = schedule(replace(terms, extras=(Extra(amount, every=1, start=terms.first_payment),)))
            assert (told.paid_off <= by) == ends
    assert terms.payments is not None
    borrowed = principal_for(terms, agreed.level)
    assert payment_for(terms, borrowed, terms.annual_rate, terms.payments) <= agreed.level
    assert payment_for(terms, borrowed + 1, terms.annual_rate, terms.payments) > agreed.level
    assert borrowed >= terms.principal
    rate = rate_for(terms, agreed.level)
    assert rate >= terms.annual_rate
    assert payment_for(terms, terms.principal, rate + Decimal("0.001"), terms.payments) > agreed.level


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


def test_what_no_extra_and_no_payment_can_do_is_refused() -> None:
    terms = LoanTerms(1000_00, Decimal(6), date(2027, 1, 15), date(2027, 2, 15), payments=12)
    with pytest.raises(LoanError, match="Choose a later day"):
        extra_to_end_by(with_extra(terms), 1000_00, terms.first_payment, date(2027, 2, 14))
    assert (
        extra_to_end_by(with_extra(terms), 1000_00, terms.first_payment, date(2027, 2, 15))
        == 1005_00 - schedule(terms).level
    )
    with pytest.raises(LoanError, match="Even without interest"):
        rate_for(terms, 83_32)
    assert rate_for(terms, 83_33) < Decimal("0.01")
    with pytest.raises(LoanError, match="too small to borrow"):
        principal_for(replace(terms, balloon=500_00), 1)


@pytest.mark.parametrize(
    ("per_year", "payments", "first", "count"),
    [(26, 360, date(2027, 3, 15), 780), (52, 360, date(2027, 3, 8), 1560), (24, 359, date(2027, 4, 1), 718),
     (4, 362, date(2027, 4, 1), 121), (2, 3, date(2027, 4, 1), 1), (1, 5, date(2027, 4, 1), 1), (2, 15, date(2027, 4, 1), 3)],
)  # fmt: skip
def test_a_loan_tried_in_another_rhythm_takes_about_the_same_time(
    per_year: int, payments: int, first: date, count: int
) -> None:
    begun = date(2027, 3, 1)
    terms = LoanTerms(100_000_00, Decimal(6), begun, date(2027, 4, 1), payments, payment=599_56)
    varied = vary(terms, LoanWish(payments_per_year=per_year, accelerated=per_year > 24), begun)
    assert (varied.payments_per_year, varied.payments, varied.first_payment) == (per_year, count, first)
    assert (varied.payment, varied.accelerated) == (None, per_year > 24)
    lump = Extra(1_00, date=begun)
    assert vary(terms, LoanWish(lump=lump), begun).extras == (lump,)
    with pytest.raises(LoanError, match="Choose March 1, 2027 or a later day"):
        vary(terms, LoanWish(lump=replace(lump, date=begun - timedelta(days=1))), begun)


@pytest.mark.parametrize(
    "wish", [LoanWish(extra=1), LoanWish(extra=50_00), LoanWish(lump=Extra(100_00, date=date(2024, 9, 1)))]
)
def test_an_extra_on_a_kept_payment_goes_on_to_the_end_that_a_risen_rate_moved(wish: LoanWish) -> None:
    risen = (RateChange(date(2024, 4, 1), Decimal(15)),)
    terms = LoanTerms(
        10_000_00, Decimal(5), date(2024, 1, 1), date(2024, 2, 1), 24, rate_changes=risen,
        after_rate_change="keep_payment",
    )  # fmt: skip
    plan, _, today, stands = stands_after(household(terms), terms, 6)
    assert stands.rest is not None
    assert len(stands.rest) == 21
    varied = vary(rest_as_loan(stands.rest), wish, today, stands.rest)
    assert columns(adoption(plan, stands, wish, varied, today).variant.schedule) == columns(schedule(varied))
    assert max(row.payment for row in schedule(varied).rows) == stands.rest.level
