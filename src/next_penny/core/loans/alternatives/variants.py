"""Variants of a loan: another rate, term, rhythm, payment, extra or balloon, or a refinance with its fees.

A loan under way is varied in what is left of it; what was paid stays as it was.
"""

from bisect import bisect_left
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.alternatives.payoff import payoff_amount
from next_penny.core.loans.schedule import Schedule, regular_payments, schedule
from next_penny.core.loans.walk import has_moved_its_end
from next_penny.core.loans.walked import LoanError
from next_penny.core.money import round_half_up
from next_penny.core.plan.terms.loans import Extra, Fee, LoanTerms


@dataclass(frozen=True, slots=True)
class LoanWish:
    """What is to be different; None leaves it as it is. `payments` counts what is left. Amounts in minor units.

    principal: another sum borrowed, of a loan that is not under way. extra: with every payment; lump: once, on a day.
    """

    annual_rate: Decimal | None = None
    payments: int | None = None
    payments_per_year: int | None = None
    accelerated: bool = False
    payment: int | None = None
    extra: int = 0
    balloon: int | None = None
    refinance: bool = False
    fees: int = 0
    fees_financed: bool = False
    lump: Extra | None = None
    principal: int | None = None

    def extras(self, first_payment: date) -> tuple[Extra, ...]:
        """What is paid beside the schedule, from a payment on."""
        extras = (Extra(self.extra, every=1, start=first_payment),) if self.extra else ()
        return (*extras, *((self.lump,) if self.lump is not None else ()))


def is_new_loan(terms: LoanTerms, wish: LoanWish) -> bool:
    """Whether a wish takes a new loan in the place of one under way: a refinance, or another rhythm."""
    return wish.refinance or _is_other_rhythm(terms, wish)


def _is_other_rhythm(terms: LoanTerms, wish: LoanWish) -> bool:
    if wish.payments_per_year is None:
        return False
    return (wish.payments_per_year, wish.accelerated) != (terms.payments_per_year, terms.accelerated)


def rest_as_loan(under_way: Schedule) -> LoanTerms:
    """What is left of a loan under way, as a loan of its own with the payment that it has."""
    terms, passed = under_way.terms, under_way.first_number - 1
    rate = under_way.rate[0]
    return replace(
        terms,
        principal=under_way.opening,
        annual_rate=rate,
        disbursed=date.fromordinal(under_way.since),
        first_payment=date.fromordinal(under_way.due[0]),
        counted_from=terms.counted_from or terms.first_payment,
        payments=terms.payments - passed if terms.payments is not None else None,
        payment=None if passed < terms.interest_only else under_way.levels[0],
        insured_payments=max(0, under_way.insured - passed) if terms.insurance else None,
        interest_only=max(0, terms.interest_only - passed),
        rate_changes=tuple(change for change in terms.rate_changes if change.start.toordinal() > under_way.since),
        payment_changes=tuple(
            payment_change
            for payment_change in terms.payment_changes
            if payment_change.start.toordinal() > under_way.since
        ),
        extras=tuple(_in_step(extra, under_way) for extra in terms.extras if not _is_past(extra, under_way)),
        fees=(),
    )


def _is_past(extra: Extra, under_way: Schedule) -> bool:
    # One on the day of a payment was paid with it; one on the day of disbursement is paid with the first.
    return extra.date is not None and under_way.first_number > 1 and extra.date.toordinal() <= under_way.since


def _in_step(extra: Extra, under_way: Schedule) -> Extra:
    """An extra that repeats keeps its step when the first payments are no longer counted."""
    since, due = date.fromordinal(under_way.since), date.fromordinal(under_way.due[0])
    if (
        extra.yearly_in == due.month
        and under_way.first_number > 1
        and (since.year, since.month) == (due.year, due.month)
    ):
        # That month's was paid with an earlier payment.
        return replace(extra, start=max(extra.start or due, due + timedelta(days=1)))
    if extra.every in (None, 1):
        return extra
    assert extra.every is not None
    days = under_way.terms.due_days(under_way.first_number - 1 + len(under_way) + extra.every)
    counted = bisect_left(days, extra.start.toordinal()) if extra.start is not None else 0
    if counted == len(days):
        # It starts after the end.
        return extra
    first = under_way.first_number - 1
    number = max(counted, first + (counted - first) % extra.every)
    return replace(extra, start=date.fromordinal(days[number]))


