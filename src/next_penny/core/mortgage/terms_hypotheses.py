"""What may be wrong with the terms that a loan's books go by, each with what would put it right."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from next_penny.core.dates.day_counts import DAY_COUNTS, METHODS, InterestMethod, year_fraction
from next_penny.core.dates.sentences import full_day
from next_penny.core.edits.revising_accounts import revise_loan
from next_penny.core.loans.standing import Standing
from next_penny.core.money import percent_text, round_half_up
from next_penny.core.mortgage.evidence import LOOKED_BACK, Evidence, Hypothesis, day_of, targets_of
from next_penny.core.mortgage.loan_books import LoanBooks, paying_legs, split_legs
from next_penny.core.mortgage.splitting import Correction
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry

# How far from the rate that a statement's interest would take the right one may be, and how many steps.
_NEAR_RATE, _NEAR_STEPS = Decimal("0.06"), 20


# How far a statement's interest may be from what a method counts on the books' balance, which may be off.
_NEAR_INTEREST = Fraction(3, 1000)


# What rounding may come to: so much for each payment of the year, and at least so much.
_ROUNDING = 5


def escrow_changed(seen: Evidence) -> Iterator[Hypothesis]:
    last, split = seen.settled[-1:], seen.statement.last_split
    if not last or split is None or split.escrow is None or "last_escrow" not in seen.differs:
        return
    if split.escrow < 0:
        return  # no payment takes out of escrow
    for count in range(1, min(LOOKED_BACK, len(seen.settled)) + 1):
        since = seen.settled[-count]
        assert since.nominal is not None
        account = revise_loan(seen.books.account, {"escrow": split.escrow}, since.nominal, keep_later=True).item
        changes = (PlanChange("account", account.id, account),)
        sentence = f"Escrow is {seen.money(split.escrow)} with each payment from {full_day(since.nominal)} on."
        paid = seen.settled[-count:]
        yield Hypothesis(
            "escrow_changed", sentence, Correction(changes, targets=targets_of(paid)), count == 1, count > 1
        )
        entries: dict[str, Entry | None] = {entry.id: _with_escrow(seen.books, entry, split.escrow) for entry in paid}
        also = f"{sentence} What left the account is more or less by as much."
        yield Hypothesis("escrow_changed", also, Correction(changes, entries), is_simple=count == 1)


def _with_escrow(books: LoanBooks, entry: Entry, escrow: int) -> Entry:
    """A payment with another escrow part, larger or smaller by as much."""
    parts = books.parts(entry)
    paying = paying_legs(books, entry)
    if paying:
        more = replace(paying[0], amount=paying[0].amount - (escrow - parts.escrow))
        entry = replace(entry, legs=tuple(more if leg is paying[0] else leg for leg in entry.legs))
    return replace(entry, legs=split_legs(books, entry, parts._replace(escrow=escrow)))


def rate_changed(seen: Evidence) -> Iterator[Hypothesis]:
    split = seen.statement.last_split
    if split is None or split.interest is None or "last_interest" not in seen.differs:
        return
    standing = seen.splitter.loan_standing
    for count in range(1, min(LOOKED_BACK, len(seen.settled)) + 1):
        paid = seen.settled[-count:]
        since = paid[0].nominal
        assert since is not None
        rate = _rate_since(seen, paid, split.interest)
        if rate is not None:
            begin = date.fromordinal(period_begin(standing, since.toordinal()))
            account = revise_loan(seen.books.account, {"annual_rate": rate}, begin, keep_later=True).item
            wording = f"The rate is {percent_text(rate)} from {full_day(begin)} on."
            changes = (PlanChange("account", account.id, account),)
            correction = Correction(changes, targets=targets_of(paid))
            yield Hypothesis("rate_changed", wording, correction, is_simple=count == 1, is_last=count > 1)


def period_begin(standing: Standing, day: int) -> int:
    """The day from which the interest of a due day runs."""
    return max((due_day for due_day in standing.shown.due if due_day < day), default=standing.shown.since)


def _rate_since(seen: Evidence, paid: Sequence[Entry], interest: int) -> Decimal | None:
    """The simplest rate from the first of some payments on that makes the last one's interest what the statement says.

    None where none does. Rates are looked for around the one that the books' own balance would take.
    """
    standing = seen.splitter.loan_standing
    owed = -seen.books.balance(seen.books.account, paid[0].date - timedelta(days=1))
    dues = [entry.nominal.toordinal() for entry in paid if entry.nominal is not None]
    row = standing.row_by_day.get(dues[-1])
    shares = [share_of_year(standing, due) for due in dues]
    if owed <= 0 or row is None or row.interest <= 0:
        return None
    sums = [parts.interest + parts.principal for parts in map(seen.books.parts, paid)]
    about = row.annual_rate * interest / row.interest
    for rate in _simple_rates_near(about):
        if rate != row.annual_rate and _last_interest(owed, rate, sums, shares) == interest:
            return rate
    return None


def share_of_year(standing: Standing, due: int, method: InterestMethod | None = None) -> Fraction:
    """The part of a year for which a payment's interest runs, as the loan counts it or by another method."""
    counted = method or standing.terms.interest
    if counted == "equal_periods":
        return Fraction(1, standing.terms.payments_per_year)
    return year_fraction(counted, period_begin(standing, due), due)


