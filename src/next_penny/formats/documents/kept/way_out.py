"""Paying several debts off, as documents: what is asked, the debts of the calculator, and a plan that was adopted."""

from datetime import date
from typing import Annotated, Any

from pydantic import AfterValidator, Field, model_validator
from pydantic_core import InitErrorDetails, PydanticCustomError, ValidationError

from next_penny.core.dates.calendar import month_number
from next_penny.core.payoff import debts as payoff
from next_penny.core.plan.kept import way_out as core
from next_penny.core.plan.terms import cards as terms
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Percent, fields_of, values_of
from next_penny.formats.documents.loans import Extra
from next_penny.formats.documents.parts import Month, StatementChange

Owed = Annotated[Amount, Field(ge=0)]
_MOST_DEBTS = 100
_MOST_AMOUNTS = 1200


def _a_possible_rate(rate: Any) -> Any:
    if not 0 <= rate <= 1000:
        raise PydanticCustomError("range", "A rate is from 0 to 1,000 % a year.")
    return rate


AnnualRate = Annotated[Percent, AfterValidator(_a_possible_rate)]


class MonthAmount(Document):
    month: Month
    amount: Owed


class AmountFrom(Document):
    """From a month on, another amount."""

    start: Month = Field(alias="from")
    amount: Owed


class WishDocument(Document):
    """How debts are to be paid off."""

    order: tuple[Id, ...] = Field((), max_length=_MOST_DEBTS)
    extra_monthly: Owed = 0
    one_time: tuple[MonthAmount, ...] = Field((), max_length=_MOST_AMOUNTS)
    extra_changes: tuple[AmountFrom, ...] = Field((), max_length=_MOST_AMOUNTS)
    roll_freed: bool = True

    def wish(self, choice: core.Choice) -> core.Wish:
        """The wish; whatever costs the least is run in the order of rates where nothing says otherwise."""
        return core.Wish(
            strategy="highest_rate" if choice == "cheapest" else choice,
            order=self.order,
            extra_monthly=self.extra_monthly,
            extra_changes=tuple(
                core.MonthAmount(extra_change.start, extra_change.amount) for extra_change in self.extra_changes
            ),
            one_time=tuple(core.MonthAmount(month.month, month.amount) for month in self.one_time),
            roll_freed=self.roll_freed,
        )


class RateFrom(Document):
    start: Day = Field(alias="from")
    annual_rate: AnnualRate

    def to_core(self) -> terms.RateStep:
        return terms.RateStep(self.start, self.annual_rate)


class MinimumDocument(Document):
    """A `fixed` amount, or a `percent` of what a month opens with (and its interest or not), at least `floor`."""

    fixed: Owed | None = None
    percent: AnnualRate | None = None
    plus_interest: bool = False
    floor: Owed = 0

    @model_validator(mode="after")
    def _one_of_both(self) -> "MinimumDocument":
        if (self.fixed is None) == (self.percent is None):
            raise PydanticCustomError("minimum", "Give a fixed amount, or a percentage.")
        return self

    def to_core(self) -> payoff.Minimum:
        if self.fixed is not None:
            return payoff.Minimum(self.fixed)
        return payoff.Minimum(self.floor, self.percent, self.plus_interest)


class DebtDocument(Document):
    """A debt of the calculator; what is owed is positive."""

    id: Id
    name: Name = ""
    balance: Owed
    annual_rate: AnnualRate
    rate_changes: tuple[RateFrom, ...] = Field((), max_length=500)
    minimum: MinimumDocument

    def to_core(self) -> payoff.PlainDebt:
        return payoff.PlainDebt(
            self.id, self.name or self.id, self.balance, self.annual_rate, self.minimum.to_core(),
            tuple(rate_change.to_core() for rate_change in self.rate_changes),
        )  # fmt: skip


class AskedDocument(WishDocument):
    """What a household asks of its way out of debt; by itself it starts in the first month that is wholly ahead."""

    debts: tuple[Id, ...] | None = Field(None, max_length=_MOST_DEBTS)
    start: Month | None = None
    strategy: core.Choice = "highest_rate"
    from_account: Id | None = None
    until: Day | None = None
    cap: core.Cap = "none"
    want: tuple[core.Wanted, ...] = ()

    def asked(self, today: date) -> core.Asked:
        """What is asked on a day."""
        ahead = month_number(today) + (today.day > 1)
        start = ahead if self.start is None else self.start
        wish = self.wish(self.strategy)
        return core.Asked(
            start, self.strategy, wish, self.debts, self.from_account, self.until, self.cap, self.want
        )  # fmt: skip

    @classmethod
    def of_asked(cls, asked: core.Asked) -> "AskedDocument":
        return AskedDocument(**_asked_fields(asked))


