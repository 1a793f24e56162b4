"""What each line of a bank is: known, an entry, something expected, a transfer, or new.

docs/rules.md, Lines from a bank. The kinds are tried one after another over all statements; within a kind the nearest
pairs go first, then the likelier payee, then the earlier. Each line, entry and occurrence is used once.
"""

import re
from bisect import bisect_left, bisect_right
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Sequence
from datetime import date
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.bank_lines.coming import WITHIN, Coming, coming_on
from next_penny.core.bank_lines.found import Is, Known, OnAccount, Place
from next_penny.core.bank_lines.payees import likeness, names
from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.bank_lines import identity_of, rule_for
from next_penny.core.plan.starter import UNSORTED_INCOME, UNSORTED_SPENDING
from next_penny.core.problems import while_waited_for

ENTRY_DAYS = 5
# Of equal amounts on nearly the same day, so many are looked at for a line.
_MOST_ALIKE = 60


class _Pair(NamedTuple):
    """A line and what it may be; smaller goes first."""

    days: int
    rank: int
    unlike: int
    day: int
    place: Place
    at: int


class _Matching:
    def __init__(self, moment: Moment, statements: Sequence[OnAccount | None], known: Known) -> None:
        self.moment, self.statements, self.known = moment, statements, known
        self.kind_by_place: dict[Place, Is] = {}
        self.used: set[str] = set()

    def open_lines(self) -> Iterator[tuple[Place, Account, FileLine]]:
        """The lines of which it is not known yet what they are."""
        for number, statement in enumerate(self.statements):
            if statement is not None:
                for at, line in enumerate(while_waited_for(statement.lines)):
                    if (number, at) not in self.kind_by_place:
                        yield (number, at), statement.account, line

    def take_known(self) -> None:
        """What was taken in before: by the bank's id, else the so-many-th of its day, amount and text."""
        seen: dict[str, Counter[tuple[object, ...]]] = defaultdict(Counter)
        own = {entry.id: entry for entry in self.known.entries}
        # What this household gave out comes back with the bank's ids, and the days that the entries have now.
        tied = {(tie.account, tie.id, entry.date, entry.on(tie.account)): entry
                for entry in self.known.entries for tie in entry.bank_ids if tie.id}  # fmt: skip
        for place, account, line in self.open_lines():
            identity = identity_of(line.date, line.amount, line.bank_id, line.text)
            seen[account.id][identity] += 1
            times = seen[account.id][identity]
            known_times = self.known.lines.get(account.id, Counter())[identity]
            is_again = line.bank_id is not None and (known_times > 0 or times > 1)
            entry = tied.get((account.id, line.bank_id or "", line.date, line.amount)) or own.get(line.bank_id or "")
            is_own = entry is not None and entry.on(account.id) == line.amount
            if is_own or is_again or times <= known_times:
                self.kind_by_place[place] = Is("known", entry=entry.id if is_own and entry is not None else None)

    def take_entries_and_occurrences(self) -> None:
        """The nearest of recorded entries and of what is expected; at equal distance the entry."""
        coming = self._coming
        entries = self._entries_by_amount
        choices: list[Entry | Coming] = []
        pairs: list[_Pair] = []
        for place, account, line in self.open_lines():
            number = line.date.toordinal()
            for entry in _around(entries[account.id].get(line.amount, _NO_ENTRIES), number):
                if not _is_tied(entry, account.id, line):
                    pairs.append(_Pair(abs((entry.date - line.date).days), 0, 3 - likeness(line.text, entry.payee),
                                       entry.date.toordinal(), place, len(choices)))  # fmt: skip
                    choices.append(entry)
            for one_coming in _near(coming.get(account.id, _NOTHING_COMES), number):
                days = one_coming.days_from(line.date)
                fits = one_coming.amount == line.amount or (one_coming.is_about and one_coming.is_near(line.amount))
                if days is not None and fits:
                    pairs.append(
                        _Pair(days, 1, 3 - _alike(line, one_coming), one_coming.lands.toordinal(), place, len(choices))
                    )
                    choices.append(one_coming)
        for pair in sorted(pairs):
            if pair.place not in self.kind_by_place:
                self._take(pair.place, choices[pair.at], offered=False)

    def offer_like_payees(self) -> None:
        """What is expected from or for the same payee with an amount nearly as large: a person decides."""
        coming = self._coming
        choices: list[Coming] = []
        pairs: list[_Pair] = []
        for place, account, line in self.open_lines():
            for one_coming in _near(coming.get(account.id, _NOTHING_COMES), line.date.toordinal()):
                days = one_coming.days_from(line.date)
                if days is not None and one_coming.is_near(line.amount) and _alike(line, one_coming) >= 2:
                    pairs.append(
                        _Pair(days, 1, 3 - _alike(line, one_coming), one_coming.lands.toordinal(), place, len(choices))
                    )
                    choices.append(one_coming)
        for pair in sorted(pairs):
            if pair.place not in self.kind_by_place:
                self._take(pair.place, choices[pair.at], offered=True)

    def _take(self, place: Place, choice: "Entry | Coming", *, offered: bool) -> None:
        """Each is used once on an account: what moves between two of them is a line on both."""
        statement = self.statements[place[0]]
        on = statement.account.id if statement is not None else ""
        if isinstance(choice, Entry):
            name, what = f"entry {choice.id} {on}", Is("entry", entry=choice.id)
        else:
            name = f"{choice.flow.id} {choice.nominal} {on}"
            what = Is("occurrence", offered, flow=choice.flow.id, nominal=choice.nominal)
        if name not in self.used:
            self.used.add(name)
            self.kind_by_place[place] = what

    def take_transfers(self) -> None:
        """The opposite amount on another account of the household: ticked where the words name that account."""
        plan = self.moment.plan
        entries = self._entries_by_amount
        waiting: dict[tuple[str, int], list[tuple[Place, Account, FileLine]]] = defaultdict(list)
        opened = list(self.open_lines())
        for place, account, line in opened:
            waiting[account.currency, line.amount].append((place, account, line))
        choices: list[tuple[Account, Entry | Place, bool]] = []
        pairs: list[_Pair] = []

        def pair(place: Place, line: FileLine, day: date, other: Account, what: Entry | Place, named: bool) -> None:
            days = abs((day - line.date).days)
            pairs.append(_Pair(days, 0, 0 if named else 1, line.date.toordinal(), place, len(choices)))
            choices.append((other, what, named))

        for place, account, line in opened:
            for other_place, other, other_line in waiting.get((account.currency, -line.amount), ())[:_MOST_ALIKE]:
                if other.id != account.id and place < other_place and _days(line, other_line) <= ENTRY_DAYS:
                    named = self._names(line, other) or self._names(other_line, account)
                    pair(place, line, other_line.date, other, other_place, named)
            for other in plan.accounts:
                if other.id == account.id or other.currency != account.currency:
                    continue
                for entry in _around(entries[other.id].get(-line.amount, _NO_ENTRIES), line.date.toordinal()):
                    if _is_one_sided(entry, account.id):
                        pair(place, line, entry.date, other, entry, self._names(line, other))
        for one in sorted(pairs):
            self._take_transfer(one.place, *choices[one.at])

    def _take_transfer(self, place: Place, other: Account, what: "Entry | Place", named: bool) -> None:
        if place in self.kind_by_place:
            return
        if isinstance(what, Entry):
            if f"moved {what.id}" not in self.used:
                self.used.add(f"moved {what.id}")
                self.kind_by_place[place] = Is("transfer", not named, entry=what.id, account=other.id)
        elif what not in self.kind_by_place:
            mine = self.statements[place[0]]
            assert mine is not None
            self.kind_by_place[place] = Is("transfer", not named, account=other.id, partner=what)
            self.kind_by_place[what] = Is("transfer", not named, account=mine.account.id, partner=place)

    def _names(self, line: FileLine, account: Account) -> bool:
        text = f"{line.text}\n{line.number}"
        ends = self.known.last_fours.get(account.id, ())
        return names(text, account.name) or any(re.search(rf"(?<!\d){re.escape(end)}(?!\d)", text) for end in ends)

    def sort_the_rest(self) -> None:
        """What is new goes where the household's rules say, else where its payee went last, else it is to be sorted."""
        for place, account, line in list(self.open_lines()):
            self.kind_by_place[place] = Is("new", category=self.category_of(account, line))

    def category_of(self, account: Account, line: FileLine) -> str:
        """Where a new line belongs."""
        plan = self.moment.plan
        rule = rule_for(self.known.rules, line.payee, account.id, line.amount)
        last = self.known.categories.get(line.payee.casefold())
        for category in (rule.category if rule is not None else None, last):
            existing = plan.category_by_id.get(plan.merged(category) or "")
            if existing is not None and not existing.retired:
                return existing.id
        return UNSORTED_INCOME.id if line.amount > 0 else UNSORTED_SPENDING.id

    @cached_property
    def _coming(self) -> dict[str, "_Coming"]:
        accounts = frozenset(statement.account.id for statement in self.statements if statement is not None)
        days = [line.date for statement in self.statements if statement is not None for line in statement.lines]
        if not days:
            return {}
        coming = coming_on(self.moment, accounts, max(days))
        return {account: _Coming.of(rows) for account, rows in coming.items()}

    @cached_property
    def _entries_by_amount(self) -> "dict[str, dict[int, _Dated]]":
        by_account: dict[str, dict[int, _Dated]] = defaultdict(lambda: defaultdict(lambda: _Dated([], [])))
        for entry in sorted(self.known.entries, key=lambda one_entry: one_entry.date):
            for account in {leg.account for leg in entry.legs if leg.account is not None}:
                of_amount = by_account[account][entry.on(account)]
                of_amount.days.append(entry.date.toordinal())
                of_amount.entries.append(entry)
        return by_account


