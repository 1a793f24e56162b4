"""Running short: what could be done about a stretch below the floor (docs/rules.md, Running short).

Every remedy is offered only after the forecast has been run with it: the floor then holds on every day of the stretch,
and no account is below its floor on a day on which it was not.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import combinations
from typing import Literal, NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import joined, short_day
from next_penny.core.flows.allowances import periods
from next_penny.core.flows.kinds.calendar_flow import changed_just_once
from next_penny.core.flows.makers import expected
from next_penny.core.forecast.low_points import LowPoint, Stretch
from next_penny.core.forecast.trials import Trial
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow, Revision

RemedyKind = Literal["transfer", "draw", "move", "leave_out", "trim", "pause", "by_card", "combination"]
# Of those that cost and move the same, what borrows nothing comes first.
_KINDS: tuple[RemedyKind, ...] = (
    "transfer", "move", "trim", "leave_out", "pause", "by_card", "draw", "combination",
)  # fmt: skip
# A combination is of at most so many steps, looked for among so many that help most.
_MOST_STEPS = 3
_MOST_COMBINED = 10
_MOST_REMEDIES = 60
# What is due longer before the stretch is left as it is: nobody skips a bill for what is short in twenty years, and of
# decades there are hundreds of steps to try.
_EARLIEST_DAYS_BEFORE = 731


class Step(NamedTuple):
    """One thing to do: of what kind, in words, how much it moves, and the changes that do it."""

    kind: RemedyKind
    title: str
    moved: int
    changes: tuple[PlanChange, ...]
    about: str


@dataclass(frozen=True, slots=True)
class Remedy:
    """What makes a stretch hold. cost: how much less the household is worth at the forecast's end with it."""

    kind: RemedyKind
    title: str
    cost: int
    moved: int
    steps: int
    changes: tuple[PlanChange, ...]
    lowest: LowPoint


def remedies(moment: Moment, account: Account, short: Stretch, until: date) -> list[Remedy]:
    """What would make a stretch below an account's floor hold: fewest steps, then least cost, then least moved."""
    search = _Search(moment, account, short, until)
    steps = list(search.steps())
    remedies = [remedy for step in steps if (remedy := search.tried((step,)))]
    if not remedies:
        remedies = search.together(steps)
    remedies.sort(key=lambda best: (best.steps, best.cost, best.moved, _KINDS.index(best.kind), best.title))
    return remedies[:_MOST_REMEDIES]


