"""Some debts replaced by one: a new loan with its fees, or a balance moved to a card on promotion."""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import NamedTuple

from next_penny.core.loans.level import period_rate, rounded_level
from next_penny.core.money import rounded_quotient
from next_penny.core.payoff.comparing import cheapest_of
from next_penny.core.payoff.debts import MONTHS_A_YEAR, Debt, Minimum, PlainDebt
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.run import run
from next_penny.core.payoff.way import Way
from next_penny.core.plan.kept.way_out import STRATEGIES
from next_penny.core.plan.terms.cards import RateStep
from next_penny.core.problems import refused

_NEW = "the new debt"


@dataclass(frozen=True, slots=True)
class NewLoan:
    """One loan in the place of several debts; fees are added to it, or paid in cash."""

    annual_rate: Decimal
    payments: int
    fees: int = 0
    fees_financed: bool = True


@dataclass(frozen=True, slots=True)
class NewCard:
    """A card that balances are moved to: its rates by date, its minimum, and a fee in percent of what is moved."""

    rates: tuple[RateStep, ...]
    minimum: Minimum
    fee_percent: Decimal = Decimal(0)


class Consolidated(NamedTuple):
    """The plan with the new debt in it, against the plan without.

    moved: what the new debt pays off. fees: in all, `fees_in_cash` of them at once. payment: the new debt's first
    minimum; minimums and minimums_before: of all debts in the first month. costs: interest and fees in all. saves:
    how much less that is than without; None where one of the two never ends.
    """

    debt: Debt
    moved: int
    fees: int
    fees_in_cash: int
    payment: int
    minimums: int
    minimums_before: int
    run: Run
    costs: int
    costs_before: int
    saves: int | None


def consolidate(way: Way, chosen: tuple[str, ...], new: NewLoan | NewCard) -> Consolidated:
    """Replace chosen debts from the first month on. Raises PlanError where these are not among the debts."""
    replaced = [debt for debt in way.debts.debts if debt.id in chosen]
    if not replaced:
        raise refused("chosen", "Choose at least one debt that is to be replaced.", "needed")
    moved = sum(debt.balance for debt in replaced)
    debt, fees, in_cash = _new_debt(new, moved)
    debts = [one_debt for one_debt in way.debts.debts if one_debt.id not in chosen]
    before = way.run
    after = _paid_off(way, [*debts, debt], replaced[0].id)
    both = not after.never and not before.never
    costs, costs_before = after.total_interest + fees, before.total_interest
    return Consolidated(
        debt, moved, fees, in_cash, after.months[debt.id][0].minimum, _minimums(after), _minimums(before),
        after, costs, costs_before, costs_before - costs if both else None,
    )  # fmt: skip


def _new_debt(new: NewLoan | NewCard, moved: int) -> tuple[Debt, int, int]:
    if isinstance(new, NewCard):
        percent, scale = new.fee_percent.as_integer_ratio()
        fee = rounded_quotient(percent * moved, 100 * scale)
        return PlainDebt(_NEW, "The new card", moved + fee, Decimal(0), new.minimum, new.rates), fee, 0
    owed = moved + (new.fees if new.fees_financed else 0)
    level = rounded_level(owed, period_rate(new.annual_rate, MONTHS_A_YEAR), new.payments, 0, "half_up")
    in_cash = 0 if new.fees_financed else new.fees
    return PlainDebt(_NEW, "The new loan", owed, new.annual_rate, Minimum(level)), new.fees, in_cash


def _paid_off(way: Way, debts: list[Debt], in_place_of: str) -> Run:
    """The debts paid off; the new one is due when one that it replaces was."""

    def last_due(id: str, month: int) -> int:
        return way.last_due(in_place_of if id == _NEW else id, month)

    bears, choice = way.bearing(way.run, last_due), way.asked.choice
    tried = STRATEGIES if choice == "cheapest" else (choice,)
    runs = [
        run(debts, way.debts.start, replace(way.asked.wish, strategy=strategy), bears, last_due=last_due)
        for strategy in tried
    ]
    return cheapest_of(runs)


def _minimums(run: Run) -> int:
    """Of all debts, in the first month."""
    return sum(months[0].minimum for months in run.months.values())
