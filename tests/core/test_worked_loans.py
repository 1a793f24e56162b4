"""Loans of every kind, as schedules and alternatives told row by row, held against the tables in `worked_tables/`."""

from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from loans_followed import household, standing_of
from seen import of
from worked import held_against

from next_penny.core.books.books import Books
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.dates.calendar import add_months
from next_penny.core.edits.settling.settle import Settlement, leave_out, settle
from next_penny.core.loans.alternatives.adoption import adoption
from next_penny.core.loans.alternatives.compare import (
    Variant,
    compare,
    extra_to_end_by,
    principal_for,
    rate_for,
)
from next_penny.core.loans.alternatives.payoff import payoff_amount
from next_penny.core.loans.alternatives.variants import LoanWish, rest_as_loan, vary
from next_penny.core.loans.apr import annual_percentage_rate, loan_apr
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.overview import summarize_loan
from next_penny.core.loans.schedule import Schedule, as_scheduled, schedule, without_extras
from next_penny.core.loans.standing import Standing
from next_penny.core.loans.unit_periods import DatedSum
from next_penny.core.loans.walked import LoanError
from next_penny.core.loans.why import why
from next_penny.core.loans.years import by_year, in_all
from next_penny.core.mortgage.escrow import Disbursement, analyse
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.terms.loans import (
    DatedAmount,
    Extra,
    Fee,
    Insurance,
    Lender,
    LoanTerms,
    RateChange,
)

TODAY = date(2027, 8, 15)
Lines = Iterator[tuple[str, object]]
BORROWED, FIRST = date(2027, 1, 31), date(2027, 2, 28)
PLAIN = LoanTerms(24_000_00, Decimal("6.3"), BORROWED, date(2027, 3, 31), payments=30)
LOANS = {
    "plain": PLAIN,
    "by days of 365": replace(PLAIN, interest="actual_365", first_payment=date(2027, 2, 15)),
    "by days of 360": replace(PLAIN, interest="actual_360", payment_rounding="up"),
    "by days of the year": replace(PLAIN, interest="actual_actual", payments=14),
    "by months of 30 days": replace(PLAIN, interest="30_360", payments=14, balloon=5_000_00),
    "every week": replace(PLAIN, payments_per_year=52, payments=60, interest="actual_365", first_payment=date(2027, 2, 5)),
    "every two weeks": replace(PLAIN, payments_per_year=26, payments=40, first_payment=date(2027, 2, 12), accelerated=True,
                               interest="actual_365"),
    "twice a month": replace(PLAIN, payments_per_year=24, payments=40, first_payment=date(2027, 2, 15)),
    "every quarter": replace(PLAIN, payments_per_year=4, payments=12, first_payment=date(2027, 4, 30)),
    "every year": replace(PLAIN, payments_per_year=1, payments=5, first_payment=date(2028, 1, 31), interest="actual_actual"),
    "without interest": replace(PLAIN, annual_rate=Decimal(0), payments=7),
    "interest only": replace(PLAIN, interest_only=6, payments=20, balloon=2_000_00),
    "a payment agreed": replace(PLAIN, payments=None, payment=1_100_00, interest="actual_365"),
    "a payment too small": replace(PLAIN, payments=20, payment=100_00, negative_amortization=True),
    "rates that change": replace(
        PLAIN, rate_changes=(RateChange(date(2027, 9, 10), Decimal("8.05")), RateChange(date(2028, 3, 31), Decimal(4))),
        interest="actual_365",
    ),
    "rates that change, payment kept": replace(
        PLAIN, rate_changes=(RateChange(date(2027, 9, 30), Decimal("9.5")),), after_rate_change="keep_payment"
    ),
    "extras": replace(PLAIN, extras=(
        Extra(300_00, date=date(2027, 6, 17)), Extra(50_00, every=2, start=date(2027, 5, 1), until=date(2028, 5, 1)),
        Extra(500_00, yearly_in=12, start=date(2027, 3, 31)),
    )),
    "extras that lower the payment": replace(
        PLAIN, extras=(Extra(2_000_00, date=date(2027, 7, 31)), Extra(80_00, every=3)), extra_effect="lower_payment"
    ),
    "all that a mortgage has": replace(
        PLAIN, principal=180_000_00, payments=300, escrow=(DatedAmount(BORROWED, 310_00), DatedAmount(date(2028, 2, 1), 333_00)),
        insurance=Insurance(61_25, Decimal(95), 185_000_00), fees=(Fee("Survey", 900_00, financed=True), Fee("Deed", 450_00)),
        lenders=(Lender(date(2027, 8, 1), "Stillwater Home Loans", "Tollhouse Wharf 9", 2_50),),
    ),
    "payments that change": replace(
        PLAIN, payment_changes=(DatedAmount(date(2027, 8, 1), 1_250_00), DatedAmount(date(2028, 2, 29), 700_00))
    ),
}  # fmt: skip


