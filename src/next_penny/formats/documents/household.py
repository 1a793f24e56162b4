"""The household, its categories and exchange rates in the plan document (docs/plan-format.md)."""

from typing import Annotated

from pydantic import Field

from next_penny.core.dates import writing
from next_penny.core.plan import categories as core_categories
from next_penny.core.plan import household as core_household
from next_penny.core.plan import rates
from next_penny.formats.documents.extended import Extended
from next_penny.formats.documents.fields import (
    Currency,
    Day,
    Document,
    Id,
    Name,
    Percent,
    fields_of,
    values_of,
)


class Category(Extended):
    _extra = frozenset({"icon", "retired", "merged_into"})

    id: Id
    name: Name
    group: Name = ""
    kind: core_categories.CategoryKind = "expense"
    icon: Annotated[str, Field(max_length=40, pattern=r"^[a-z0-9-]*$")] = ""
    retired: bool = False
    merged_into: Id | None = None

    @classmethod
    def of(cls, category: core_categories.Category) -> "Category":
        return cls(**fields_of(category, cls))

    def to_core(self) -> core_categories.Category:
        return core_categories.Category(**values_of(self))


class Rate(Document):
    """From a day on, one unit of the first currency is so many of the other."""

    date: Day
    source: Currency = Field(alias="from")
    target: Currency = Field(alias="to")
    rate: Percent

    @classmethod
    def of(cls, rate: rates.Rate) -> "Rate":
        return cls(**fields_of(rate, cls))

    def to_core(self) -> rates.Rate:
        return rates.Rate(**values_of(self))


class Household(Document):
    """The household's own settings, as in the head of the plan document."""

    name: Name = ""
    currency: Currency
    country: Currency | None = None
    past_due: core_household.PastDue = "carry"
    notation: writing.Notation | None = None
    week_starts: writing.WeekStart | None = None
    date_order: writing.DateOrder | None = None

    @classmethod
    def of(cls, household: core_household.Household) -> "Household":
        return cls(**fields_of(household, cls))

    def to_core(self) -> core_household.Household:
        return core_household.Household(**values_of(self))
