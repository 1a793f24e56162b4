"""What is worth a look in what was recorded lately: entries that stand twice, prices that rose, payees never seen.

Each has a key, by which the household remembers that it looked at it.
"""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import short_day
from next_penny.core.money import format_amount
from next_penny.core.plan.entries import Entry
from next_penny.core.review.occurrences import main_leg

# What happened so long ago is no news any more; what stands twice stands within so few days.
DAYS_BACK, _DAYS_APART = 62, 5

Kind = Literal["doubled", "dearer", "new_payee"]


@dataclass(frozen=True, slots=True)
class Noticed:
    """Something worth a look, and the entry that it is about."""

    key: str
    kind: Kind
    entry: str
    sentence: str


def noticed(
    moment: Moment, recorded: Sequence[Entry], first_seen: Mapping[str, date], begun: date | None
) -> list[Noticed]:
    """What is worth a look among what was recorded in the last two months, up to today; the newest first.

    recorded: what is dated in these days and in the year before. first_seen: by payee, its first day. begun: the first
    day of all entries.
    """
    since = moment.today - timedelta(days=DAYS_BACK)
    entries = sorted(recorded, key=lambda one_entry: (one_entry.date, one_entry.id))
    lately = [entry for entry in entries if since <= entry.date <= moment.today]
    noticed = [*_doubled(moment, entries), *_dearer(moment, entries), *_new_payees(moment, lately, first_seen, begun)]
    days = {entry.id: entry.date for entry in entries}
    return sorted(
        (notice for notice in noticed if since <= days[notice.entry] <= moment.today),
        key=lambda notice: (days[notice.entry], notice.key), reverse=True,
    )  # fmt: skip


def _doubled(moment: Moment, entries: Sequence[Entry]) -> Iterator[Noticed]:
    """The same amount on the same account, with the same payee, within five days; two dates of a flow are two."""
    before: defaultdict[tuple[str, str | None, int], list[Entry]] = defaultdict(list)
    for entry in entries:
        leg = main_leg(_is_income(entry), entry.legs)
        if not entry.payee or not leg.amount or leg.account not in moment.plan.account_by_id:
            continue
        same = before[entry.payee.casefold(), leg.account, leg.amount]
        other = next((one_entry for one_entry in reversed(same) if _may_be_one(one_entry, entry)), None)
        if other is not None:
            amount = format_amount(abs(leg.amount), moment.plan.account_by_id[leg.account or ""].currency)
            sentence = f"{entry.payee}, {amount}, stands on {short_day(other.date)} and on {short_day(entry.date)}."
            yield Noticed(f"doubled:{other.id}:{entry.id}", "doubled", entry.id, sentence)
        same.append(entry)


def _is_income(entry: Entry) -> bool:
    return sum(leg.amount for leg in entry.legs if leg.account is not None) > 0


def _may_be_one(one: Entry, other: Entry) -> bool:
    is_near = (other.date - one.date).days <= _DAYS_APART
    return is_near and (one.flow is None or other.flow is None)


def _dearer(moment: Moment, entries: Sequence[Entry]) -> Iterator[Noticed]:
    """A bill that is no estimate and came to more than the date before it, in the same currency."""
    paid: dict[tuple[str, str], Entry] = {}
    for entry in entries:
        flow, leg = moment.plan.flow_by_id.get(entry.flow or ""), main_leg(False, entry.legs)
        account = moment.plan.account_by_id.get(leg.account or "")
        if flow is None or flow.kind != "bill" or flow.estimate or entry.settles is None or account is None:
            continue
        before = paid.get((flow.id, account.currency))
        then = -main_leg(False, before.legs).amount if before is not None else 0
        if before is not None and -leg.amount > then > 0:
            now, was = (format_amount(amount, account.currency) for amount in (-leg.amount, then))
            sentence = f"“{flow.name}” came to {now} on {short_day(entry.date)}; {was} on {short_day(before.date)}."
            yield Noticed(f"dearer:{flow.id}:{entry.settles}", "dearer", entry.id, sentence)
        paid[flow.id, account.currency] = entry


def _new_payees(
    moment: Moment, lately: Sequence[Entry], first_seen: Mapping[str, date], begun: date | None
) -> Iterator[Noticed]:
    """Payees never seen before; where all that is recorded is of late, everybody is new, and nobody is told."""
    if begun is None or begun > moment.today - timedelta(days=2 * DAYS_BACK):
        return
    named: set[str] = set()
    earliest: dict[str, date] = {}
    for payee, day in first_seen.items():
        earliest[payee.casefold()] = min(day, earliest.get(payee.casefold(), day))
    for entry in lately:
        name = entry.payee.casefold()
        is_of_flow = entry.flow is not None or all(leg.account is not None for leg in entry.legs)
        if not name or name in named or is_of_flow or earliest.get(name) != entry.date:
            continue
        named.add(name)
        yield Noticed(f"payee:{name}", "new_payee", entry.id, f"{entry.payee} is new, on {short_day(entry.date)}.")
