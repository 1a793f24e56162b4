"""A rule of a schedule as a document: its text, or the rhythm that it is, part by part."""

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, ValidationError
from pydantic_core import PydanticCustomError

from next_penny.core.dates import rhythms as core
from next_penny.formats.documents.fields import Document, RuleText, fields_of

Weekday = Literal["MO", "TU", "WE", "TH", "FR", "SA", "SU"]
Unit = Literal["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]


class Rhythm(Document):
    """Every so many days, weeks, months or years, as one picks it; what its unit does not use is kept, too.

    month_days: -1 is the last. place: the first to fourth, or -1 the last, `place_day` of a month.
    """

    unit: Unit
    every: Annotated[int, Field(strict=True, ge=0, le=999)]
    weekdays: tuple[Weekday, ...]
    within: core.Within
    month_days: tuple[Annotated[int, Field(strict=True, ge=-1, le=31)], ...]
    place: Literal[1, 2, 3, 4, -1]
    place_day: Weekday
    months: tuple[Annotated[int, Field(strict=True, ge=1, le=12)], ...]

    @classmethod
    def of(cls, rhythm: core.Rhythm) -> "Rhythm":
        return cls(**fields_of(rhythm, cls))

    def to_rule(self) -> str:
        """The rule that it comes to."""
        return core.rule_of(core.Rhythm(**{name: getattr(self, name) for name in Rhythm.model_fields}))


def as_rule(value: Any) -> Any:
    """A rhythm as the rule that it comes to; anything else as it is."""
    if isinstance(value, Rhythm):
        return value.to_rule()
    if not isinstance(value, dict):
        return value
    try:
        return Rhythm.model_validate(value).to_rule()
    except ValidationError as error:
        raise PydanticCustomError("rhythm", "This rhythm cannot be read: choose another.") from error


def with_rules(value: Any) -> Any:
    """Fields of an item, with each rhythm among its `rules`, however deep, as the rule that it comes to."""
    if isinstance(value, list):
        return [with_rules(item) for item in value]
    if not isinstance(value, dict):
        return value
    return {
        name: [as_rule(rule) for rule in inner] if name == "rules" and isinstance(inner, list) else with_rules(inner)
        for name, inner in value.items()
    }


# A rule, or the rhythm that it is.
RuleOrRhythm = Annotated[RuleText, BeforeValidator(as_rule, json_schema_input_type=str | Rhythm)]