def schedules() -> Lines:
    for name, terms in LOANS.items():
        under_way = schedule(terms)
        yield name, [in_all(under_way), by_year(under_way), loan_problems(terms, "USD")]
        rows = under_way.rows
        yield "rows", [*rows[:14], *rows[14:-2:9], *rows[-2:]]
        yield "why", [why(under_way, number, figure, "USD") for number in (1, 9) for figure in ("interest", "principal", "payment")
                      if number <= len(rows)]  # fmt: skip
        yield "agreed", [as_scheduled(terms).balance, without_extras(terms).balance[:12]]
        yield "rate with fees", loan_apr(terms) if not terms.negative_amortization else None


WISHES = {
    "dearer": LoanWish(annual_rate=Decimal("7.9")), "sooner": LoanWish(payments=12), "more": LoanWish(payment=1_300_00),
    "extra": LoanWish(extra=120_00), "once": LoanWish(lump=Extra(1_500_00, date=date(2027, 10, 20))),
    "every other": LoanWish(lump=Extra(90_00, every=2)), "each December": LoanWish(lump=Extra(400_00, yearly_in=12)),
    "weekly": LoanWish(payments_per_year=52), "two weeks": LoanWish(payments_per_year=26, accelerated=True),
    "left at the end": LoanWish(balloon=3_000_00),
    "anew": LoanWish(annual_rate=Decimal("4.2"), payments=24, refinance=True, fees=350_00, fees_financed=True),
    "anew, paid at once": LoanWish(annual_rate=Decimal("4.2"), payments=24, refinance=True, fees=350_00),
}  # fmt: skip


def paid_off_early() -> Lines:
    for name, terms in LOANS.items():
        yield name, None
        for day in (date(2027, 6, 30), date(2027, 7, 4), date(2028, 1, 31)):
            yield f"on {day}", [payoff_amount(schedule(terms), day, day_is_paid=is_paid) for is_paid in (True, False)]


def under_way() -> Lines:
    for name, terms in LOANS.items():
        for kind, stands in (("paid", _paid(terms)), ("joined", _joined(terms)), ("owes more", _joined(terms, 480_00))):
            rest = stands.rest
            yield f"{name}, {kind}", [stands.passed, stands.owed, stands.paid_down, stands.ends, stands.never_ends]
            yield "open", [(date.fromordinal(day), stands.parts[day]) for day in stands.open_days(TODAY.toordinal())]
            yield "summary", replace(summarize_loan(stands, TODAY), standing=None)
            yield "arrears", stands.arrears(TODAY)
            if rest is None:
                continue
            yield (
                "to come",
                [rest.first_number, date.fromordinal(rest.since), rest.opening, *rest.rows[:3], rest.rows[-1]],
            )
            if kind == "paid" or name in ("plain", "extras", "all that a mortgage has", "every two weeks"):
                yield from _otherwise(stands, rest)


def _paid(terms: LoanTerms) -> Standing:
    """A loan of which five payments fell due: the third was left out, the fourth paid late, and some paid by hand."""
    plan, books, early = household(terms), Books(), terms.disbursed
    for number in (1, 2, 3, 4, 5):
        stands = standing_of(plan, books, early)
        day = stands.open_days(date(2099, 1, 1).toordinal())[0]
        nominal = date.fromordinal(day)
        moment = of(plan, books, early)
        if number == 3:
            plan = apply(plan, leave_out(moment, "loan-payment", nominal))
            continue
        on = nominal + timedelta(days=9 if number == 4 else 0)
        books = apply_to_books(
            books, settle(moment, Settlement(f"e{number}", "loan-payment", nominal, day=on)), lambda id: None, early
        )
    by_hand = Entry("hand", nominal, "Bank", (Leg(-77_00, "a"), Leg(77_00, "loan")))
    books = apply_to_books(books, [PlanChange("entry", "hand", by_hand)], lambda id: None, early)
    return standing_of(plan, books, TODAY)


