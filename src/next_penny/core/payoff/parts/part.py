"""What the way out asks of a debt of the household, whatever it is. Amounts are minor units of its currency."""

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple, Protocol

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number
from next_penny.core.payoff.debts import Debt
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.kept.way_out import Replaced

# How far ahead the forecast is looked at for what it bears.
MOST_YEARS_AHEAD = 10


def furthest(moment: Moment) -> int:
    """The last day of the forecast that says what can be spared."""
    return month_end(month_number(add_months(moment.today, 12 * MOST_YEARS_AHEAD)))


class Payment(NamedTuple):
    """What was paid on a debt, escrow and insurance apart: on or for which day, how much, and its interest."""

    day: int
    paid: int
    interest: int


class DebtPart(Protocol):
    """A debt's terms, as a way out asks them. Days are day numbers, months are month numbers.

    left_out: why it is not planned unless it is named; cannot_join: why it is not planned at all; None where it is.
    original: what was owed at first by its terms, 0 where they do not say.
    """

    @property
    def account(self) -> Account: ...

    @property
    def cannot_join(self) -> str | None: ...

    @property
    def left_out(self) -> str | None: ...

    @property
    def original(self) -> int: ...

    def debt(self, moment: Moment, owed: int, start: int) -> Debt:
        """The debt from a month on, with so much owed then, and nothing planned beyond its minimums."""
        ...

    def minimums_only(self, first: int) -> Account:
        """The account without what is planned beyond its minimum from a day on."""
        ...

    def due_days(self, moment: Moment, first: int, last: int) -> Iterator[int]:
        """The days of a stretch on which it is due."""
        ...

    def last_due_days(self, month: int) -> Mapping[int, int]:
        """The last day of a month on which it is due, 0 where it is not; of other months where these come along."""
        ...

    def planned(self, moment: Moment, months: Sequence[DebtMonth], start: int) -> Account:
        """The account with what a plan pays on it from a month on."""
        ...

    def replaced(self, cut: Account, planned: Account) -> Replaced | None:
        """What makes room for a plan: what it is cut by, and what of its own the plan pays; None for nothing."""
        ...

    def with_replaced(self, replaced: Replaced, first: int) -> Account:
        """The account with what made room for a plan, from a day on."""
        ...

    def payments(self, moment: Moment) -> Iterator[Payment]:
        """What was paid on it until today."""
        ...

    def interest_between(self, moment: Moment, first: int, last: int) -> int:
        """Its interest in some days, as it is recorded and forecast; a card's as far as the forecast looks."""
        ...

    def above_minimum(self, first: int, last: int, least: DebtMonth) -> int:
        """What is paid above the minimum each month now: `first` and `last` are the days of the plan's first month.

        least: the first month in which there is a minimum, with minimums alone.
        """
        ...

    def paid_as_now(self, month: DebtMonth, above: int) -> int:
        """What would be paid in a month of a plan, were it paid as now; `above`: what is paid above the minimum now."""
        ...