class _Dated(NamedTuple):
    """Entries by day, and their day numbers."""

    days: list[int]
    entries: list[Entry]


_NO_ENTRIES = _Dated([], [])


class _Coming(NamedTuple):
    """What is expected on an account by the day on which it lands."""

    days: list[int]
    rows: list[Coming]
    reach: int

    @classmethod
    def of(cls, rows: Sequence[Coming]) -> "_Coming":
        ordered = sorted(rows, key=lambda coming: coming.lands)
        reach = WITHIN + max((row.flow.late_days for row in rows), default=0)
        return cls([coming.lands.toordinal() for coming in ordered], ordered, reach)


_NOTHING_COMES = _Coming([], [], WITHIN)


def _near(coming: _Coming, day: int) -> Sequence[Coming]:
    """What may land around a day; how late each may be is asked of it."""
    first = bisect_left(coming.days, day - coming.reach)
    return coming.rows[first : bisect_right(coming.days, day + WITHIN)]


def _around(entries: _Dated, day: int) -> Sequence[Entry]:
    """Those around a day, the nearest where there are very many."""
    first, last = bisect_left(entries.days, day - ENTRY_DAYS), bisect_right(entries.days, day + ENTRY_DAYS)
    if last - first <= _MOST_ALIKE:
        return entries.entries[first:last]
    return sorted(entries.entries[first:last], key=lambda entry: abs(entry.date.toordinal() - day))[:_MOST_ALIKE]


