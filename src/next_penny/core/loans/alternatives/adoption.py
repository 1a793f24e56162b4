"""Making a variant of a loan true: other terms from here on, or a new loan that pays the old one off today."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

from next_penny.core.loans.alternatives.compare import Variant
from next_penny.core.loans.alternatives.variants import LoanWish, is_new_loan
from next_penny.core.loans.check import shape_problems
from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.loans.standing import Standing
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import LOAN_FEES, LOAN_INTEREST, categories_for
from next_penny.core.plan.terms.loans import DatedAmount, LoanTerms, RateChange


@dataclass(frozen=True, slots=True)
class Adoption:
    """What a wish comes to in the household: the variant that it tells, and the changes that make it true."""

    variant: Variant
    changes: list[PlanChange]


def adoption(plan: Plan, standing: Standing, wish: LoanWish, varied: LoanTerms, today: date) -> Adoption:
    """How a wish is put into the plan; `varied` are the terms that `vary` made of the rest of the loan.

    What is told of it is what the books then lead to. Raises LoanError where the terms cannot be followed.
    """
    account, rest = standing.account, standing.rest
    assert account.loan is not None
    assert rest is not None
    if is_new_loan(account.loan, wish):
        terms = varied
        if terms.from_account is None:
            # Nobody pays in cash: what the new loan costs joins it.
            terms = replace(terms, fees=tuple(replace(fee, financed=True) for fee in terms.fees))
        variant = Variant(schedule(terms), terms.principal - standing.owed)
        return Adoption(variant, list(_paid_off_by_a_new_loan(plan, standing, terms, today)))
    terms = adopted(account.loan, rest, wish, schedule(varied))
    for field, message, kind in shape_problems(terms):
        raise LoanError(str(field[0]), message, kind)
    left = standing.with_terms(terms).from_payment(standing.passed)
    assert left is not None
    return Adoption(Variant(left), [PlanChange("account", account.id, replace(account, loan=terms))])


def adopted(terms: LoanTerms, rest: Schedule, wish: LoanWish, told_schedule: Schedule) -> LoanTerms:
    """A household's loan with a wish fulfilled from here on, as `told`: what is past stays."""
    passed, since = rest.first_number - 1, date.fromordinal(rest.since)
    first_due = date.fromordinal(rest.due[0])
    if wish.annual_rate is not None:
        rate_changes = tuple(change for change in terms.rate_changes if change.start < since)
        terms = replace(terms, rate_changes=(*rate_changes, RateChange(since, wish.annual_rate)))
    if (wish.payments, wish.balloon, wish.payment) != (None, None, None):
        # The payment so far was levelled over the old term: it is kept for the past, if that had one.
        level = schedule(terms).level if passed > terms.interest_only else wish.payment
        terms = replace(terms, payment=terms.payment or level)
    if wish.payments is not None:
        waiting = min(terms.interest_only, passed + told_schedule.terms.interest_only)
        terms = replace(terms, payments=passed + wish.payments, interest_only=waiting)
    if wish.balloon is not None:
        terms = replace(terms, balloon=wish.balloon)
    if wish.payment is not None:
        count = told_schedule.terms.payments
        terms = replace(terms, payments=count and passed + count, balloon=0)
    if (wish.annual_rate, wish.payments, wish.balloon, wish.payment) != (None, None, None, None):
        # The payments of interest alone come first.
        begins = date.fromordinal(told_schedule.due[min(told_schedule.terms.interest_only, len(told_schedule) - 1)])
        kept_payments = tuple(
            payment_change for payment_change in terms.payment_changes if payment_change.start < first_due
        )
        goes_on = terms.after_rate_change == "keep_payment" and bool(terms.rate_changes)
        made = _payments_from(begins, told_schedule, goes_on=goes_on)
        terms = replace(terms, payment_changes=(*kept_payments, *made))
    return replace(terms, extras=(*terms.extras, *wish.extras(first_due)))


def _payments_from(begins: date, schedule: Schedule, *, goes_on: bool) -> Iterator[DatedAmount]:
    """The payment that was told, and the last one where it is more and the loan would go on with what is left."""
    if schedule.terms.interest_only >= len(schedule):
        # Extras pay it all off while payments are interest alone.
        return
    last = schedule.rows[-1]
    ends = date.fromordinal(last.due)
    if begins < ends or not goes_on:
        yield DatedAmount(begins, schedule.level)
    if goes_on and (begins == ends or last.payment > schedule.levels[-1]):
        yield DatedAmount(ends, max(last.payment, schedule.levels[-1]))


def _paid_off_by_a_new_loan(plan: Plan, standing: Standing, terms: LoanTerms, today: date) -> Iterator[PlanChange]:
    """A new loan account, and the entry by which it pays off what is owed with interest to the day."""
    old = standing.account
    id = f"{old.id}-{today:%Y%m%d}"
    in_cash = sum(fee.amount for fee in terms.fees if not fee.financed)
    legs = (
        Leg(-terms.amount_financed, account=id),
        Leg(standing.owed, account=old.id),
        Leg(-in_cash, account=terms.from_account),
        Leg(terms.principal - standing.owed, category=LOAN_INTEREST.id),
        Leg(sum(fee.amount for fee in terms.fees), category=LOAN_FEES.id),
    )
    opening = Opening(today, 0)
    moving = tuple(leg for leg in legs if leg.amount)
    yield from categories_for(plan, moving)
    yield PlanChange("account", id, Account(id, f"{old.name}, anew", "loan", old.currency, opening, loan=terms))
    settles = None
    if standing.flow is not None:
        flow, settles = _settled_with_it(standing, standing.flow, today)
        yield PlanChange("flow", flow.id, flow)
    payee = f"{old.name}: paid off by a new loan"
    entry = Entry(f"{id}-paid-off", today, payee, moving, standing.flow.id if standing.flow else None, settles)
    yield PlanChange("entry", entry.id, entry)


def _settled_with_it(standing: Standing, flow: Flow, today: date) -> tuple[Flow, date]:
    """What pays a loan off settles its next payment; those past due, and extras before it, are part of that."""
    assert standing.rest is not None
    next_due = next((day for day in standing.rest.due if day >= today.toordinal()), standing.rest.due[-1])
    left_out = {day: Change(date.fromordinal(day), left_out=True) for day in standing.open_days(next_due)}
    others = [change for change in flow.changes if change.nominal.toordinal() not in left_out]
    changes = tuple(sorted([*others, *left_out.values()], key=lambda change: change.nominal))
    return replace(flow, changes=changes), date.fromordinal(next_due)
