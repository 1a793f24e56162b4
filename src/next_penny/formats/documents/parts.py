"""What an account does by itself, in the plan document: card, savings and sweep."""

from decimal import Decimal
from typing import Annotated

from pydantic import BeforeValidator, Field, PlainSerializer
from pydantic_core import PydanticCustomError

from next_penny.core.dates.calendar import FIRST_YEAR, LAST_YEAR
from next_penny.core.plan.terms import cards, savings, sweeps
from next_penny.formats.documents.extended import Extended
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Percent, RuleText, fields_of, values_of


def _read_month(value: object) -> object:
    if isinstance(value, int) and FIRST_YEAR * 12 <= value < LAST_YEAR * 12:
        return value  # a month number, from the core
    year, _, month = str(value).partition("-")
    is_plain = len(year) == 4 and len(month) == 2 and (year + month).isascii() and (year + month).isdigit()
    if not is_plain or not 1 <= int(month) <= 12 or not FIRST_YEAR <= int(year) < LAST_YEAR:
        raise PydanticCustomError("month", "Write the month as YYYY-MM, such as 2027-03.")
    return int(year) * 12 + int(month) - 1


def month_text(month: int) -> str:
    """A month number as YYYY-MM."""
    return f"{month // 12:04d}-{month % 12 + 1:02d}"


# A month number in the core, YYYY-MM in documents.
Month = Annotated[
    int, BeforeValidator(_read_month, json_schema_input_type=str), PlainSerializer(month_text, return_type=str)
]


class RateStep(Document):
    start: Day = Field(alias="from")
    annual_rate: Percent


class DueRule(Document):
    """The first day with a number after the closing, or so many days after it."""

    day: int | None = None
    days_after: int | None = None


class Minimum(Document):
    percent: Percent = Decimal(0)
    plus_interest: bool = False
    floor: Amount = 0


class StatementChange(Document):
    """One statement's payment and charge; null is as the card's terms say."""

    closing: Day
    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False
    interest: Amount | None = None


class BegunWith(Document):
    """A statement that closed before the card was begun here."""

    closing: Day
    balance: Amount
    due: Day


class Card(Extended):
    """A card's or credit line's terms."""

    _extra = frozenset({"begun_with"})

    limit: Amount
    closing_day: int
    due: DueRule
    rates: tuple[RateStep, ...] = Field((), max_length=1000)
    minimum: Minimum = Minimum()
    pays: cards.CardPays = "statement"
    fixed_amount: Amount | None = None
    from_account: Id | None = None
    is_line: bool = False
    covers: Id | None = None
    changes: tuple[StatementChange, ...] = Field((), max_length=5000)
    begun_with: BegunWith | None = None

    @classmethod
    def of(cls, card: cards.CardTerms) -> "Card":
        return cls(
            **{
                **fields_of(card, cls),
                "due": DueRule(**fields_of(card.due, DueRule)),
                "rates": tuple(RateStep(**fields_of(step, RateStep)) for step in card.rates),
                "minimum": Minimum(**fields_of(card.minimum, Minimum)),
                "changes": tuple(StatementChange(**fields_of(change, StatementChange)) for change in card.changes),
                "begun_with": BegunWith(**fields_of(card.begun_with, BegunWith)) if card.begun_with else None,
            }
        )

    def to_core(self) -> cards.CardTerms:
        return cards.CardTerms(
            **{
                **values_of(self),
                "due": cards.DueRule(**values_of(self.due)),
                "rates": tuple(cards.RateStep(**values_of(step)) for step in self.rates),
                "minimum": cards.Minimum(**values_of(self.minimum)),
                "changes": tuple(cards.StatementChange(**values_of(change)) for change in self.changes),
                "begun_with": cards.BegunWith(**values_of(self.begun_with)) if self.begun_with else None,
            }
        )


class CreditChange(Document):
    """The interest credited for one month; null is as the bank counts it."""

    month: Month
    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False


class Savings(Document):
    """What savings earn: a yield or a nominal rate, and how the bank counts."""

    apy: Percent | None = None
    rate: Percent | None = None
    basis: savings.Basis = "365"
    compounding: savings.Compounding = "daily"
    movements_earn: savings.MovementsEarn = "same_day"
    rounding: savings.InterestRounding = "at_credit"
    changes: tuple[CreditChange, ...] = Field((), max_length=5000)

    @classmethod
    def of(cls, savings: savings.SavingsTerms) -> "Savings":
        changes = tuple(CreditChange(**fields_of(change, CreditChange)) for change in savings.changes)
        return cls(**{**fields_of(savings, cls), "changes": changes})

    def to_core(self) -> savings.SavingsTerms:
        changes = tuple(savings.CreditChange(**values_of(change)) for change in self.changes)
        return savings.SavingsTerms(**{**values_of(self), "changes": changes})


class Sweep(Document):
    """Kept between two amounts, by moving to and from another account on the days that rules give."""

    partner: Id = Field(alias="with")
    least: Amount
    most: Amount | None = None
    rules: tuple[RuleText, ...] = Field((), max_length=50)
    start: Day | None = None

    @classmethod
    def of(cls, sweep: sweeps.SweepTerms) -> "Sweep":
        return cls(**fields_of(sweep, cls))

    def to_core(self) -> sweeps.SweepTerms:
        return sweeps.SweepTerms(**values_of(self))