def _joined(terms: LoanTerms, more: int = 0) -> Standing:
    """A loan that the household has recorded since a while after it began, owing more than was agreed."""
    agreed = schedule(terms)
    opened = date.fromordinal(agreed.due[1]) + timedelta(days=3)
    account = Account(
        "loan", "Loan", "loan", "USD", Opening(opened, -agreed.balance[1] - more), loan=replace(terms, from_account="a")
    )
    return standing_of(replace(household(terms), accounts=(household(terms).accounts[0], account)), Books(), TODAY)


def _otherwise(stands: Standing, rest: Schedule) -> Lines:
    plan = household(stands.account.loan_terms)
    variants = [Variant(rest)]
    for what, wish in WISHES.items():
        with suppress(LoanError):
            varied = vary(rest_as_loan(rest), wish, TODAY, rest, stands.arrears(TODAY))
            made = adoption(plan, stands, wish, varied, TODAY)
            variants.append(made.variant)
            told = made.variant.schedule
            yield what, [told.rows[0], told.rows[-1], len(told), made.variant.rolled_in, len(made.changes)]
    for months in (12, 36):
        outcomes = compare(variants, TODAY, months)
        yield f"over {months}", [(each.payment, each.total_interest, each.paid_off, each.cost, each.saves, each.total,
                                  each.saves_in_all, each.breaks_even) for each in outcomes]  # fmt: skip
    yield "the other way round", [each.breaks_even for each in compare(variants[::-1], TODAY, 12)]


def reverse_questions() -> Lines:
    for name in ("plain", "by days of 365", "interest only", "by months of 30 days", "every quarter"):
        terms = LOANS[name]
        for payment in (700_00, 1_000_00):
            with suppress(ValueError):
                yield f"{name} {payment}", [principal_for(terms, payment), rate_for(terms, payment)]
        with_extra = lambda extra, terms=terms: schedule(replace(terms, extras=(Extra(extra, every=1),)))  # noqa: E731
        for months in (9, 14):
            with suppress(ValueError):
                yield (
                    f"{name} by {months}",
                    extra_to_end_by(with_extra, 10_000_00, BORROWED, add_months(BORROWED, months)),
                )
    sums = [DatedSum(date(2027, 3, 1), 10_000_00), DatedSum(date(2027, 4, 10), 2_500_00)]
    for step in (1, 2, 3, 6, 12):
        paid = [DatedSum(add_months(date(2027, 5, 31), step * number), 1_150_00) for number in range(12)]
        yield f"every {step}", [annual_percentage_rate(sums, paid), annual_percentage_rate(sums[:1], paid[1:])]
    days = (DatedSum(date(2027, 3, 1 + 9 * number), 2_600_00) for number in (1, 2, 3))
    yield "some days", annual_percentage_rate([DatedSum(date(2027, 3, 1), 7_000_00)], list(days))


def escrow() -> Lines:
    april, taxes = (
        2027 * 12 + 3,
        [Disbursement(2027 * 12 + 8, 1_900_00, "Tax"), Disbursement(2028 * 12 + 1, 1_900_00, "Tax")],
    )
    insured = [*taxes, Disbursement(2027 * 12 + 10, 811_17, "Insurance")]
    for cushion in ("0", "1", "2"):
        for balance in (-150_00, 400_00, 1_900_00, 3_300_00):
            for deposit in (None, 350_00):
                yield f"{cushion} {balance} {deposit}", analyse(april, insured, Decimal(cushion), balance, deposit)


@pytest.mark.parametrize(
    "of", [schedules, paid_off_early, under_way, reverse_questions, escrow], ids=lambda of: of.__name__
)
def test_loans_are_told_what_they_were(of: Callable[[], Lines]) -> None:
    held_against(f"loans {of.__name__}", of())
