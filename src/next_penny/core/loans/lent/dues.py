"""What is still to be received of money lent: what is due by today, and what comes until nothing is owed."""

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

from next_penny.core.loans.extras import NOTHING_HAPPENED
from next_penny.core.loans.lent.accrual import Part
from next_penny.core.loans.lent.books import NEVER, LentBooks
from next_penny.core.loans.schedule import household_schedule
from next_penny.core.loans.walked import Resume


class Due(NamedTuple):
    """What is still to be received of one due day: nominal and landing day numbers, and of what it is made."""

    nominal: int
    lands: int
    interest: int
    principal: int

    @property
    def amount(self) -> int:
        return self.interest + self.principal


def open_dues(books: LentBooks) -> Iterator[Due]:
    """What is due by today and not received, as far as anything is owed; of interest first."""
    now = books.now
    covering = _received(books)
    walk, left = books.walked(now), sum(max(0, part) for part in books.owed_on(now))
    is_todays = False
    for due in books.planned(now):
        covered = min(covering, due.amount)
        covering -= covered
        rest = min(due.amount - covered, left)
        if due.lands == now and not books.carries and not is_todays:
            # Nobody waits for what was missed: what comes today begins with all that is owed.
            walk, is_todays = books.walked(now), True
        if books.schedule is None:
            part = walk.take(rest)
        else:
            interest = min(rest, max(0, due.interest - covered))
            part = Part(interest, min(rest - interest, max(0, walk.balance)))
            walk.balance -= part.principal
        left -= part.amount
        if part.amount:
            yield Due(due.nominal, due.lands, part.interest, part.principal)


def _received(books: LentBooks) -> int:
    """All that came by today, but for what came early for a day after it."""
    now = books.now
    principal = sum(-amount for day, amount in books.postings if amount < 0 and day <= now)
    interest = sum(receipt.interest for receipt in books.receipts if receipt.day <= now)
    return (
        principal
        + interest
        - sum(receipt.amount for receipt in books.receipts if receipt.day <= now < (receipt.nominal or 0))
    )


class Coming:
    """What comes after today: due in full until nothing is owed, as far as it was asked for."""

    def __init__(self, books: LentBooks, assumed: Sequence[Due]) -> None:
        self._books, self._assumed = books, assumed
        # What was found last, by the day until which it was asked for: one piece, for several ask at once.
        self._reached: tuple[int, list[Due]] = (0, [])

    def until(self, last: int) -> list[Due]:
        """What lands by a day, in nominal order."""
        reached, dues = self._reached
        if last > reached:
            reached, dues = self._reached = last, self._find(last)
        return dues if last == reached else [due for due in dues if due.lands <= last]

    def _find(self, last: int) -> list[Due]:
        books = self._books
        if books.terms.terms is None and books.terms.repays is None:
            return []
        named = self._received_early()
        return self._scheduled(last, named) if books.schedule is not None else self._by_rules(last, named)

    def _received_early(self) -> dict[int, int]:
        """By due day after today, what was received for it by name."""
        now, named = self._books.now, dict[int, int]()
        for receipt in self._books.receipts:
            if receipt.day <= now < (receipt.nominal or 0):
                named[receipt.nominal or 0] = named.get(receipt.nominal or 0, 0) + receipt.amount
        return named

    def _by_rules(self, last: int, named: Mapping[int, int]) -> list[Due]:
        books, now = self._books, self._books.now
        walk = books.walked(now)
        for one_due in self._assumed:
            walk.take(one_due.amount)
        rows = [(day, 0, principal, interest) for day, principal, interest in books.by_day(NEVER) if day > now]
        rows += [(due.lands, due.nominal, max(0, due.amount - named.get(due.nominal, 0)), 0)
                 for due in books.planned(last) if due.lands > now]  # fmt: skip
        dues = []
        for day, nominal, amount, interest in sorted(rows):
            walk.to(day)
            if not nominal:
                walk.record(amount, interest)
                continue
            part = walk.take(amount)
            if part.amount:
                dues.append(Due(nominal, day, part.interest, part.principal))
        return sorted(dues)

    def _scheduled(self, last: int, named: Mapping[int, int]) -> list[Due]:
        books, now = self._books, self._books.now
        whole, terms = books.schedule, books.terms.terms
        assert whole is not None
        assert terms is not None
        columns, passed = whole.columns, 0
        while passed < len(whole) and (
            whole.due[passed] <= now
            or named.get(whole.due[passed], 0) >= columns.interest[passed] + columns.principal[passed]
        ):
            passed += 1
        owed = books.walked(NEVER).balance - sum(due.principal for due in self._assumed)
        if owed <= 0 or passed >= len(whole):
            return []
        since = whole.due[passed - 1] if passed else whole.since
        resume = Resume(whole.first_number - 1 + passed, owed, since, whole.levels[passed])
        rest = household_schedule(terms, resume, NOTHING_HAPPENED).columns
        rows = {
            day: (interest, principal + extra)
            for day, interest, principal, extra in zip(
                rest.due, rest.interest, rest.principal, rest.planned, strict=True
            )
            if day > now
        }
        landing = books.landing(list(rows))
        return [Due(day, lands, *rows[day]) for day, lands in landing.items() if lands <= last]