def vary(
    base: LoanTerms, wish: LoanWish, today: date, under_way: Schedule | None = None, arrears: int = 0
) -> LoanTerms:
    """A loan with a wish fulfilled from the next payment on.

    Of a loan `under_way`, `base` is what is left, as `rest_as_loan` gives it; what is past due of it (`arrears`) is
    paid off with the rest where a new loan takes its place.
    """
    terms = base if wish.principal is None else _borrowed(base, wish.principal, is_under_way=under_way is not None)
    if wish.lump is not None and wish.lump.date is not None and wish.lump.date < max(today, base.disbursed):
        raise LoanError("lump_on", f"Choose {full_day(max(today, base.disbursed))} or a later day.", "range")
    if wish.refinance or (_is_other_rhythm(base, wish) and base.disbursed < today):
        terms = _begun_anew(terms, wish, today, under_way or schedule(terms), arrears)
    elif _is_other_rhythm(base, wish):
        terms = _in_rhythm(terms, wish)
    elif under_way is not None and base.payment is not None and _goes_on(under_way, wish):
        terms = replace(terms, payments=None)
    return _with_terms(terms, wish)


def _goes_on(under_way: Schedule, wish: LoanWish) -> bool:
    """Whether the end of a loan under way has moved with a kept payment, and nothing of the wish levels it anew."""
    is_same = (wish.annual_rate, wish.payments, wish.balloon, wish.payment) == (None, None, None, None)
    return is_same and under_way.terms.extra_effect == "shorten" and has_moved_its_end(under_way.terms, under_way.since)


def _borrowed(base: LoanTerms, principal: int, *, is_under_way: bool) -> LoanTerms:
    """The same loan of another sum; a payment of its own stays where nothing else says when it ends."""
    if is_under_way:
        raise LoanError("principal", "This loan was paid out: what was borrowed is as it was.", "range")
    return replace(base, principal=principal, payment=None if base.payments is not None else base.payment)


def _with_terms(terms: LoanTerms, wish: LoanWish) -> LoanTerms:
    """Another rate, number of payments, balloon, payment or extra."""
    levels_anew = wish.annual_rate is not None or wish.payments is not None or wish.balloon is not None
    if wish.annual_rate is not None:
        terms = replace(terms, annual_rate=wish.annual_rate, rate_changes=())
    if wish.payments is not None:
        waiting = min(terms.interest_only, max(0, wish.payments - 1))
        terms = replace(terms, payments=wish.payments, interest_only=waiting)
    if wish.balloon is not None:
        terms = replace(terms, balloon=wish.balloon)
    if levels_anew:
        terms = replace(terms, payment=None)
    if wish.payment is not None:
        # A payment of one's own: the term is what it takes.
        terms = replace(terms, payment=wish.payment, payments=None, balloon=0)
        if terms.rate_changes or (terms.extra_effect == "recast" and terms.extras):
            # To be levelled anew later, it needs to know over how many payments.
            terms = replace(terms, payments=regular_payments(terms))
    return replace(terms, extras=(*terms.extras, *wish.extras(terms.first_payment)))


def _in_rhythm(base: LoanTerms, wish: LoanWish) -> LoanTerms:
    """The same loan paid in another rhythm over about the same time."""
    per_year = wish.payments_per_year or base.payments_per_year
    first = base.first_payment
    if per_year in (26, 52):
        first = base.disbursed + timedelta(days=364 // per_year)
    return replace(
        base, payments_per_year=per_year, payments=_count_in_rhythm(base, per_year), payment=None, first_payment=first,
        counted_from=None, accelerated=wish.accelerated,
    )  # fmt: skip


def _count_in_rhythm(base: LoanTerms, per_year: int) -> int | None:
    if base.payments is None:
        return None
    return max(1, round_half_up(Fraction(base.payments * per_year, base.payments_per_year)))


def _begun_anew(base: LoanTerms, wish: LoanWish, today: date, under_way: Schedule, arrears: int) -> LoanTerms:
    """A new loan from today that pays the old one off, interest and payments past due included.

    Its first payment is when the old one's would have been, or in its own rhythm of weeks from today.
    """
    begin, per_year = max(today, base.disbursed), wish.payments_per_year or base.payments_per_year
    owed = payoff_amount(under_way, begin, day_is_paid=False).total + arrears
    if owed <= 0:
        raise LoanError("refinance", "Nothing is owed any more: there is nothing to refinance.", "range")
    first = next(day for day in base.due_days(base.most_payments) if day > begin.toordinal())
    if per_year in (26, 52):
        first = begin.toordinal() + 364 // per_year
    fees = (Fee("Cost of refinancing", wish.fees, wish.fees_financed),) if wish.refinance and wish.fees else ()
    return LoanTerms(
        principal=owed,
        annual_rate=base.annual_rate,
        disbursed=begin,
        first_payment=date.fromordinal(first),
        payments=_count_in_rhythm(base, per_year),
        payment=base.payment if base.payments is None else None,
        payments_per_year=per_year,
        interest=base.interest,
        balloon=0 if wish.refinance else base.balloon,
        accelerated=wish.accelerated,
        extras=() if wish.refinance else base.extras,
        fees=fees,
        escrow=base.escrow,
        insurance=base.insurance,
        insured_payments=None,
        from_account=base.from_account,
        escrow_account=base.escrow_account,
    )