class _Search:
    """One stretch to be mended, and everything tried for it."""

    def __init__(self, moment: Moment, account: Account, short: Stretch, until: date) -> None:
        self._moment, self._account, self._short, self._until = moment, account, short, until
        self._before = Trial(moment, until)
        self._worth = self._before.worth()
        self._first, self._last = short.first, short.last
        # What was tried, by its changes, and what it came to: how much is still missing, and whether it holds.
        self._tried: dict[tuple[int, ...], tuple[Sequence[PlanChange], int, bool]] = {}

    def money(self, amount: int) -> str:
        return format_amount(amount, self._account.currency)

    def _run(self, changes: Sequence[PlanChange]) -> Trial:
        return self._before.with_changes(changes)

    def _comes_to(self, changes: Sequence[PlanChange]) -> tuple[int, bool]:
        """How much is still missing on the worst day of the stretch with some changes, and whether it then holds."""
        key = tuple(map(id, changes))
        if key not in self._tried:
            trial = self._run(changes)
            # The changes are kept too, so that nothing else takes their place in memory.
            self._tried[key] = (changes, self._shortage(trial), self._holds(trial))
        return self._tried[key][1:]

    def _shortage(self, trial: Trial) -> int:
        """How much is still missing on the worst day of the stretch."""
        return max(0, -trial.lowest(self._account, self._first, self._last).headroom)

    def _holds(self, trial: Trial) -> bool:
        if self._shortage(trial):
            return False
        before = self._before
        return not any(
            (trial.is_short[row] & ~before.is_short[before.place[id]]).any()
            for id, row in trial.place.items()
            if id in before.place
        )

    def tried(self, steps: Sequence[Step]) -> Remedy | None:
        """Some steps together, if they mend it."""
        changes = tuple(change for step in steps for change in step.changes)
        if not self._comes_to(changes)[1]:
            return None
        trial = self._run(changes)
        kind: RemedyKind = steps[0].kind if len(steps) == 1 else "combination"
        title = steps[0].title if len(steps) == 1 else joined([_continued(step, at) for at, step in enumerate(steps)])
        lowest = trial.lowest(self._account, trial.now, self._until.toordinal())
        moved = sum(step.moved for step in steps)
        return Remedy(kind, title, self._worth - trial.worth(), moved, len(steps), changes, lowest)

    def together(self, steps: Sequence[Step]) -> list[Remedy]:
        """The combinations of the fewest steps that mend it, among the steps that help most by themselves."""
        helping = sorted(
            ((self._comes_to(step.changes)[0], at, step) for at, step in enumerate([*steps, *self._partial()])),
            key=lambda rank: rank[:2],
        )
        missing = self._shortage(self._before)
        best = [step for short, _, step in helping if short < missing][:_MOST_COMBINED]
        for count in range(2, _MOST_STEPS + 1):
            remedies = [
                remedy for several in combinations(best, count)
                if len({step.about for step in several}) == count and (remedy := self.tried(several))
            ]  # fmt: skip
            if remedies:
                return remedies
        return []

    def steps(self) -> Iterator[Step]:
        """Every single step, the least change of its sort first."""
        depth = self._short.short_by
        yield from self._transfers({account.id: depth for account in self._moment.plan.accounts})
        for flow in self._moment.plan.all_flows:
            yield from self._of_flow(flow)
        for allowance in self._moment.plan.allowances:
            if allowance.account == self._account.id:
                yield from self._trims(allowance)

    def _partial(self) -> Iterator[Step]:
        """Transfers of what other accounts can spare, where that is less than what is missing."""
        spare = {}
        for account in self._moment.plan.accounts:
            room = account.available(self._before.balance_on(account, self._first))
            if room is None:
                room = self._before.lowest(account, self._first, self._until.toordinal()).headroom
            spare[account.id] = min(self._short.short_by - 1, room)
        yield from self._transfers(spare)

    def _transfers(self, amounts: dict[str, int]) -> Iterator[Step]:
        day = date.fromordinal(self._first)
        for account in self._moment.plan.accounts:
            amount = amounts[account.id]
            is_line = account.kind == "credit_line"
            gives = is_line or account.kind in ("checking", "savings", "cash")
            if account.id == self._account.id or not gives or amount <= 0 or account.currency != self._account.currency:
                continue
            if account.opening.date > day:
                continue
            if is_line and amount > self._available(account):
                continue
            verb = "Draw" if is_line else "Move"
            title = f"{verb} {self.money(amount)} from {account.name} on {short_day(day)}"
            id = f"{account.id}-to-{self._account.id}-{day}"
            moved = Flow(id, f"{account.name} to {self._account.name}", "transfer", amount, account.id,
                         self._account.id, dates=(day,))  # fmt: skip
            yield Step("draw" if is_line else "transfer", title, amount, (PlanChange("flow", id, moved),), account.id)

    def _available(self, account: Account) -> int:
        """What may be spent or drawn on a card or line; nothing where its limit is not known."""
        return account.available(self._before.balance_on(account, self._first)) or 0

    def _of_flow(self, flow: Flow) -> Iterator[Step]:
        """A flow moved to a later day, left out once, paused, or put on a card."""
        is_loans = self._moment.plan.paid_by(flow) is not None
        if flow.kind == "income" or is_loans or self._account.id not in flow.account_ids:
            return
        due = expected(self._moment, flow, self._last)
        rows = [
            (date.fromordinal(nominal), max(landing, self._moment.now), amount)
            for nominal, landing, amount in zip(*(column.tolist() for column in due), strict=True)
            if flow.on(date.fromordinal(nominal)).from_account == self._account.id
            and landing >= self._first - _EARLIEST_DAYS_BEFORE
        ]
        for nominal, landing, amount in rows:
            yield from self._moves(flow, nominal, landing, amount)
            if flow.may_skip:
                title = f"Leave out “{flow.name}” of {short_day(date.fromordinal(landing))} once"
                yield Step("leave_out", title, amount, (_left_out(flow, [nominal]),), flow.id)
            if flow.kind == "bill":
                yield from self._by_card(flow, nominal, landing, amount)
        if flow.may_pause:
            yield from self._pauses(flow, rows)

    def _moves(self, flow: Flow, nominal: date, landing: int, amount: int) -> Iterator[Step]:
        for days in range(1, flow.late_days + 1):
            if landing + days <= self._first:
                continue
            to = date.fromordinal(landing + days)
            step = Step(
                "move", f"Pay “{flow.name}” on {short_day(to)} instead of {short_day(date.fromordinal(landing))}",
                amount, (PlanChange("flow", flow.id, changed_just_once(flow, nominal, moved_to=to)),), flow.id,
            )  # fmt: skip
            # The fewest days that mend it; where none does, the most may still help with something else.
            if days == flow.late_days or self._comes_to(step.changes)[1]:
                yield step
                return

    def _pauses(self, flow: Flow, rows: Sequence[tuple[date, int, int]]) -> Iterator[Step]:
        """The latest occurrences left out, as few as mend it."""
        for count in range(1, len(rows) + 1):
            paused = rows[-count:]
            first, last = (short_day(date.fromordinal(row[1])) for row in (paused[0], paused[-1]))
            span = f"from {first} to {last}" if count > 1 else f"on {first}"
            step = Step("pause", f"Pause “{flow.name}” {span}", sum(row[2] for row in paused),
                        (_left_out(flow, [row[0] for row in paused]),), flow.id)  # fmt: skip
            if count == len(rows) or self._comes_to(step.changes)[1]:
                yield step
                return

    def _by_card(self, flow: Flow, nominal: date, landing: int, amount: int) -> Iterator[Step]:
        day = date.fromordinal(landing)
        for card in self._moment.plan.accounts:
            if card.kind != "credit_card" or card.currency != self._account.currency or card.opening.date > nominal:
                continue
            if amount > self._available(card) or nominal < self._moment.today:
                continue
            back = nominal + timedelta(days=1)
            revisions = [revision for revision in flow.revisions if revision.start not in (nominal, back)]
            at = {revision.start: revision for revision in flow.revisions}
            on_card = replace(at.get(nominal, Revision(nominal)), from_account=card.id)
            returned = replace(at.get(back, Revision(back)), from_account=self._account.id)
            revised = replace(
                flow, revisions=tuple(sorted((*revisions, on_card, returned), key=lambda revision: revision.start))
            )
            title = f"Pay “{flow.name}” of {short_day(day)} by {card.name}"
            yield Step("by_card", title, amount, (PlanChange("flow", flow.id, revised),), flow.id)

    def _trims(self, allowance: Allowance) -> Iterator[Step]:
        """An allowance trimmed for one period that is still to begin, by as little as mends it."""
        for period in periods(self._moment, allowance, self._last):
            if period.first <= self._moment.now or period.held_back <= 0:
                continue
            if period.last < self._first - _EARLIEST_DAYS_BEFORE:
                continue
            most = period.held_back
            if not self._holds(self._run(_trimmed(allowance, period.first, period.last, most))):
                yield self._trim(allowance, period.first, period.last, most)
                continue
            least, works = 0, most
            while works - least > 1:
                middle = (least + works) // 2
                if self._holds(self._run(_trimmed(allowance, period.first, period.last, middle))):
                    works = middle
                else:
                    least = middle
            yield self._trim(allowance, period.first, period.last, works)

    def _trim(self, allowance: Allowance, first: int, last: int, amount: int) -> Step:
        begins, ends = (short_day(date.fromordinal(day)) for day in (first, last))
        title = f"Spend {self.money(amount)} less on “{allowance.name}” from {begins} to {ends}"
        return Step("trim", title, amount, _trimmed(allowance, first, last, amount), allowance.id)


def _continued(step: Step, at: int) -> str:
    return step.title if at == 0 else step.title[0].lower() + step.title[1:]


def _left_out(flow: Flow, nominals: Sequence[date]) -> PlanChange:
    for nominal in nominals:
        flow = changed_just_once(flow, nominal, left_out=True)
    return PlanChange("flow", flow.id, flow)


def _trimmed(allowance: Allowance, first: int, last: int, amount: int) -> tuple[PlanChange, ...]:
    """The allowance with a smaller limit for one period."""
    begin, back = date.fromordinal(first), date.fromordinal(last + 1)
    revised = sorted(allowance.revisions, key=lambda revision: revision.start)
    limit = next((revision.limit for revision in reversed(revised) if revision.start <= begin), allowance.limit)
    after = next((revision.limit for revision in reversed(revised) if revision.start <= back), allowance.limit)
    revisions = [revision for revision in revised if not begin <= revision.start <= back]
    trimmed = (*revisions, LimitRevision(begin, max(0, limit - amount)), LimitRevision(back, after))
    changed = replace(allowance, revisions=tuple(sorted(trimmed, key=lambda revision: revision.start)))
    return (PlanChange("allowance", allowance.id, changed),)
