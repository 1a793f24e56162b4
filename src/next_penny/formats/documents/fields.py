"""The kinds of field that documents and requests are made of, and what they refuse."""

import datetime
import re
from collections.abc import Collection
from decimal import Decimal, InvalidOperation
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, PlainSerializer
from pydantic_core import PydanticCustomError

from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.dates.sentences import full_day
from next_penny.core.money import LARGEST_AMOUNT


class Document(BaseModel):
    """A JSON object of which no field is unknown."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True, frozen=True)


def values_of(document: Document, *, besides: Collection[str] = ()) -> dict[str, Any]:
    """A document's fields as they are, but for some, for an item of the core with the same names."""
    return {name: getattr(document, name) for name in type(document).model_fields if name not in besides}


def fields_of(item: object, document: type[Document]) -> dict[str, Any]:
    """The fields of a document that an item of the core has under the same names."""
    return {name: getattr(item, name) for name in document.model_fields if hasattr(item, name)}


def _read_day(value: object) -> object:
    if isinstance(value, datetime.date):
        return value
    if not isinstance(value, str) or not re.fullmatch(r"\d{4}-\d{2}-\d{2}", value, re.ASCII):
        raise PydanticCustomError("date", "Write the date as YYYY-MM-DD, such as 2027-03-18.")
    try:
        day = datetime.date.fromisoformat(value)
    except ValueError:
        raise PydanticCustomError("date", "“{value}” is not a day of the calendar.", {"value": value}) from None
    if not EARLIEST <= day <= LATEST:
        raise PydanticCustomError(
            "date", "The date must be from {first} to {last}.", {"first": full_day(EARLIEST), "last": full_day(LATEST)}
        )
    return day


def _read_amount(value: object) -> object:
    if not isinstance(value, int) or isinstance(value, bool):
        raise PydanticCustomError("amount", "An amount is a whole number of minor units, such as 1250 for 12.50 USD.")
    if abs(value) > LARGEST_AMOUNT:
        raise PydanticCustomError("amount", "The amount is too large: at most {most}.", {"most": f"{LARGEST_AMOUNT:,}"})
    return value


def _read_percent(value: object) -> object:
    try:
        if isinstance(value, bool) or not isinstance(value, (str, int, float, Decimal)):
            raise InvalidOperation
        # A number that came as JSON is read as it was written, not as its binary neighbour.
        text = str(value).strip()
        # Many write a rate with a comma; nobody groups its thousands.
        percent = Decimal(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
        if not percent.is_finite() or abs(percent) >= 10**9 or percent.as_tuple().exponent < -12:  # type: ignore[operator]
            raise InvalidOperation
    except InvalidOperation:
        raise PydanticCustomError("rate", "Write a decimal number such as 5.85.") from None
    return percent


def _without_nul(text: str) -> str:
    if "\x00" in text:
        raise PydanticCustomError("text", "The text contains a character that cannot be kept.")
    return text


Day = Annotated[
    datetime.date, BeforeValidator(_read_day, json_schema_input_type=str), Field(json_schema_extra={"format": "date"})
]
Amount = Annotated[int, BeforeValidator(_read_amount, json_schema_input_type=int)]
Percent = Annotated[
    Decimal,
    BeforeValidator(_read_percent, json_schema_input_type=str | float),
    PlainSerializer(lambda value: f"{value:f}", return_type=str),
]
Text = Annotated[str, Field(max_length=10_000), AfterValidator(_without_nul)]
Name = Annotated[str, Field(max_length=200), AfterValidator(_without_nul)]
# A tag is one line of text.
Tag = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\r\n\x00]*$")]
# The number of a check, as it is printed: one short line.
Number = Annotated[str, Field(max_length=40, pattern=r"^[^\r\n\x00]*$")]
Id = Annotated[str, Field(min_length=1, max_length=200), AfterValidator(_without_nul)]
# Empty where there is none.
MaybeId = Annotated[str, Field(max_length=200), AfterValidator(_without_nul)]
Currency = Annotated[str, Field(max_length=20)]
RuleText = Annotated[str, Field(max_length=500, pattern=r"^[^\r\n\x00]*$")]
