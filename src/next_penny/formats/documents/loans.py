"""A loan's terms as a document, the LOAN of the API: what goes in comes out the same."""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationInfo, field_validator, model_serializer
from pydantic_core import PydanticCustomError

from next_penny.core.dates.day_counts import InterestMethod
from next_penny.core.plan.terms import loans as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Percent, Text, fields_of, values_of

PaymentsPerYear = Literal[1, 2, 4, 12, 24, 26, 52]
Count = Annotated[int, Field(strict=True, ge=-1, le=10_000)]


class RateChange(Document):
    start: Day = Field(alias="from")
    annual_rate: Percent


class DatedAmount(Document):
    start: Day = Field(alias="from")
    amount: Amount


class Extra(Document):
    """On one `date`, with `every` so many payments, or `yearly_in` a month; the latter two `from` and `to`."""

    amount: Amount
    date: Day | None = None
    every: Count | None = None
    yearly_in: Count | None = None
    start: Day | None = Field(None, alias="from")
    until: Day | None = Field(None, alias="to")

    def to_core(self) -> core.Extra:
        return core.Extra(**values_of(self))

    @model_serializer(mode="wrap")
    def _its_own_shape(self, handler: Any) -> dict[str, Any]:
        written = handler(self)
        is_dated = self.date is not None
        dropped = {name for name in ("date", "every", "yearly_in") if written[name] is None}
        dropped |= {"from", "to", "start", "until"} if is_dated else set()
        return {name: value for name, value in written.items() if name not in dropped}


class Fee(Document):
    name: Name
    amount: Amount
    financed: bool = False


class Insurance(Document):
    amount: Amount
    until_share: Percent
    original_value: Amount


class Lender(Document):
    """Who is paid from a date on, and what it charges with each payment."""

    start: Day = Field(alias="from")
    name: Name
    address: Text = ""
    fee: Amount = 0


class YearBefore(Document):
    """What was paid in a calendar year before the household began here."""

    year: Count
    interest: Amount = 0
    property_tax: Amount = 0


class Loan(Document):
    """The terms of a loan. What was added to version 1 later is left out where it is not set.

    `years` may be given in the place of `payments`, which is what is kept; where `disbursed` is not given, it is one
    payment before the first.
    """

    principal: Amount
    annual_rate: Percent
    payments_per_year: PaymentsPerYear = 12
    years: Percent | None = Field(None, exclude=True)
    payments: Count | None = Field(None, validate_default=True)
    first_payment: Day
    disbursed: Day = Field(None, validate_default=True)
    interest: InterestMethod = "equal_periods"
    balloon: Amount = 0
    payment: Amount | None = None
    accelerated: bool = False
    payment_rounding: core.PaymentRounding = "half_up"
    interest_only: Count = 0
    negative_amortization: bool = False
    rate_changes: tuple[RateChange, ...] = Field((), max_length=500)
    after_rate_change: core.AfterRateChange = "relevel"
    extras: tuple[Extra, ...] = Field((), max_length=500)
    extra_effect: core.ExtraEffect = "shorten"
    fees: tuple[Fee, ...] = Field((), max_length=100)
    escrow: tuple[DatedAmount, ...] = Field((), max_length=500)
    insurance: Insurance | None = None
    payment_changes: tuple[DatedAmount, ...] = Field((), max_length=500)
    from_account: Id | None = None
    escrow_account: Id | None = None
    lenders: tuple[Lender, ...] = Field((), max_length=50)
    property: Id | None = None
    years_before: tuple[YearBefore, ...] = Field((), max_length=50)

    @field_validator("payments", mode="after")
    @classmethod
    def _over_years(cls, payments: int | None, info: ValidationInfo) -> int | None:
        years, per_year = info.data.get("years"), info.data.get("payments_per_year")
        if years is None or per_year is None:
            return payments
        if payments is not None:
            raise PydanticCustomError("range", "Give the number of payments or the years, not both.")
        count = years * per_year
        if count != int(count):
            raise PydanticCustomError("range", "These years do not end with a payment: give the number of payments.")
        return int(count)

    @field_validator("disbursed", mode="before")
    @classmethod
    def _one_payment_before(cls, disbursed: Any, info: ValidationInfo) -> Any:
        first, per_year = info.data.get("first_payment"), info.data.get("payments_per_year")
        return disbursed if disbursed is not None or not (first and per_year) else core.usual_disbursal(first, per_year)

    @model_serializer(mode="wrap")
    def _without_unset(self, handler: Any) -> dict[str, Any]:
        written = handler(self)
        unset = {name for name in _ADDED if not getattr(self, name)}
        return {name: value for name, value in written.items() if name not in unset}

    @classmethod
    def of(cls, terms: core.LoanTerms) -> "Loan":
        values = {name: getattr(terms, name) for name in cls.model_fields if name != "years"}
        for name, (document, _) in _LISTS.items():
            values[name] = tuple(document(**fields_of(part, document)) for part in values[name])
        values["insurance"] = Insurance(**fields_of(terms.insurance, Insurance)) if terms.insurance else None
        return cls(**values)

    def to_core(self) -> core.LoanTerms:
        values = values_of(self, besides=("years",))
        for name, (_, kind) in _LISTS.items():
            values[name] = tuple(kind(**values_of(part)) for part in values[name])
        values["insurance"] = core.Insurance(**values_of(self.insurance)) if self.insurance else None
        return core.LoanTerms(**values)


_ADDED = ("payment_changes", "from_account", "escrow_account", "lenders", "property", "years_before")
_LISTS: dict[str, tuple[type[Document], Any]] = {
    "rate_changes": (RateChange, core.RateChange),
    "extras": (Extra, core.Extra),
    "fees": (Fee, core.Fee),
    "escrow": (DatedAmount, core.DatedAmount),
    "payment_changes": (DatedAmount, core.DatedAmount),
    "lenders": (Lender, core.Lender),
    "years_before": (YearBefore, core.YearBefore),
}
