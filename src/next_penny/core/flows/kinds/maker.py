"""What every maker of movements answers, and which one a flow has (docs/architecture.md, Makers).

Whoever asks what a flow moves, how it is recorded or why it is so asks its maker, never what kind it is.
"""

from collections.abc import Iterator
from datetime import date
from typing import Literal, Protocol

from next_penny.core.accounts.generated import MadeSource
from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.kinds.calendar_flow import CalendarFlow, MadeFlow, Mask
from next_penny.core.flows.kinds.lent_repayment import LentRepayment
from next_penny.core.flows.kinds.loan_payment import LoanPayment
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.loans.standing import Parts
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import PaidSplit

Source = Literal["flow", "loan", "allowance", "recorded", MadeSource]


class Teller(Protocol):
    """Tells why an occurrence is what it is."""

    @property
    def usual(self) -> str | None: ...
    def why(self, nominal: int, is_past_due: bool) -> str: ...


class Maker(Protocol):
    """What every maker of a flow's movements answers; see `CalendarFlow` for what each answer means."""

    flow: Flow
    opened: date

    @property
    def source(self) -> str: ...
    @property
    def may_be_paid_in_parts(self) -> bool: ...
    @property
    def may_be_foreign(self) -> bool: ...
    @property
    def settles_itself(self) -> bool: ...
    @property
    def basis(self) -> tuple[object, ...]: ...
    @property
    def posted_by(self) -> tuple[object, ...]: ...
    def occurrences(self, first: int, last: int) -> Occurrences: ...
    def nominal_days(self, first: int, last: int) -> list[int]: ...
    def amount_of(self, nominal: int) -> int: ...
    def postings(self, coming: Occurrences, days: Days) -> Iterator[tuple[str, Days, Mask | None]]: ...
    def shares(self, coming: Occurrences) -> Iterator[tuple[str, Days, Mask | None]]: ...
    def split(self, nominal: date) -> Parts | None: ...
    def legs(
        self, nominal: date, amount: int, day: date, account: str | None, split: PaidSplit | None = None
    ) -> Iterator[Leg]: ...
    def payee(self, nominal: date) -> str: ...
    def rhythm(self) -> str: ...
    def teller(self) -> Teller: ...


def maker_of(moment: Moment, flow: Flow) -> Maker:
    """What makes a flow's movements."""
    if flow.id in moment.plan.maker_accounts:
        return MadeFlow(moment, flow)
    loan = moment.plan.paid_by(flow)
    if loan is not None:
        return LoanPayment(moment, flow, loan)
    lent = moment.plan.lent_by(flow)
    return CalendarFlow(moment, flow) if lent is None else LentRepayment(moment, flow, lent)
