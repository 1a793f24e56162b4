"""What is wrong with a loan's terms: each problem at its field, in a sentence."""

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

from next_penny.core.dates.calendar import LAST_DUE
from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.schedule import schedule
from next_penny.core.loans.walked import LoanError
from next_penny.core.money import format_amount
from next_penny.core.plan.terms.loans import LONGEST_YEARS, Extra, LoanTerms

Loc = tuple[str | int, ...]
_HIGHEST_RATE = 200


def loan_problems(terms: LoanTerms, currency: str, *, is_rest: bool = False) -> list[tuple[Loc, str, str]]:
    """(field, sentence, kind) of everything wrong with the terms; empty when a schedule follows from them.

    The rest of a loan under way has the payment that it has: its last one may differ as it will.
    """
    problems = shape_problems(terms)
    if problems:
        return problems
    try:
        schedule(terms)
    except LoanError as error:
        return [((error.field,), error.told(currency), error.kind)]
    return [] if is_rest else list(contradictions(terms, currency))


def shape_problems(terms: LoanTerms) -> list[tuple[Loc, str, str]]:
    """What of the terms is no loan at all, whatever its payments pay off."""
    return [*_basics(terms), *_dated(terms), *_years_before(terms), *_parts(terms), *_reach(terms)]


def _reach(terms: LoanTerms) -> Iterator[tuple[Loc, str, str]]:
    """The last payment is due within the calendar."""
    payments = terms.payments or 0
    if 1 <= payments <= terms.most_payments and len(terms.due_days(payments)) < payments:
        message = f"The last payment would be due after {LAST_DUE}: choose fewer payments or an earlier begin."
        yield ("payments",), message, "range"


def _basics(terms: LoanTerms) -> Iterator[tuple[Loc, str, str]]:
    if terms.principal <= 0:
        yield ("principal",), "The principal is more than nothing.", "range"
    yield from _rate(("annual_rate",), terms.annual_rate)
    if terms.payments is None and terms.payment is None:
        yield ("payments",), "Say how many payments there are, or how much each is.", "needed"
    if terms.payments is not None and not 1 <= terms.payments <= terms.most_payments:
        yield ("payments",), f"A loan has at least one payment, and lasts at most {LONGEST_YEARS} years.", "range"
    if terms.payment is not None and terms.payment <= 0:
        yield ("payment",), "A payment is more than nothing.", "range"
    if terms.first_payment < terms.disbursed:
        yield (
            ("first_payment",),
            f"The first payment comes before the loan is paid out on {full_day(terms.disbursed)}.",
            "range",
        )
    if not 0 <= terms.balloon <= terms.amount_financed:
        yield ("balloon",), "The balloon is at most what is borrowed.", "range"
    elif terms.balloon and terms.payments is None:
        yield ("balloon",), "A balloon is due with the last payment: say how many payments there are.", "needed"
    if terms.interest_only < 0 or (terms.payments is not None and terms.interest_only >= terms.payments):
        yield ("interest_only",), "Fewer payments than there are in all can be of interest alone.", "range"
    if terms.accelerated and terms.payments_per_year not in (26, 52):
        yield ("accelerated",), "Only payments every one or two weeks can be accelerated.", "range"


def _rate(loc: Loc, rate: Decimal) -> Iterator[tuple[Loc, str, str]]:
    if not 0 <= rate <= _HIGHEST_RATE:
        yield loc, f"A rate is between 0 and {_HIGHEST_RATE} percent a year.", "range"


def _dated(terms: LoanTerms) -> Iterator[tuple[Loc, str, str]]:
    for name in ("rate_changes", "payment_changes", "escrow", "lenders"):
        starts = [one_change.start for one_change in getattr(terms, name)]
        if len(set(starts)) < len(starts):
            yield (name,), "Two of these are for the same date: one date has one.", "duplicate_date"
    for number, change in enumerate(terms.rate_changes):
        yield from _rate(("rate_changes", number, "annual_rate"), change.annual_rate)
    for number, payment in enumerate(terms.payment_changes):
        if payment.amount <= 0:
            yield ("payment_changes", number, "amount"), "A payment is more than nothing.", "range"
    for number, part in enumerate(terms.escrow):
        if part.amount < 0:
            yield ("escrow", number, "amount"), "An escrow part is zero or more.", "range"
    for number, lender in enumerate(terms.lenders):
        if not lender.name.strip():
            yield ("lenders", number, "name"), "Say who is paid.", "needed"
        if lender.fee < 0:
            yield ("lenders", number, "fee"), "A fee is zero or more.", "range"
    for number, extra in enumerate(terms.extras):
        for field, message in _extra(terms, extra):
            yield ("extras", number, field), message, "range"


