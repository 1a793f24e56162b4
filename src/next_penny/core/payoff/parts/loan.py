"""A loan in the way out: its schedule goes on from where it stands, and the plan pays extras."""

from bisect import bisect_left
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import groupby

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.loans.extras import History, extras_from, extras_until
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.loans.walked import Resume
from next_penny.core.payoff.debts import MONTHS_A_YEAR, LoanDebt
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.parts.part import Payment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.kept.way_out import Replaced
from next_penny.core.plan.terms.loans import Extra, LoanTerms

# Due dates are listed so many months at a time.
_LOOKED_AT = 30 * MONTHS_A_YEAR


@dataclass(frozen=True, slots=True)
class LoanPart:
    """A loan that is owed: see `DebtPart`."""

    account: Account
    terms: LoanTerms
    cannot_join: None = None
    left_out: None = None

    @property
    def original(self) -> int:
        return self.terms.amount_financed

    def debt(self, moment: Moment, owed: int, start: int) -> LoanDebt:
        loan_standing = standing(moment, self.account)
        shown, first, settled = loan_standing.shown, month_start(start), loan_standing.history.settled
        place = bisect_left(shown.due, first)
        while place < len(shown) and shown.due[place] in settled and settled[shown.due[place]].day < first:
            place += 1  # it was paid early
        since = shown.due[place - 1] if place else shown.since
        # What moved since the last due date, or from the opening day on, is in what is owed, and counts with the next.
        begin = since if place else since - 1
        moved = [moved_day for moved_day in (*shown.moved, *shown.between) if begin < moved_day.day < first]
        paid = shown.first_number - 1 + place
        level = shown.levels[min(place, len(shown) - 1)] if paid and paid >= loan_standing.terms.interest_only else None
        resume = Resume(paid, owed + sum(moved_day.amount for moved_day in moved), since, level)
        history = History(by_hand=tuple(sorted(moved)))
        return LoanDebt(
            self.account.id, self.account.name, owed, replace(loan_standing.terms, extras=()), resume, history
        )

    def minimums_only(self, first: int) -> Account:
        return self._with(extras_until(self.terms.extras, date.fromordinal(first) - timedelta(days=1)))

    def due_days(self, moment: Moment, first: int, last: int) -> Iterator[int]:
        return (day for day in standing(moment, self.account).shown.due if first <= day <= last)

    def last_due_days(self, month: int) -> Mapping[int, int]:
        until = month + _LOOKED_AT
        due = {month_number(date.fromordinal(day)): day for day in self.terms.due_days_until(month_end(until))}
        return dict.fromkeys(range(month, until + 1), 0) | due

    def planned(self, moment: Moment, months: Sequence[DebtMonth], start: int) -> Account:
        made = _extras(moment, standing(moment, self.account), months, start)
        return self._with((*self.terms.extras, *made))

    def replaced(self, cut: Account, planned: Account) -> Replaced | None:
        if cut.loan is None or cut.loan.extras == self.terms.extras:
            return None
        return Replaced(self.account.id, extras=self.terms.extras)

    def with_replaced(self, replaced: Replaced, first: int) -> Account:
        return self._with(_joined(self.terms, replaced.extras, date.fromordinal(first)))

    def payments(self, moment: Moment) -> Iterator[Payment]:
        loan_standing = standing(moment, self.account)
        for row, planned in zip(loan_standing.shown.rows, loan_standing.shown.columns.planned, strict=True):
            by_hand = row.extra - planned
            if row.due in loan_standing.history.settled:
                yield Payment(row.due, row.payment + row.extra, row.interest)
            elif row.due <= moment.now and by_hand:
                yield Payment(row.due, by_hand, 0)

    def interest_between(self, moment: Moment, first: int, last: int) -> int:
        return sum(row.interest for row in standing(moment, self.account).shown.rows if first <= row.due <= last)

    def above_minimum(self, first: int, last: int, least: DebtMonth) -> int:
        return sum(self._monthly(extra) for extra in self.terms.extras if _is_in_force(extra, first, last))

    def paid_as_now(self, month: DebtMonth, above: int) -> int:
        return month.minimum + above if month.minimum else 0

    def _monthly(self, extra: Extra) -> int:
        times_a_year = 1 if extra.yearly_in is not None else self.terms.payments_per_year
        return extra.amount * times_a_year // (12 * (extra.every or 1))

    def _with(self, extras: tuple[Extra, ...]) -> Account:
        return replace(self.account, loan=replace(self.terms, extras=extras))


def _extras(moment: Moment, loan_standing: Standing, months: Sequence[DebtMonth], start: int) -> Iterator[Extra]:
    """Paid with a month's last payment; equal ones in a row are one extra, where there is one payment a month."""
    due = {}
    for day in loan_standing.terms.due_days_until(month_end(start + len(months) - 1)):
        if day >= max(month_start(start), moment.now) and day not in loan_standing.history.settled:
            due[month_number(date.fromordinal(day))] = date.fromordinal(day)
    paid = [(start + place, month.extra) for place, month in enumerate(months) if start + place in due]
    if loan_standing.terms.payments_per_year != 12:
        yield from (Extra(amount, date=due[month]) for month, amount in paid if amount)
        return
    for amount, same in groupby(paid, key=lambda paid_one: paid_one[1]):
        days = [due[month] for month, _ in same]
        if amount:
            yield Extra(amount, every=1, start=days[0], until=days[-1])


def _joined(terms: LoanTerms, replaced: Iterable[Extra], first: date) -> tuple[Extra, ...]:
    """A loan's extras with those that were replaced from a day on; one that was cut there is whole again."""
    extras = list(terms.extras)
    for extra in replaced:
        (before,) = extras_until([extra], first - timedelta(days=1)) or (None,)
        if before in extras:
            extras[extras.index(before)] = extra
        else:
            extras += extras_from(replace(terms, extras=(extra,)), first)
    return tuple(extras)


def _is_in_force(extra: Extra, first: int, last: int) -> bool:
    """Whether an extra repeats, and is paid in a stretch of days or begins by its end."""
    begins = extra.start is None or extra.start.toordinal() <= last
    return extra.date is None and begins and (extra.until is None or extra.until.toordinal() >= first)
