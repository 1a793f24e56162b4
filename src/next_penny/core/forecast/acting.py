"""What depends on balances: cards, lines, savings and sweeps, walked over the days on which they act.

Fixed movements are columns known beforehand. Rules know their days beforehand too, closings, due days, month ends,
sweep days: one agenda, sorted by day and by the order of docs/rules.md (The forecast). A balance is one bisection in
running sums. Draws on a line have no dates of their own: they are looked for between the days of the agenda.
"""

from bisect import bisect_left, bisect_right
from collections import defaultdict, deque
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from operator import itemgetter

import numpy as np

from next_penny.core.balances.cards import Card, closing_before
from next_penny.core.balances.draws import Cover, days_to_look
from next_penny.core.balances.ledger import Ledger
from next_penny.core.balances.making import Act, Facts, Made, Passed, Step
from next_penny.core.balances.savings import Savings
from next_penny.core.balances.sweeps import Sweep
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.makers import Block, blocks
from next_penny.core.moment import Moment
from next_penny.core.plan import Account, Plan, interest_id


@dataclass(frozen=True, eq=False)
class Acted:
    """Everything that rules made by a day, in the order in which it happened."""

    made: tuple[Made, ...] = ()

    @cached_property
    def by_flow(self) -> Mapping[str, list[Made]]:
        """By flow, what was made of it."""
        found: dict[str, list[Made]] = {}
        for each in self.made:
            if each.flow is not None:
                found.setdefault(each.flow, []).append(each)
        return found

    @cached_property
    def facts(self) -> Mapping[tuple[str, str, int, int], Facts]:
        """What is known of each movement, by its kind, account, day and nominal day; sentences alone ask for it."""
        return {(made.source, made.owner, made.day, made.nominal): made.facts for made in self.made}


_NOTHING = Acted()


def acted(moment: Moment, until: int) -> Acted:
    """What rules make from today until a day, remembered while nothing changes that it follows from."""
    reached = _reached(moment.plan)
    if not reached:
        return _NOTHING
    fixed = _fixed_blocks(moment, reached, until)
    passed = Passed(moment.books.settled, moment.now, moment.carries)
    basis = (
        reached, _payers_open(moment.plan, reached), _Same(fixed), moment.now, moment.carries,
        *(moment.books.postings.get(account.id) for account in reached),
        *(moment.books.settled.get(flow.id) for flow in moment.plan.made_flows),
    )  # fmt: skip
    return moment.memory.recall(
        ("acted", until), basis, lambda: _Walk(moment, reached, fixed, passed).until(until)
    )  # fmt: skip


class _Same:
    """Blocks, alike where they are the very same."""

    def __init__(self, parts: Sequence[object]) -> None:
        self._parts = parts

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, _Same) and len(self._parts) == len(other._parts)
            and all(one is two for one, two in zip(self._parts, other._parts, strict=True))
        )  # fmt: skip

    __hash__ = None  # type: ignore[assignment]


def _reached(plan: Plan) -> tuple[Account, ...]:
    """The accounts whose balances rules read, in the plan's order; what a card is paid from is not one by that."""
    named: set[str | None] = set()
    for account in plan.accounts:
        if account.card is not None:
            named |= {account.id, account.card.covers}
        if account.savings is not None:
            named.add(account.id)
        if account.sweep is not None:
            named |= {account.id, account.sweep.partner}
    return tuple(account for account in plan.accounts if account.id in named)


def _payers_open(plan: Plan, reached: Sequence[Account]) -> tuple[date | None, ...]:
    """Since when the accounts that cards are paid from are open."""
    payers = (plan.account_by_id.get(each.card.from_account or "") for each in reached if each.card is not None)
    return tuple(payer.opening.date if payer is not None else None for payer in payers)


def _fixed_blocks(moment: Moment, reached: Sequence[Account], until: int) -> list[tuple[Block, ...]]:
    """What flows and allowances move on these accounts, one tuple of blocks per maker."""
    ids = {account.id for account in reached}
    plan = moment.plan
    made = [blocks(moment, flow, until) for flow in plan.all_flows if not plan.accounts_moved[flow.id].isdisjoint(ids)]
    made += [allowance_blocks(moment, each, until) for each in plan.allowances if each.account in ids]
    return made


def _ledgers(moment: Moment, reached: Sequence[Account], fixed: Iterable[tuple[Block, ...]]) -> dict[str, Ledger]:
    """Each account's balance from its running cycle or month on, with everything that is fixed beforehand."""
    columns: defaultdict[str, list[tuple[Days, Days]]] = defaultdict(list)
    for maker in fixed:
        for block in maker:
            columns[block.account].append((block.day, block.amount))
    return {account.id: ledger_of(moment, account, columns[account.id]) for account in reached}


