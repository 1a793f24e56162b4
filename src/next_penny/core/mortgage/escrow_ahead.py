"""A household's escrow account in the coming year: what is paid from it, whether it covers that, and its analysis."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number
from next_penny.core.forecast.events import Event
from next_penny.core.forecast.projection import Forecast, project, year_ahead
from next_penny.core.loans.standing import standing
from next_penny.core.money import rounded_quotient
from next_penny.core.mortgage.escrow import MONTHS, Disbursement, EscrowAnalysis, analyse
from next_penny.core.plan.accounts import Account


@dataclass(frozen=True, slots=True)
class EscrowPayment:
    """What is to be paid from escrow on a day, and what is there after it; `short_by`: what the lender advances."""

    flow: str
    name: str
    day: date
    amount: int
    balance: int
    short_by: int


@dataclass(frozen=True)
class EscrowAhead:
    """One escrow account; amounts are minor units of its currency.

    deposit: what comes with the payments in a month now. starts: what is expected to be there as the first month of the
    analysis, the next one, begins.
    """

    account: Account
    loans: tuple[Account, ...]
    balance: int
    deposit: int
    starts: int
    payments: tuple[EscrowPayment, ...]
    analysis: EscrowAnalysis

    @property
    def first_uncovered(self) -> EscrowPayment | None:
        """The first payment that the account does not cover."""
        return next((payment for payment in self.payments if payment.short_by), None)


def escrow_loans(moment: Moment, escrow: str) -> tuple[Account, ...]:
    """The loans whose payments feed an escrow account."""
    return tuple(account for account in moment.plan.accounts if account.escrow_account == escrow)


def escrow_ahead(moment: Moment, account: Account, cushion_months: Decimal = Decimal(2)) -> EscrowAhead:
    """The coming twelve full months of an escrow account."""
    first_month = month_number(moment.today) + 1
    last = date.fromordinal(month_end(first_month + MONTHS - 1))
    forecast = project(moment, last, [account.id])
    loans = escrow_loans(moment, account.id)
    payments = tuple(_payments(forecast, account.id))
    out = [Disbursement(month_number(payment.day), payment.amount, payment.name) for payment in payments
           if month_number(payment.day) >= first_month]  # fmt: skip
    starts = _balance_at(forecast, month_end(first_month - 1))
    deposit = sum(_monthly_deposit(moment, loan) for loan in loans)
    return EscrowAhead(
        account, loans, forecast.runs[0].today_balance, deposit, starts, payments,
        analyse(first_month, out, cushion_months, starts, deposit),
    )  # fmt: skip


def uncovered(moment: Moment) -> Iterator[tuple[Account, EscrowPayment]]:
    """By escrow account, the first payment of the coming months that it does not cover."""
    for account in moment.plan.accounts:
        if account.kind == "escrow":
            coming = _payments(year_ahead(moment), account.id)
            payment = next((escrow_payment for escrow_payment in coming if escrow_payment.short_by), None)
            if payment is not None:
                yield account, payment


def _payments(forecast: Forecast, account: str) -> Iterator[EscrowPayment]:
    flows = forecast.moment.plan.flow_by_id
    for event in forecast.events:
        is_out = event.account == account and event.amount < 0 and event.flow is not None
        if is_out and flows[event.flow or ""].kind == "bill":
            yield _payment(event)


def _payment(event: Event) -> EscrowPayment:
    assert event.flow is not None
    short_by = min(-event.amount, max(0, -event.balance))
    return EscrowPayment(event.flow, event.name, event.date, -event.amount, event.balance, short_by)


def _balance_at(forecast: Forecast, day: int) -> int:
    run = forecast.runs[0]
    balances = [balance for on, balance in run.levels if on <= day]
    return balances[-1] if balances else 0


def _monthly_deposit(moment: Moment, loan: Account) -> int:
    """What a loan's next payment brings, as a monthly amount."""
    rest = standing(moment, loan).rest
    coming = next((row.escrow for row in rest.rows if row.due >= moment.now), 0) if rest is not None else 0
    return rounded_quotient(coming * loan.loan_terms.payments_per_year, MONTHS)
