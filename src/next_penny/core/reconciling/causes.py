"""What would explain that the bank says another balance than the books: guesses that make both agree.

Each is told only if, applied, it leaves no difference (docs/rules.md, True balances).
"""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import pairwise
from typing import Literal
from uuid import uuid4

from next_penny.core.books.moment import Moment
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.flows.makers import expected, past_due
from next_penny.core.money import DECIMALS
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import PlanError, go_on
from next_penny.core.reconciling.wording import Wording

CauseKind = Literal["unsettled", "doubled", "digits", "sign", "other_day", "two"]

OCCURRENCE_DAYS, ENTRY_DAYS, NEAR_DAYS, TWICE_DAYS = 15, 31, 5, 5
_MOST_CAUSES = 8
# So few of what is open are settled one by one and all together; more are nobody's slip of the pen.
_MOST_OPEN = 200


@dataclass(frozen=True, slots=True)
class Cause:
    """A guess, and the changes that make it so. moves: what they change on the account until the reading's day.

    of: what it is about (an entry, an occurrence), so that two guesses of one thing are not told together.
    is_far: it is told by itself alone: with another it would explain anything. count: how many things it changes.
    """

    kind: CauseKind
    sentence: str
    changes: tuple[PlanChange, ...]
    moves: int
    day: date
    of: frozenset[str]
    is_far: bool = False
    count: int = 1


def causes(
    moment: Moment, account: Account, entries: Sequence[Entry], day: date, difference: int
) -> list[Cause]:  # fmt: skip
    """What explains a difference (true balance less books, minor units) at the end of a day; the likeliest first.

    entries: what is recorded from 31 days before that day to 5 days after it.
    """
    if difference == 0:
        return []
    guesses = _Guesses(moment, account, entries, day)
    open_ones = list(guesses.unsettled())
    single = [*open_ones, *guesses.of_entries()]
    causes = [cause for cause in single if cause.moves == difference]
    if len(open_ones) > 1 and sum(open_one.moves for open_one in open_ones) == difference:
        causes.append(guesses.all_of(open_ones))
    if not causes:
        causes = list(_pairs([cause for cause in single if not cause.is_far], difference, guesses))
    causes.sort(key=lambda cause: (cause.count, abs((cause.day - day).days), cause.sentence))
    return causes[:_MOST_CAUSES]


def _pairs(single: Sequence[Cause], difference: int, guesses: "_Guesses") -> Iterator[Cause]:
    """Two guesses of two things that explain a difference together, each pair once."""
    by_move: defaultdict[int, list[int]] = defaultdict(list)
    for at, cause in enumerate(single):
        by_move[cause.moves].append(at)
    for at, one in enumerate(single):
        go_on()
        for other in by_move.get(difference - one.moves, ()):
            if other > at and not one.of & single[other].of:
                yield guesses.both(one, single[other])


