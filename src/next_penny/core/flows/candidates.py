"""Flows seen in recorded money: from entries that repeat, the rhythm and the amount that a flow would have."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from itertools import pairwise
from statistics import median_low
from typing import Literal, NamedTuple

from next_penny.core.books.books import moved
from next_penny.core.dates.calendar import add_months, month_number, month_start
from next_penny.core.dates.rules import WEEKDAYS
from next_penny.core.money import round_half_up
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

# A candidate that nobody asked for has been seen this often, with amounts no further apart than this.
_LEAST_TIMES = 3
_WIDEST_SPREAD = Fraction(3, 2)
_MOST_LOOKED_AT = 24
_AVERAGED = 3
# By how many days a payment may be off its weekday or its day of the month, for weekends, holidays and slow banks.
_SLACK = 4


@dataclass(frozen=True, slots=True)
class Candidate:
    """A flow as recorded entries suggest it; amounts in minor units. `first` is the next date that it would give.

    `key` names the repeating payment, whatever entries are added to it.
    """

    key: str
    payee: str
    kind: Literal["income", "bill"]
    account: str
    category: str | None
    rule: str
    first: date
    amount: int
    is_estimate: bool
    times: int
    entries: tuple[str, ...]


class _Rhythm(NamedTuple):
    rule: str
    first: date
    days: int


def candidates(plan: Plan, unplanned: Iterable[Entry], declined: Iterable[str], today: date) -> list[Candidate]:
    """What repeats among entries without a flow, is still going on, and was not declined; largest first."""
    known = {name.casefold() for flow in plan.flows for name in (flow.payee, flow.name) if name}
    skipped = set(declined)
    candidates = []
    for key, entries in _groups(unplanned).items():
        recent = entries[-_MOST_LOOKED_AT:]
        if key in skipped or len(recent) < _LEAST_TIMES or recent[0].payee.casefold() in known:
            continue
        amounts = [moved(entry) for entry in recent]
        rhythm = _steady_rhythm([entry.date for entry in recent])
        if rhythm is None or min(amounts) <= 0 or Fraction(max(amounts), min(amounts)) > _WIDEST_SPREAD:
            continue
        if (today - recent[-1].date).days <= rhythm.days * 3 // 2 + _SLACK:
            candidates.append(_candidate(key, recent, rhythm))
    return sorted(candidates, key=lambda candidate: -candidate.amount)


def candidate_from(chosen: Sequence[Entry]) -> Candidate | None:
    """The flow that chosen entries suggest, however few; None where they are not of one kind on one account."""
    groups = _groups(chosen)
    signs = {(key.split("|")[1], key.split("|")[2]) for key in groups}
    if len(signs) != 1 or sum(len(entries) for entries in groups.values()) != len(chosen):
        return None
    entries = sorted(chosen, key=lambda entry: entry.date)
    days = [entry.date for entry in entries]
    return _candidate(next(iter(groups)), entries, _steady_rhythm(days) or _nearest_rhythm(days))


def _groups(entries: Iterable[Entry]) -> dict[str, list[Entry]]:
    """Entries with a payee and one account, by payee, account and whether money came in or went out."""
    groups: defaultdict[str, list[Entry]] = defaultdict(list)
    for entry in entries:
        accounts = [leg for leg in entry.legs if leg.account is not None]
        if entry.payee and len(accounts) == 1 and accounts[0].amount:
            way = "in" if accounts[0].amount > 0 else "out"
            groups[f"{entry.payee.casefold().replace('|', ' ')}|{accounts[0].account}|{way}"].append(entry)
    return groups


def _candidate(key: str, entries: Sequence[Entry], rhythm: _Rhythm) -> Candidate:
    latest = entries[-1]
    account = next(leg for leg in latest.legs if leg.account is not None)
    amounts = [moved(entry) for entry in entries]
    is_estimate = len(set(amounts[-_AVERAGED:])) > 1
    last = amounts[-_AVERAGED:]
    return Candidate(
        key=key,
        payee=latest.payee,
        kind="income" if account.amount > 0 else "bill",
        account=account.account or "",
        category=next((leg.category for leg in latest.legs if leg.category is not None), None),
        rule=rhythm.rule,
        first=rhythm.first,
        amount=round_half_up(Fraction(sum(last), len(last))) if is_estimate else amounts[-1],
        is_estimate=is_estimate,
        times=len(entries),
        entries=tuple(entry.id for entry in entries),
    )


def _steady_rhythm(days: Sequence[date]) -> _Rhythm | None:
    """The rhythm that all of some days keep; None where they keep none."""
    distinct = sorted(set(days))
    if len(distinct) < 2:
        return None
    gaps = [(later - earlier).days for earlier, later in pairwise(distinct)]
    for weeks in (1, 2):
        if all(abs(gap - 7 * weeks) <= 1 for gap in gaps):
            return _weekly(distinct, weeks)
    for months in (1, 2, 3, 6, 12):
        if all(step == months for step in _month_steps(distinct)) and _keeps_day(distinct):
            return _monthly(distinct, months)
    for weeks in (4, 6, 8):
        if all(abs(gap - 7 * weeks) <= 1 for gap in gaps):
            return _weekly(distinct, weeks)
    return None


def _nearest_rhythm(days: Sequence[date]) -> _Rhythm:
    """The rhythm that comes nearest to some days; monthly for a single one."""
    distinct = sorted(set(days))
    gap = median_low([(later - earlier).days for earlier, later in pairwise(distinct)]) if len(distinct) > 1 else 30
    if gap <= 21:
        return _weekly(distinct, 1 if gap <= 10 else 2)
    return _monthly(distinct, min((1, 2, 3, 6, 12), key=lambda months: abs(months * 365 - gap * 12)))


def _month_steps(days: Sequence[date]) -> Iterator[int]:
    """How many months apart neighbouring payments are, each taken for the month that its usual day says."""
    usual = _usual_day(days)
    months = [month_number(date.fromordinal(day.toordinal() - usual + 15)) for day in days]
    return (later - earlier for earlier, later in pairwise(months))


def _usual_day(days: Sequence[date]) -> int:
    (day, times), *_ = Counter(day.day for day in days).most_common()
    return day if times > 1 else median_low([day.day for day in days])


def _keeps_day(days: Sequence[date]) -> bool:
    usual = _usual_day(days)
    off = [abs((day.day - usual + 15) % 31 - 15) for day in days]
    return max(off) <= _SLACK


def _weekly(days: Sequence[date], weeks: int) -> _Rhythm:
    (weekday, _), *_ = Counter(day.weekday() for day in days).most_common()
    interval = f";INTERVAL={weeks}" if weeks > 1 else ""
    latest = days[-1].toordinal()
    off = (days[-1].weekday() - weekday + 3) % 7 - 3
    first = date.fromordinal(latest - off + 7 * weeks)
    return _Rhythm(f"FREQ=WEEKLY{interval};BYDAY={WEEKDAYS[weekday]}", first, 7 * weeks)


def _monthly(days: Sequence[date], months: int) -> _Rhythm:
    is_last = all(add_months(day.replace(day=1), 1).toordinal() - 1 == day.toordinal() for day in days)
    usual = -1 if is_last and len(days) > 1 else _usual_day(days)
    middle = date.fromordinal(days[-1].toordinal() - (28 if usual < 0 else usual) + 15)
    month = month_number(middle) + months
    start = month_start(month)
    length = month_start(month + 1) - start
    first = date.fromordinal(start - 1 + (length if usual < 0 else min(usual, length)))
    if months == 12:
        return _Rhythm(f"FREQ=YEARLY;BYMONTH={first.month};BYMONTHDAY={usual}", first, 365)
    interval = f";INTERVAL={months}" if months > 1 else ""
    return _Rhythm(f"FREQ=MONTHLY{interval};BYMONTHDAY={usual}", first, 30 * months)