def ledger_of(moment: Moment, account: Account, coming: Sequence[tuple[Days, Days]]) -> Ledger:
    """An account's balance from the running cycle or month on: as recorded, and with what is to come."""
    since, charge = _since(moment, account), interest_id(account.id)
    postings = [each for each in moment.books.postings.get(account.id, ()) if each.day >= since]
    past = sum(each.amount for each in postings if each.day < moment.now)
    opening = account.opening.balance + moment.books.before.get(account.id, 0) - past
    recorded = np.array([(each.day, each.amount) for each in postings], dtype=np.int64).reshape(-1, 2)
    days = np.concatenate([recorded[:, 0], *(day for day, _ in coming)])
    amounts = np.concatenate([recorded[:, 1], *(amount for _, amount in coming)])
    charged: defaultdict[int, int] = defaultdict(int)
    for each in postings:
        if each.flow == charge:
            charged[each.day] += each.amount
    return Ledger(account, opening, days, amounts, charged)


def _since(moment: Moment, account: Account) -> int:
    """From which day on an account's movements must be known one by one."""
    since = moment.now
    if account.card is not None:
        since = closing_before(account.card, moment.now)
    if account.savings is not None:
        put_off = [change.month for change in account.savings.changes if change.moved_to is not None]
        since = min(since, month_start(min([month_number(moment.today), *put_off])) - 1)
    return since


class _Walk:
    """One walk over the agenda of a moment."""

    def __init__(
        self, moment: Moment, reached: Sequence[Account], fixed: Iterable[tuple[Block, ...]], passed: Passed
    ) -> None:
        self._moment, self._reached, self._passed = moment, reached, passed
        self._ledgers = _ledgers(moment, reached, fixed)
        self._made: list[Made] = []
        self._covers = [
            Cover(account, account.card, self._ledgers[account.id], self._ledgers[account.card.covers])
            for account in reached if account.card is not None and account.card.covers is not None
        ]  # fmt: skip
        self._days_to_look = days_to_look(self._covers)

    def until(self, until: int) -> Acted:
        day, is_drawn = self._moment.now - 1, True
        for act in sorted(self._agenda(until), key=itemgetter(0, 1, 2)):
            if act.day != day:
                if not is_drawn:
                    self._draw(day)
                self._look_for_draws(day + 1, act.day - 1)
                day, is_drawn = act.day, False
            if act.step > Step.DRAW and not is_drawn:
                self._draw(day)
                is_drawn = True
            made = act.do(day)
            if made is not None:
                self._keep(made)
        if not is_drawn:
            self._draw(day)
        self._look_for_draws(day + 1, until)
        return Acted(tuple(self._made))

    def _agenda(self, until: int) -> Iterator[Act]:
        by_id, passed, ledgers = self._moment.plan.account_by_id, self._passed, self._ledgers
        for order, account in enumerate(self._reached):
            ledger = ledgers[account.id]
            if account.card is not None:
                paid_from = by_id.get(account.card.from_account or "")
                yield from Card(account, ledger, order, passed, paid_from).agenda(until)
            if account.savings is not None:
                yield from Savings(account, ledger, order, passed).agenda(until)
            if account.sweep is not None:
                other = ledgers[account.sweep.partner]
                yield from Sweep(account.sweep, ledger, other, order).agenda(passed.now, until)

    def _keep(self, made: Made) -> None:
        self._made.append(made)
        for account, amount in made.legs:
            ledger = self._ledgers.get(account)
            if ledger is not None:
                ledger.post(made.day, amount)

    def _draw(self, day: int) -> bool:
        """Let lines lend at the end of a day, and tell whether one did."""
        is_lent = False
        for cover in self._covers:
            made = cover.draw(day)
            if made is not None:
                self._keep(made)
                is_lent = True
        return is_lent

    def _look_for_draws(self, first: int, last: int) -> None:
        if last < first or not any(cover.may_draw(first, last) for cover in self._covers):
            return
        # The day after something acted or was drawn is looked at too.
        begin, end = bisect_left(self._days_to_look, first), bisect_right(self._days_to_look, last)
        days = deque(self._days_to_look[begin:end])
        if not days or days[0] != first:
            days.appendleft(first)
        while days:
            day = days.popleft()
            if self._draw(day) and day < last and (not days or days[0] != day + 1):
                days.appendleft(day + 1)