def _last_interest(owed: int, rate: Decimal, sums: Sequence[int], shares: Sequence[Fraction]) -> int:
    """The last payment's interest when each of some sums pays interest first, then principal."""
    interest = 0
    for paid, share in zip(sums, shares, strict=True):
        interest = round_half_up(owed * Fraction(rate) / 100 * share)
        owed -= paid - interest
    return interest


def _simple_rates_near(about: Decimal) -> Iterator[Decimal]:
    """Rates close to one, the simplest first: eighths, hundredths, thousandths."""
    for step in (Decimal("0.125"), Decimal("0.01"), Decimal("0.001")):
        nearest = (about / step).to_integral_value()
        for away in sorted(range(-_NEAR_STEPS, _NEAR_STEPS + 1), key=abs):
            rate = (nearest + away) * step
            if abs(rate - about) <= _NEAR_RATE and rate >= 0:
                yield rate.normalize()


def other_method(seen: Evidence) -> Iterator[Hypothesis]:
    terms = seen.splitter.loan_standing.terms
    for method in METHODS:
        if method == terms.interest or not _may_be(seen, method):
            continue
        account = replace(seen.books.account, loan=replace(terms, interest=method))
        changes = (PlanChange("account", account.id, account),)
        wording = f"Interest is counted {DAY_COUNTS[method].words}, not {DAY_COUNTS[terms.interest].words}."
        year = [entry for entry in seen.settled if entry.date.year == seen.statement.date.year]
        for entries in (seen.settled[-1:], year, seen.settled):
            if entries:
                yield Hypothesis(
                    "other_method",
                    wording,
                    Correction(changes, targets=targets_of(entries)),
                    is_simple=False,
                    is_last=True,
                )


def _may_be(seen: Evidence, method: InterestMethod) -> bool:
    """Whether the statement's last interest is near what a method counts; what it does not show rules nothing out."""
    split, last = seen.statement.last_split, seen.settled[-1] if seen.settled else None
    if last is None or last.nominal is None or split is None or split.interest is None:
        return True
    standing, due = seen.splitter.loan_standing, last.nominal.toordinal()
    row = standing.row_by_day.get(due)
    if row is None:
        return False
    share = share_of_year(standing, due, method)
    owed = -seen.books.balance(seen.books.account, last.date - timedelta(days=1))
    counted = owed * Fraction(row.annual_rate) / 100 * share
    return abs(counted - split.interest) <= counted * _NEAR_INTEREST


def rounding(seen: Evidence) -> Iterator[Hypothesis]:
    if not seen.paid:
        return
    last = seen.paid[-1]
    counted = sum(entry.date.year == seen.statement.date.year for entry in seen.paid)
    parts = seen.books.parts(last)
    shifts = [seen.differs.get(item, 0) for item in ("last_interest", "interest_to_date", "principal_balance")]
    for shift in dict.fromkeys(shifts):
        if 0 < abs(shift) <= max(_ROUNDING, counted):
            interest = parts.interest + shift
            entry = replace(last, legs=split_legs(seen.books, last, parts._replace(interest=interest)))
            wording = f"The lender rounds otherwise: {seen.money(abs(shift))} of the payment of {day_of(last)} is "
            wording += "interest, not principal." if shift > 0 else "principal, not interest."
            yield Hypothesis("rounding", wording, Correction(entries={entry.id: entry}))
