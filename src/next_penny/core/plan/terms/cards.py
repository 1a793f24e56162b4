"""What a card or a credit line does by itself, as data (docs/rules.md).

Amounts are integers of minor units, owed amounts positive; rates are exact decimals in percent a year.
"""

import datetime
from bisect import bisect_right
from dataclasses import dataclass
from decimal import Decimal
from typing import ClassVar, Literal, NamedTuple

from propcache.api import cached_property

from next_penny.core.plan.flows import CARD_INTEREST_ID, Flow, interest_id, payment_id
from next_penny.core.plan.terms.part import ids

CardPays = Literal["statement", "minimum", "fixed"]


@dataclass(frozen=True, slots=True)
class RateStep:
    """A yearly rate from a date on."""

    start: datetime.date
    annual_rate: Decimal


class RateSpan(NamedTuple):
    """Days, the first and last included, with one yearly rate, and that as a multiple of what `rate_scale` divides."""

    first: int
    last: int
    annual_rate: Decimal
    scaled: int


@dataclass(frozen=True, slots=True)
class DueRule:
    """When a statement is due: on the first day with a number after the closing, or so many days after it."""

    day: int | None = None
    days_after: int | None = None


@dataclass(frozen=True, slots=True)
class Minimum:
    """The least a statement asks for: a share of what is owed, perhaps the cycle's interest besides, or a floor."""

    percent: Decimal = Decimal(0)
    plus_interest: bool = False
    floor: int = 0


@dataclass(frozen=True, slots=True)
class StatementChange:
    """Just this once: another payment of the statement of one closing, on another day or none, or another charge."""

    closing: datetime.date
    amount: int | None = None
    moved_to: datetime.date | None = None
    left_out: bool = False
    interest: int | None = None

    @property
    def is_nothing(self) -> bool:
        """Whether it changes nothing any more."""
        return self == StatementChange(self.closing)


@dataclass(frozen=True, slots=True)
class BegunWith:
    """A statement that closed before the card was begun here: what of it is owed, and until when."""

    closing: datetime.date
    balance: int
    due: datetime.date


@dataclass(frozen=True)
class CardTerms:
    """A credit card, or a credit line (`is_line`), which pays interest in every cycle and may cover an account."""

    acts: ClassVar[bool] = True
    reads_gains: ClassVar[bool] = True

    limit: int
    closing_day: int
    due: DueRule
    rates: tuple[RateStep, ...] = ()
    minimum: Minimum = Minimum()
    pays: CardPays = "statement"
    fixed_amount: int | None = None
    from_account: str | None = None
    is_line: bool = False
    covers: str | None = None
    changes: tuple[StatementChange, ...] = ()
    begun_with: BegunWith | None = None

    @cached_property
    def change_by_closing(self) -> dict[int, StatementChange]:
        """What was set of one statement, by the day number of its closing."""
        return {change.closing.toordinal(): change for change in self.changes}

    @cached_property
    def rates_in_order(self) -> tuple[RateStep, ...]:
        """By the day from which they hold."""
        return tuple(sorted(self.rates, key=lambda step: step.start))

    @cached_property
    def minimum_share(self) -> tuple[int, int]:
        """The percentage that its minimum asks for, as a numerator and a denominator."""
        return self.minimum.percent.as_integer_ratio()

    @cached_property
    def rate_scale(self) -> int:
        """What makes every rate of it a whole number."""
        return int(10 ** max([0, *(-int(step.annual_rate.as_tuple().exponent) for step in self.rates)]))

    @cached_property
    def _rate_days(self) -> list[int]:
        return [step.start.toordinal() for step in self.rates_in_order]

    @cached_property
    def _scaled_rates(self) -> list[tuple[Decimal, int]]:
        """What is in force after so many of the rate days; before the first it is zero."""
        steps = [(step.annual_rate, int(step.annual_rate * self.rate_scale)) for step in self.rates_in_order]
        return [(Decimal(0), 0), *steps]

    @cached_property
    def known_dues(self) -> dict[int, int]:
        """By closing that was asked for before, when its statement is due: kept here for `due_day`."""
        return {}

    def rate_on(self, day: int) -> Decimal:
        """The rate of a day; before the first step it is zero."""
        return self._scaled_rates[bisect_right(self._rate_days, day)][0]

    def rates_between(self, first: int, last: int) -> list[RateSpan]:
        """The days from one to another, cut where the rate changes."""
        days = self._rate_days
        passed, end = bisect_right(days, first), bisect_right(days, last)
        if passed == end:
            return [RateSpan(first, last, *self._scaled_rates[end])]
        spans = []
        for number in range(passed, end):
            spans.append(RateSpan(first, days[number] - 1, *self._scaled_rates[number]))
            first = days[number]
        spans.append(RateSpan(first, last, *self._scaled_rates[end]))
        return spans

    @property
    def named_accounts(self) -> tuple[str, ...]:
        """What pays it, and what it covers."""
        return ids(self.from_account, self.covers)

    @property
    def read_accounts(self) -> tuple[str, ...]:
        """What it covers."""
        return ids(self.covers)

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """Its payment, and the interest that it is charged."""
        return (
            Flow(payment_id(id), f"Payment, {name}", "transfer", 0, self.from_account, id),
            Flow(interest_id(id), f"Interest, {name}", "bill", 0, id, category=CARD_INTEREST_ID),
        )
