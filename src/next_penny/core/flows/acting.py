"""What depends on balances: cards, lines, savings and sweeps, walked over the days on which they act.

Fixed movements are columns known beforehand. Rules know their days beforehand too, closings, due days, month ends,
sweep days: one agenda, sorted by day and by the order of docs/rules.md (The forecast). A balance is one bisection in
running sums. Draws on a line have no dates of their own: they are looked for between the days of the agenda.
"""

from bisect import bisect_left, bisect_right
from collections import defaultdict, deque
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from operator import itemgetter

import numpy as np
from propcache.api import cached_property

from next_penny.core.accounts.draws import days_to_look
from next_penny.core.accounts.generated import Act, Facts, Generated, Passed, Step, Walked
from next_penny.core.accounts.ledger import Ledger
from next_penny.core.accounts.parts import acting_parts, covers, needed_since
from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.planned import Block, blocks
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import go_on


@dataclass(frozen=True, eq=False)
class Acted:
    """Everything that rules made by a day, in the order in which it happened."""

    made: tuple[Generated, ...] = ()

    @cached_property
    def by_flow(self) -> Mapping[str, list[Generated]]:
        """By flow, what was made of it."""
        by_flow: dict[str, list[Generated]] = {}
        for movement in self.made:
            if movement.flow is not None:
                by_flow.setdefault(movement.flow, []).append(movement)
        return by_flow

    @cached_property
    def facts(self) -> Mapping[tuple[str, str, int, int], Facts]:
        """What is known of each movement, by its kind, account, day and nominal day; sentences alone ask for it."""
        return {(made.source, made.owner, made.day, made.nominal): made.facts for made in self.made}


_NOTHING = Acted()


def acted(moment: Moment, until: int) -> Acted:
    """What rules make from today until a day, remembered while nothing changes that it follows from."""
    reached = moment.plan.accounts_read
    if not reached:
        return _NOTHING
    fixed = _fixed_blocks(moment, reached, until)
    passed = Passed(moment.books.settled, moment.now, moment.carries)
    basis = (
        reached, _payers_open(moment.plan, reached), _Same(fixed), moment.now, moment.carries,
        *(moment.books.postings.get(account.id) for account in reached),
        *(moment.books.settled.get(flow.id) for flow in moment.plan.generated_flows),
    )  # fmt: skip
    return moment.cache.recall(
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


def _payers_open(plan: Plan, reached: Sequence[Account]) -> tuple[date | None, ...]:
    """Since when the accounts that cards are paid from are open."""
    payers = (plan.account_by_id.get(account.paid_from or "") for account in reached)
    return tuple(payer.opening.date if payer is not None else None for payer in payers)


def _fixed_blocks(moment: Moment, reached: Sequence[Account], until: int) -> list[tuple[Block, ...]]:
    """What flows and allowances move on these accounts, one tuple of blocks per maker."""
    ids = {account.id for account in reached}
    plan = moment.plan
    made = [blocks(moment, flow, until) for flow in plan.all_flows if not plan.accounts_moved[flow.id].isdisjoint(ids)]
    made += [allowance_blocks(moment, allowance, until) for allowance in plan.allowances if allowance.account in ids]
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
    since, charge = needed_since(account, moment.now), interest_id(account.id)
    postings = [one_posting for one_posting in moment.books.postings.get(account.id, ()) if one_posting.day >= since]
    past = sum(one_posting.amount for one_posting in postings if one_posting.day < moment.now)
    opening = account.opening.balance + moment.books.before.get(account.id, 0) - past
    recorded = np.array([(one_posting.day, one_posting.amount) for one_posting in postings], dtype=np.int64).reshape(
        -1, 2
    )
    days = np.concatenate([recorded[:, 0], *(day for day, _ in coming)])
    amounts = np.concatenate([recorded[:, 1], *(amount for _, amount in coming)])
    charged: defaultdict[int, int] = defaultdict(int)
    for posting in postings:
        if posting.flow == charge:
            charged[posting.day] += posting.amount
    return Ledger(account, opening, days, amounts, charged)


class _Walk:
    """One walk over the agenda of a moment."""

    def __init__(
        self, moment: Moment, reached: Sequence[Account], fixed: Iterable[tuple[Block, ...]], passed: Passed
    ) -> None:
        self._moment, self._reached = moment, reached
        self._ledgers = _ledgers(moment, reached, fixed)
        self._walked = Walked(moment.plan.account_by_id, self._ledgers, passed)
        self._made: list[Generated] = []
        self._covers = [cover for account in reached for cover in covers(account, self._walked)]
        self._days_to_look = days_to_look(self._covers)

    def until(self, until: int) -> Acted:
        day, is_drawn, drawing = self._moment.now - 1, True, Step.DRAW
        for on, step, _, do in self._agenda(until):
            if on != day:
                go_on()
                if not is_drawn:
                    self._draw(day)
                if on > day + 1:
                    self._look_for_draws(day + 1, on - 1)
                day, is_drawn = on, False
            if step > drawing and not is_drawn:
                self._draw(day)
                is_drawn = True
            made = do(day)
            if made is not None:
                self._keep(made)
        if not is_drawn:
            self._draw(day)
        if until > day:
            self._look_for_draws(day + 1, until)
        return Acted(tuple(self._made))

    def _agenda(self, until: int) -> list[Act[Generated]]:
        acts: list[Act[Generated]] = []
        for order, account in enumerate(self._reached):
            for part in acting_parts(account):
                acts += part.begins(account, self._walked, order).agenda(until)
        return sorted(acts, key=itemgetter(0, 1, 2))

    def _keep(self, made: Generated) -> None:
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
        for cover in self._covers:
            if cover.may_draw(first, last):
                self._draw_between(first, last)
                return

    def _draw_between(self, first: int, last: int) -> None:
        # The day after something acted or was drawn is looked at too.
        begin, end = bisect_left(self._days_to_look, first), bisect_right(self._days_to_look, last)
        days = deque(self._days_to_look[begin:end])
        if not days or days[0] != first:
            days.appendleft(first)
        while days:
            day = days.popleft()
            if self._draw(day) and day < last and (not days or days[0] != day + 1):
                days.appendleft(day + 1)