def _asked_fields(asked: core.Asked) -> dict[str, Any]:
    wish = asked.wish
    return {
        "debts": asked.debts,
        "start": asked.start,
        "strategy": asked.choice,
        "order": wish.order,
        "extra_monthly": wish.extra_monthly,
        "one_time": tuple(MonthAmount(**month._asdict()) for month in wish.one_time),
        "extra_changes": tuple(
            AmountFrom(**{"from": extra_change.month, "amount": extra_change.amount})
            for extra_change in wish.extra_changes
        ),
        "roll_freed": wish.roll_freed,
        "from_account": asked.from_account,
        "until": asked.until,
        "cap": asked.cap,
        "want": asked.want,
    }


class CalculatorDocument(WishDocument):
    """Debts to be paid off from a month on."""

    start: Month
    debts: tuple[DebtDocument, ...] = Field(max_length=_MOST_DEBTS)
    strategy: core.Strategy = "highest_rate"

    @model_validator(mode="after")
    def _consistent(self) -> "CalculatorDocument":
        ids = [debt.id for debt in self.debts]
        problems: list[InitErrorDetails] = []
        for place, id in enumerate(ids):
            if id in ids[:place]:
                problems.append(_problem(("debts", place, "id"), f"The id “{id}” is used twice.", id))
        for place, id in enumerate(self.order):
            if id not in ids:
                problems.append(_problem(("order", place), f"There is no debt “{id}”.", id))
        for place, once in enumerate(self.one_time):
            if once.month < self.start:
                message = "An amount before the first month cannot be paid: choose a later month."
                problems.append(_problem(("one_time", place, "month"), message, once.month))
        if problems:
            raise ValidationError.from_exception_data("CalculatorDocument", problems)
        return self


def _problem(loc: tuple[str | int, ...], message: str, given: object) -> InitErrorDetails:
    return InitErrorDetails(type=PydanticCustomError("range", message), loc=loc, input=given)


class ExpectedDocument(Document):
    """A debt as the plan has it: what is paid in each month, and what is then owed."""

    account: Id
    opening: Owed
    months: tuple[tuple[int, int], ...] = Field((), max_length=_MOST_AMOUNTS)


class ReplacedDocument(Document):
    """What the plan put out of the way on an account."""

    account: Id
    extras: tuple[Extra, ...] = ()
    changes: tuple[StatementChange, ...] = ()


class WayOutDocument(AskedDocument):
    """A way out that was adopted. `expected` and `replaced` are what it then came to."""

    on: Day
    expected: tuple[ExpectedDocument, ...] = Field((), max_length=_MOST_DEBTS)
    replaced: tuple[ReplacedDocument, ...] = Field((), max_length=_MOST_DEBTS)

    def to_core(self) -> core.WayOut:
        return core.WayOut(
            self.asked(self.on),
            self.on,
            tuple(
                core.ExpectedDebt(
                    expected_document.account,
                    expected_document.opening,
                    tuple(core.ExpectedMonth(*month) for month in expected_document.months),
                )
                for expected_document in self.expected
            ),
            tuple(
                core.Replaced(
                    replaced_document.account,
                    tuple(extra.to_core() for extra in replaced_document.extras),
                    tuple(terms.StatementChange(**values_of(change)) for change in replaced_document.changes),
                )
                for replaced_document in self.replaced
            ),
        )

    @classmethod
    def of(cls, adopted: core.WayOut) -> "WayOutDocument":
        return cls(
            **_asked_fields(adopted.asked),
            on=adopted.on,
            expected=tuple(ExpectedDocument(**fields_of(debt, ExpectedDocument)) for debt in adopted.expected),
            replaced=tuple(
                ReplacedDocument(
                    account=replaced.account,
                    extras=tuple(Extra(**fields_of(extra, Extra)) for extra in replaced.extras),
                    changes=tuple(StatementChange(**fields_of(change, StatementChange)) for change in replaced.changes),
                )
                for replaced in adopted.replaced
            ),
        )