def _is_tied(entry: Entry, account: str, line: FileLine) -> bool:
    """Whether a line of the bank was found to be it already; one without an id gives way to one that has one."""
    if not entry.bank_ids:
        return False
    ties = [tie for tie in entry.bank_ids if tie.account == account]
    return any(tie.id for tie in ties) or (bool(ties) and line.bank_id is None)


def _is_one_sided(entry: Entry, account: str) -> bool:
    """Whether an entry moves money on one account alone, so that the other side may be missing."""
    accounts = {leg.account for leg in entry.legs if leg.account is not None}
    return len(accounts) == 1 and account not in accounts and entry.flow is None


def _alike(line: FileLine, coming: Coming) -> int:
    return max(likeness(said, name) for said in (line.payee, line.memo) for name in coming.payees)


def _days(one: FileLine, other: FileLine) -> int:
    return abs((one.date - other.date).days)


def match(
    moment: Moment, statements: Sequence[OnAccount | None], known: Known
) -> list[list[Is] | None]:  # fmt: skip
    """What each line of some statements is; None for a statement of which nobody knows the account."""
    matching = _Matching(moment, statements, known)
    steps: tuple[Callable[[], None], ...] = (
        matching.take_known,
        matching.take_entries_and_occurrences,
        matching.offer_like_payees,
        matching.take_transfers,
        matching.sort_the_rest,
    )
    for step in steps:
        step()
    return [
        None if on_account is None else [matching.kind_by_place[number, at] for at in range(len(on_account.lines))]
        for number, on_account in enumerate(statements)
    ]
