"""Stateless calculators, which the interface itself calls for unsaved previews."""

from datetime import date
from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.http.errors import Refusal, Refused, refused
from next_penny.api.http.session import Home
from next_penny.core.checks.of_flows.dates import rule_problem
from next_penny.core.dates.business_days import BusinessCalendar, business_calendar, known_countries
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rhythms import rhythm_of
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import recurrence_sentence
from next_penny.core.flows.occurrences import landings, next_landings, other_month_note
from next_penny.core.plan.flows import MOST_RULES
from next_penny.formats.documents.fields import Currency, Day, Document, RuleText
from next_penny.formats.documents.rhythms import Rhythm, RuleOrRhythm

router = APIRouter(prefix="/api/tools", tags=["tools"])

# A listing for a person or a program, not a store of dates.
_MOST_LISTED = 20_000
# So many dates ahead are looked at for what is worth saying.
_LOOKED_AT = 12


class OccurrencesRequest(Document):
    """When something repeats. `from` and `to` bound the nominal dates that are listed."""

    rules: tuple[RuleOrRhythm, ...] = Field((), max_length=MOST_RULES)
    dates: tuple[Day, ...] = ()
    exceptions: tuple[Day, ...] = Field((), alias="except")
    start: Day | None = None
    until: Day | None = None
    count: Annotated[int, Field(strict=True, ge=1, le=100_000)] | None = None
    roll: Literal["none", "before", "after", "nearest"] = "none"
    country: Currency | None = None
    first: Day | None = Field(None, alias="from")
    last: Day | None = Field(None, alias="to")


class OccurrenceModel(BaseModel):
    nominal: date
    lands: date


class BehindModel(BaseModel):
    """How many dates land before today, and the day on which the first of them does."""

    count: int
    first: date


class OccurrencesAnswer(BaseModel):
    """`text` says it in words; `next` are the next six landing dates from today on. notes: sentences worth saying.

    behind: the dates since its own start that lie before today; null where there are none.
    """

    occurrences: list[OccurrenceModel]
    text: str
    next: list[date]
    behind: BehindModel | None
    notes: list[str]


class RhythmsRequest(Document):
    """Rules of something that starts on a day."""

    rules: tuple[RuleText, ...] = Field(max_length=MOST_RULES)
    start: Day


class RhythmsAnswer(BaseModel):
    """By rule the rhythm that it is; null for one that is said in a sentence alone."""

    rhythms: list[Rhythm | None]


@router.post("/rhythms")
def read_rhythms(request: RhythmsRequest) -> RhythmsAnswer:
    """Rules part by part, as one picks them."""
    rhythms = (rhythm_of(rule, request.start) for rule in request.rules)
    return RhythmsAnswer(rhythms=[None if rhythm is None else Rhythm.of(rhythm) for rhythm in rhythms])


@router.post("/occurrences")
def occurrences(request: OccurrencesRequest, home: Home) -> OccurrencesAnswer:
    """The dates that rules, dates and exceptions give together."""
    schedule = _schedule(request, home.today)
    calendar = business_calendar(request.country)
    listed = []
    if request.first is not None or request.last is not None:
        first = request.first or schedule.start
        last = request.last or date(first.year + 1, first.month, min(first.day, 28))
        listed = landings(schedule, calendar, request.roll, first.toordinal(), last.toordinal())
    if len(listed) > _MOST_LISTED:
        raise refused(
            ("body", "to"), f"These are more than {_MOST_LISTED:,} dates: ask for a shorter time.", "too_many"
        )
    coming = next_landings(schedule, calendar, request.roll, home.today, _LOOKED_AT)
    note = other_month_note(coming)
    return OccurrencesAnswer(
        occurrences=[
            OccurrenceModel(nominal=date.fromordinal(nominal), lands=date.fromordinal(lands))
            for nominal, lands in listed
        ],
        text=recurrence_sentence(schedule),
        next=[landing.lands for landing in coming[:6]],
        behind=_behind(schedule, request, calendar, home.today),
        notes=[note] if note is not None else [],
    )


def _behind(
    schedule: Recurrence, request: OccurrencesRequest, calendar: BusinessCalendar, today: date
) -> BehindModel | None:
    begins = min((day for day in (request.start, *request.dates) if day is not None), default=today)
    lands = [landing for _, landing in landings(schedule, calendar, request.roll, begins.toordinal(), today.toordinal())
             if landing < today.toordinal()]  # fmt: skip
    return BehindModel(count=len(lands), first=date.fromordinal(min(lands))) if lands else None


def _schedule(request: OccurrencesRequest, today: date) -> Recurrence:
    start = request.start or request.first or today
    if request.country is not None and request.country not in known_countries():
        raise refused(("body", "country"), f"Bank holidays of “{request.country}” are not known.", "unknown_country")
    if request.until is not None and request.until < start:
        message = "It ends before it starts: choose a later end or an earlier start."
        raise refused(("body", "until"), message, "end_before_start")
    if request.first is not None and request.last is not None and request.last < request.first:
        raise refused(("body", "to"), "The last day is before the first.", "end_before_start")
    if not request.rules and not request.dates:
        raise refused(("body", "rules"), "Say when it happens: how it repeats, or on which dates.", "needed")
    problems = [(place, rule_problem(text, start, request.until)) for place, text in enumerate(request.rules)]
    if any(message for _, message in problems):
        raise Refused(
            Refusal(loc=["body", "rules", place], msg=message, type="rule") for place, message in problems if message
        )
    rules = tuple(parse_rule(text) for text in request.rules)
    return Recurrence(rules, request.dates, request.exceptions, start, request.until, request.count)