class _Guesses:
    """Guesses about one account until one day."""

    def __init__(self, moment: Moment, account: Account, entries: Sequence[Entry], day: date) -> None:
        self._moment, self._account, self._day = moment, account, day
        self._words = Wording(moment.plan, account)
        locked = {id for statement in moment.plan.statements if not statement.is_open for id in statement.entries}
        near = (
            entry
            for entry in entries
            if entry.id not in locked and any(leg.account == account.id for leg in entry.legs)
        )
        self._entries = sorted(near, key=lambda entry: (entry.date, entry.id))

    def unsettled(self) -> Iterator[Cause]:
        """Each expected occurrence that landed in the days before and is not settled."""
        recorded = self._moment.as_recorded
        first, last = (self._day - timedelta(days=OCCURRENCE_DAYS)).toordinal(), self._day.toordinal()
        expectations: list[tuple[Flow, int, int]] = []
        moved_by = recorded.plan.accounts_moved
        for flow in (*recorded.plan.all_flows, *recorded.plan.generated_flows):
            go_on()
            if self._account.id not in moved_by.get(flow.id, flow.account_ids):
                continue
            late = past_due(recorded, flow)
            known = set(late.nominal.tolist())
            coming = expected(recorded, flow, last)
            # What always happens is in the books already, once its day is over.
            rows = [] if flow.always_happens else list(zip(late.nominal.tolist(), late.landing.tolist(), strict=True))
            rows += [
                (nominal, landing)
                for nominal, landing in zip(coming.nominal.tolist(), coming.landing.tolist(), strict=True)
                if landing >= recorded.now and nominal not in known
            ]
            expectations += [(flow, nominal, landing) for nominal, landing in rows if first <= landing <= last]
        for flow, nominal, landing in expectations[:_MOST_OPEN]:
            yield from self._settled(recorded, flow, date.fromordinal(nominal), date.fromordinal(landing))

    def _settled(self, recorded: Moment, flow: Flow, nominal: date, lands: date) -> Iterator[Cause]:
        try:
            changes = settle(recorded, Settlement(str(uuid4()), flow.id, nominal, day=lands))
        except PlanError:  # what cannot be settled so explains nothing
            return
        entry = next(change.item for change in changes if isinstance(change.item, Entry))
        moves = entry.on(self._account.id)
        if moves:
            sentence = self._words.unsettled(flow, lands, moves)
            # Of a flow that an account makes of itself the entry alone is written.
            plan_changes = tuple(change for change in changes if change.kind in ("entry", "category"))
            yield Cause("unsettled", sentence, plan_changes, moves, lands, frozenset({f"{flow.id} {nominal}"}))

    def all_of(self, open_ones: Sequence[Cause]) -> Cause:
        """All that is open, settled."""
        changes = tuple(dict.fromkeys(change for open_one in open_ones for change in open_one.changes))
        return Cause(
            "unsettled",
            self._words.all_open(len(open_ones)),
            changes,
            sum(open_one.moves for open_one in open_ones),
            min(open_one.day for open_one in open_ones),
            frozenset(of for open_one in open_ones for of in open_one.of),
            count=len(open_ones),
        )

    def both(self, one: Cause, other: Cause) -> Cause:
        """Two guesses together."""
        further = max(one.day, other.day, key=lambda day: abs((day - self._day).days))
        changes = tuple(dict.fromkeys((*one.changes, *other.changes)))
        return Cause("two", f"{one.sentence} {other.sentence}", changes, one.moves + other.moves, further,
                     one.of | other.of, count=2)  # fmt: skip

    def of_entries(self) -> Iterator[Cause]:
        """What may be wrong with what is recorded."""
        begin = self._day - timedelta(days=ENTRY_DAYS - 1)
        lately = [entry for entry in self._entries if begin <= entry.date <= self._day]
        yield from self._doubled(lately)
        for entry in lately:
            yield from self._digits(entry)
            yield self._cause("sign", self._words.sign(entry), replace(entry, legs=_negated(entry.legs)), entry)
        for entry in self._entries:
            away = (entry.date - self._day).days
            if -NEAR_DAYS <= away <= NEAR_DAYS:
                to = self._day if away > 0 else self._day + timedelta(days=1)
                yield self._cause("other_day", self._words.other_day(entry, to), replace(entry, date=to), entry)

    def _cause(self, kind: CauseKind, sentence: str, corrected: Entry, entry: Entry) -> Cause:
        moves = self._until(corrected) - self._until(entry)
        return Cause(kind, sentence, (PlanChange("entry", entry.id, corrected),), moves, entry.date,
                     frozenset({entry.id}))  # fmt: skip

    def _until(self, entry: Entry) -> int:
        return entry.on(self._account.id) if entry.date <= self._day else 0

    def _doubled(self, lately: Sequence[Entry]) -> Iterator[Cause]:
        """The same amount with the same payee within five days: the later is too many, unless it alone settles."""
        alike: defaultdict[tuple[str, int], list[Entry]] = defaultdict(list)
        for entry in lately:
            if moved := entry.on(self._account.id):
                alike[entry.payee.casefold(), moved].append(entry)
        for entries in alike.values():
            for one, other in pairwise(entries):
                if (other.date - one.date).days > TWICE_DAYS:
                    continue
                spare = one if other.settles is not None and one.settles is None else other
                sentence = self._words.doubled(one, other)
                yield Cause("doubled", sentence, (PlanChange("entry", spare.id, None),), -spare.on(self._account.id),
                            spare.date, frozenset({one.id, other.id}))  # fmt: skip

    def _digits(self, entry: Entry) -> Iterator[Cause]:
        """An amount with two neighbouring digits changed round."""
        leg = next(leg for leg in entry.legs if leg.account == self._account.id)
        # As it is written, with a zero before it: 01.50 may have been 10.50, and 0.03 0.30.
        digits = "0" + str(abs(leg.amount)).zfill(DECIMALS.get(self._account.currency, 2) + 1)
        for at, (left, right) in enumerate(pairwise(digits)):
            if left == right:
                continue
            turned = int(digits[:at] + right + left + digits[at + 2 :])
            amount = turned if leg.amount > 0 else -turned
            corrected = self._with_amount(entry, leg, amount)
            if corrected is not None:
                cause = self._cause("digits", self._words.digits(entry, leg.amount, amount), corrected, entry)
                yield replace(cause, is_far=len(str(amount)) != len(str(leg.amount)))

    def _with_amount(self, entry: Entry, leg: Leg, amount: int) -> Entry | None:
        """An entry of another amount; the rest of it goes where most of it went. None where that is no one currency."""
        plan, place = self._moment.plan, entry.legs.index(leg)
        others = [at for at in range(len(entry.legs)) if at != place]
        if not others:
            return None
        most = max(others, key=lambda at: abs(entry.legs[at].amount))
        other = plan.account_by_id.get(entry.legs[most].account or "")
        if other is not None and other.currency != self._account.currency:
            return None
        legs = list(entry.legs)
        legs[most] = replace(legs[most], amount=legs[most].amount + leg.amount - amount)
        legs[place] = replace(leg, amount=amount)
        return replace(entry, legs=tuple(legs))


def _negated(legs: Sequence[Leg]) -> tuple[Leg, ...]:
    return tuple(replace(leg, amount=-leg.amount) for leg in legs)