def _years_before(terms: LoanTerms) -> Iterator[tuple[Loc, str, str]]:
    years = [year_before.year for year_before in terms.years_before]
    for number, before in enumerate(terms.years_before):
        if before.year < terms.disbursed.year:
            yield ("years_before", number, "year"), f"The loan is paid out in {terms.disbursed.year}.", "range"
        if years.index(before.year) < number:
            yield ("years_before", number, "year"), f"{before.year} is there already.", "duplicate_date"
        if before.interest < 0 or before.property_tax < 0:
            yield ("years_before", number, "interest"), "What was paid is zero or more.", "range"


def _extra(terms: LoanTerms, extra: Extra) -> Iterator[tuple[str, str]]:
    if extra.amount < 0:
        yield "amount", "An extra is zero or more."
    shapes = [extra.date is not None, extra.every is not None, extra.yearly_in is not None]
    if sum(shapes) != 1:
        yield "date", "An extra is on one date, with every so many payments, or yearly in a month."
    if extra.date is not None and extra.date < terms.disbursed:
        yield "date", f"An extra comes after the loan is paid out on {full_day(terms.disbursed)}."
    if extra.every is not None and extra.every < 1:
        yield "every", "With every payment, every second one, and so on: 1 or more."
    if extra.yearly_in is not None and not 1 <= extra.yearly_in <= 12:
        yield "yearly_in", "A month is from 1 to 12."
    if extra.start is not None and extra.until is not None and extra.until < extra.start:
        yield "to", "It ends before it begins."


def _parts(terms: LoanTerms) -> Iterator[tuple[Loc, str, str]]:
    for number, fee in enumerate(terms.fees):
        if fee.amount < 0:
            yield ("fees", number, "amount"), "A fee is zero or more.", "range"
    if sum(fee.amount for fee in terms.fees if not fee.financed) >= terms.principal > 0:
        yield ("fees",), "The fees take all that is borrowed.", "range"
    if terms.insurance is not None:
        if terms.insurance.amount < 0:
            yield ("insurance", "amount"), "Insurance is zero or more.", "range"
        if not 0 < terms.insurance.until_share <= 100:
            yield ("insurance", "until_share"), "A share is above 0 and at most 100 percent.", "range"
        if terms.insurance.original_value <= 0:
            yield ("insurance", "original_value"), "The value is more than nothing.", "range"


def contradictions(terms: LoanTerms, currency: str) -> Iterator[tuple[Loc, str, str]]:
    """A payment, a term and a rate that do not agree: the last payment would be far from the others."""
    if terms.payment is None or terms.payments is None or terms.accelerated or terms.negative_amortization:
        return
    if terms.payment_changes:
        return  # what was agreed later is what pays it off
    try:
        plain = schedule(replace(terms, extras=(), rate_changes=(), payment_changes=(), insurance=None))
    except LoanError:
        return  # it does not cover its interest, which is said otherwise
    last = plain.interest[-1] + plain.principal[-1] - terms.balloon
    is_early, is_large = len(plain) < terms.payments - 1, last > 2 * terms.payment
    if not (is_early or is_large):
        return
    rest = terms.payments - terms.interest_only
    fitting = payment_for(terms, terms.amount_financed, terms.annual_rate, rest)
    beyond = format_amount(last - terms.payment, currency)
    wording = (
        f"payment {len(plain)} of {terms.payments} would be the last"
        if is_early
        else f"the last payment would be {beyond} more than the others"
    )
    message = (
        f"Payment, term and rate do not agree: with {format_amount(terms.payment, currency)}, {wording}. Leave the "
        f"payment or the number of payments empty, or make the payment {format_amount(fitting, currency)}."
    )
    yield ("payment",), message, "contradiction"
