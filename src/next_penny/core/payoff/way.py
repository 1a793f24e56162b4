"""A household's way out of debt as it asks for it: every order, what the forecast bears, and the cheapest way."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.forecast.projection import AccountRun, project
from next_penny.core.payoff.affordable import Affordable, MonthlyRoom, Room, capped
from next_penny.core.payoff.comparing import Compared, cheapest_of, compared
from next_penny.core.payoff.debts import Debt
from next_penny.core.payoff.household import (
    Debts,
    LastDueDays,
    debts_of,
    owed_by_month,
    payment_days,
    without_extras,
)  # fmt: skip
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.parts.part import furthest
from next_penny.core.payoff.run import NO_GUIDE, Bearing, Guide, LastDue, run
from next_penny.core.payoff.wording import order_notes
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.kept.way_out import STRATEGIES, Asked, Strategy, Wish
from next_penny.core.problems import PlanError, refused


class OwedMonth(NamedTuple):
    """What is owed on each debt at the end of a month; whether it is planned, not on record."""

    month: int
    owed: list[int]
    is_planned: bool


class Way:
    """The debts of a household paid off as asked. Raises PlanError where that cannot be asked."""

    def __init__(self, moment: Moment, asked: Asked) -> None:
        self.moment, self.asked = moment, asked
        self.debts: Debts = debts_of(moment, asked.start, asked.debts)
        problem = _start_problem(asked, self.debts)
        if problem is not None:
            raise problem

    @cached_property
    def payer(self) -> Account:
        """The account that the extra comes from. Raises PlanError where none can be it."""
        named = self.asked.from_account
        if named is None:
            return self._usual_payer()
        account = self.moment.plan.account_by_id.get(named)
        if account is None or account.is_debt or account.currency != self.debts.currency:
            raise refused("from_account", f"Choose an account in {self.debts.currency} that holds money.", "unknown_id")
        return account

    @property
    def has_payer(self) -> bool:
        """Whether there is an account that the extra can come from."""
        try:
            return bool(self.payer.id)
        except PlanError:
            return False

    def _usual_payer(self) -> Account:
        """The account that most of the debts are paid from, else the first that money is spent from."""
        account_by_id = self.moment.plan.account_by_id
        paying = [id for account in self.debts.accounts if (id := account.paid_from) in account_by_id]
        if paying:
            return account_by_id[max(paying, key=paying.count)]
        for account in self.moment.plan.accounts:
            is_open = account.spendable and account.closed is None
            if is_open and not account.is_debt and account.currency == self.debts.currency:
                return account
        raise refused("from_account", "Choose the account that the extra comes from.", "needed")

    def carried_out(self, wish: Wish, bears: Bearing | None = None, guide: Guide = NO_GUIDE) -> Run:
        """These debts, paid off as wished."""
        return run(self.debts.debts, self.debts.start, wish, bears, guide, self.last_due)

    @cached_property
    def last_due(self) -> LastDueDays:
        """The last day of each month on which each debt is due."""
        accounts = self.debts.accounts
        return self.moment.keep(f"due days of {self._key}", lambda: LastDueDays(accounts))

    @property
    def in_order(self) -> Wish:
        """What is wished, in the order that was chosen; the highest rate first where no order was."""
        choice = self.asked.choice
        chosen: Strategy = "highest_rate" if choice in ("cheapest", "minimums") else choice  # type: ignore[assignment]
        return replace(self.asked.wish, strategy=chosen)

    @cached_property
    def least(self) -> Run:
        """Minimums alone; whatever else is asked of these debts, it is the same."""
        wish = Wish(strategy="minimums")
        return self.moment.keep(f"minimums of {self._key}", lambda: self.carried_out(wish))

    @cached_property
    def runs(self) -> dict[Strategy, Run]:
        """Every order."""
        own = {} if self.asked.choice == "cheapest" else {self.asked.choice: self.run}
        return {
            strategy: own[strategy] if strategy in own else self._within_bounds(strategy) for strategy in STRATEGIES
        }

    @cached_property
    def run(self) -> Run:
        """What was asked for."""
        return self.cheapest if self.asked.choice == "cheapest" else self._within_bounds(self.asked.choice)

    @cached_property
    def cheapest(self) -> Run:
        """The least interest with the money that the cheapest order has in each month."""
        wish = replace(self.asked.wish, strategy="highest_rate")
        orders = list(self.runs.values())
        best = cheapest_of(orders)
        # The solver is loaded when it is first asked for: that is a quarter of the time that the app takes to start.
        from next_penny.core.payoff.cheapest import cheapest  # noqa: PLC0415

        return cheapest(self.debts.debts, orders, lambda guide: self.carried_out(wish, self.bearing(best), guide))

    def bearing(self, plan: Run, last_due: LastDue | None = None) -> Bearing | None:
        """How much the months of a plan that goes on as long as another may take; None where all that is wished.

        last_due: where others than these debts are paid off.
        """
        if self.asked.cap == "none":
            return None
        return self._bears_until(plan.debt_free).bearing(self.least, last_due or self.last_due)

    @property
    def wished(self) -> list[int]:
        """The own money that is wished for each month of what was asked for."""
        return [self.asked.wish.own_money(self.debts.start + index) for index in range(len(self.run))]

    @cached_property
    def debts_in_order(self) -> list[Debt]:
        """In the order in which they clear, those that never do last; in an own order, in that."""
        clears, last = dict(self.run.cleared), self.debts.start + len(self.run)
        places = {debt.id: clears.get(debt.id, last) for debt in self.run.debts}
        if self.asked.choice == "custom":
            order = self.asked.wish.order
            places = {id: order.index(id) if id in order else last for id in places}
        return sorted(self.run.debts, key=lambda debt: places[debt.id])

    def owed_by_month(self, most_recorded: int) -> list[OwedMonth]:
        """What was owed on record in so many months, what the plan begins with, and what is owed after each month."""
        accounts = [account.id for account in self.debts.accounts]
        places = [accounts.index(debt.id) for debt in self.debts_in_order]
        begin, now = self.debts.start - 1, month_number(self.moment.today)
        past = [OwedMonth(month, [owed[place] for place in places], is_planned=False)
                for month, owed in owed_by_month(self.moment, self.debts, most_recorded) if month < begin]  # fmt: skip
        first = OwedMonth(begin, [debt.balance for debt in self.debts_in_order], is_planned=begin >= now)
        by_debt = [self.run.owed_by_debt[debt.id] for debt in self.debts_in_order]
        ahead = [OwedMonth(month, list(owed), is_planned=True)
                 for month, owed in enumerate(zip(*by_debt, strict=True), self.debts.start)]  # fmt: skip
        return [*past, first, *ahead]

    @property
    def compared(self) -> list[Compared]:
        """All orders against minimums only."""
        return compared(self.runs)

    @cached_property
    def affordable(self) -> Affordable:
        """What the forecast bears beside the minimums until the debts are paid off as asked."""
        return self._bears_until(self.run.debt_free)

    def _within_bounds(self, strategy: Strategy) -> Run:
        wish = replace(self.asked.wish, strategy=strategy)
        if strategy == "minimums":
            return self.least
        if self.asked.cap == "none":
            return self.carried_out(wish)
        return capped(self._bears_until, lambda bearing: self.carried_out(wish, bearing), self.least, self.last_due)

    def _bears_until(self, month: int | None) -> Affordable:
        """What is borne, looked at until the end of a month, ten years at most, unless asked otherwise."""
        last = furthest(self.moment)
        if self.asked.until is not None:
            last = self.asked.until.toordinal()
        elif month is not None:
            last = max(min(last, month_end(month)), month_start(self.asked.start))
        days = self._payment_days(last)
        least = self._room.least_from([day for _, day in days], last)
        return Affordable(tuple(MonthlyRoom(*month, room) for month, room in zip(days, least, strict=True)))

    def _payment_days(self, last: int) -> list[tuple[int, int]]:
        until = max(furthest(self.moment), last)
        moment = self._without_extras
        days = self.moment.keep(
            f"payment days of {self._key} until {until}", lambda: payment_days(moment, self.debts, until)
        )
        return [(month, day) for month, day in enumerate(days, self.debts.start) if day <= last]

    @cached_property
    def _without_extras(self) -> Moment:
        return self.moment.keep(f"without extras of {self._key}", lambda: without_extras(self.moment, self.debts))

    @property
    def _key(self) -> str:
        """What these debts are, for what is kept of them."""
        return f"{[account.id for account in self.debts.accounts]} from {self.debts.start}"

    @cached_property
    def _room(self) -> Room:
        last = furthest(self.moment)
        if self.asked.until is not None:
            last = max(last, self.asked.until.toordinal())
        moment = self._without_extras

        def ahead() -> AccountRun:
            return project(moment, date.fromordinal(last), [self.payer.id]).runs[0]

        return self.moment.keep(f"room of {self.payer.id} with {self._key} until {last}", lambda: Room(ahead()))

    def notes(self) -> Iterator[str]:
        """What is accepted and worth saying."""
        yield from self.debts.notes()
        yield from order_notes(self.asked.wish, {debt.id: debt.name for debt in self.debts.debts})


def _start_problem(asked: Asked, debts: Debts) -> PlanError | None:
    early = [month for month in asked.wish.one_time if month.month < debts.start]
    if early:
        return refused("one_time", "An amount before the first month cannot be paid: choose a later month.", "range")
    if asked.until is not None and asked.until.toordinal() < month_start(debts.start):
        return refused("until", "Look at least as far as the first month.", "range")
    return None
