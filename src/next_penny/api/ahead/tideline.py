"""The tideline: the end-of-day balance of chosen accounts together, and what changes would do to it."""

import datetime
from collections.abc import Sequence
from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field

from next_penny.api.ahead.forecast import LowPointModel, Outcome, checked_until, low_point, outcome
from next_penny.api.edits.applying import WhatIf
from next_penny.api.http.answers import Levels, Written, response, several, whole
from next_penny.api.http.columns import levels
from next_penny.api.http.errors import Refusal, Refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.ahead.effects import StretchEffect, reach, stretch_effects
from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import daily_changes
from next_penny.core.edits.defaults import default_account
from next_penny.core.forecast.cards.standing import marks
from next_penny.core.forecast.low_points import Threshold
from next_penny.core.forecast.projection import Forecast, as_it_is, project
from next_penny.core.forecast.tideline import Level, lowest_ahead, recorded_levels, tideline
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.entries import Entry
from next_penny.formats.documents.fields import Day, Document, Id

router = APIRouter(prefix="/api", tags=["tideline"])

_MOST_EFFECTS = 6


class TidelineRequest(Document):
    """The accounts to add up (none: the first checking account), over which days, with which unsaved changes.

    draft: what is wrong with the changes is part of the answer (`refused`), as is right for what is still being typed.
    """

    accounts: tuple[Id, ...] = ()
    first: Day = Field(alias="from")
    until: Day
    changes: list[ChangeRequest] = []
    each: bool = False
    draft: bool = False


class OwnLine(BaseModel):
    """One of several accounts by itself, in its own currency, with its own floor."""

    id: str
    name: str
    currency: str
    floor: int
    ink: Levels
    pencil: Levels


class TidelineModel(BaseModel):
    """End-of-day balances on the days on which they change: `ink` is recorded, `pencil` expected."""

    currency: str
    floor: int
    cushion: int
    ink: Levels
    pencil: Levels
    lows: list[LowPointModel]
    lowest: LowPointModel | None


class MarkModel(BaseModel):
    """A day worth knowing of, in a few words: a card's rate rises."""

    date: datetime.date
    text: str


class StretchEffectModel(BaseModel):
    """A stretch below floor or cushion that comes, goes, deepens or eases; shortages before and after."""

    model_config = ConfigDict(populate_by_name=True)

    account: str
    what: Literal["comes", "goes", "deepens", "eases"]
    below: Threshold
    first: Annotated[datetime.date, Field(alias="from")]
    last: Annotated[datetime.date, Field(alias="to")]
    deepest: datetime.date
    short_before: int
    short_after: int


class TidelineAnswer(BaseModel):
    """The tideline, and with the changes laid over it: `copper`, and lowest points before and after (of no debt).

    `effects`: the first stretches that the changes bring, take away, deepen or ease. With `before` and `after` they are
    of the days until `looked_until`: as far as the changes reach, at least to their first three dates. `each`: the
    accounts one by one, where asked for and more than one. `entries` are those that the changes would record, whole;
    `notes` say what is worth saying of the changes, `refused` what is wrong with a draft.
    """

    today: datetime.date
    accounts: list[str]
    line: TidelineModel | None
    copper: TidelineModel | None
    each: list[OwnLine]
    marks: list[MarkModel]
    before: Outcome
    after: Outcome
    effects: list[StretchEffectModel]
    effects_in_all: int
    looked_until: datetime.date
    entries: list[Entry]
    notes: list[str]
    refused: list[Refusal]


@router.post("/tideline", response_model=TidelineAnswer)
def read_tideline(request: TidelineRequest, home: HomeOrWhatIf) -> Response:
    """The end-of-day balance of chosen accounts together, from a day to a day; a what-if is in copper too."""
    refused: list[Refusal] = []
    try:
        what_if = home.apply_changes(request.changes) if request.changes else home.what_if
    except Refused as error:
        if not request.draft:
            raise
        what_if, refused = home.what_if, error.refusals
    return response(tideline_answer(home.reading.moment, request, what_if, refused))


def tideline_answer(moment: Moment, request: TidelineRequest, what_if: WhatIf | None = None,
                    refused: Sequence[Refusal] = ()) -> Written:  # fmt: skip
    """The tideline of a moment, perhaps with a what-if beside it, or with what is wrong with a draft."""
    until = checked_until(moment.today, request.until, ("body", "until"))
    accounts = (what_if.moment if what_if else moment).plan.account_by_id
    chosen = [id for id in request.accounts if id in accounts] or default_account(list(accounts.values()))
    before = as_it_is(moment, until)
    after = project(what_if.moment, until) if what_if else None
    looked_until = max(until, reach(moment, what_if.moment, what_if.changes)) if what_if else until
    near = as_it_is(moment, looked_until)
    far = project(what_if.moment, looked_until) if what_if and looked_until != until else after
    before_outcome = moment.keep(f"outcome until {looked_until}", lambda: outcome(near, with_debts=False))
    effects = stretch_effects(near, far) if far else []
    return whole(TidelineAnswer, {
        "today": moment.today,
        "accounts": chosen,
        "line": moment.keep(
            f"line of {chosen} from {request.first} until {until}", lambda: _line(before, chosen, request.first)
        ),
        "copper": _line(after, chosen, request.first) if after else None,
        "each": _own_lines(before, chosen, request.first) if request.each and len(chosen) > 1 else several(OwnLine, []),
        "marks": [MarkModel(date=day, text=text) for day, text in marks((after or before).moment, until)],
        "before": before_outcome,
        "after": outcome(far, with_debts=False) if far else before_outcome,
        "effects": [_effect(effect) for effect in effects[:_MOST_EFFECTS]],
        "effects_in_all": len(effects),
        "looked_until": looked_until,
        "entries": [Entry.of(entry) for entry in what_if.entries] if what_if else [],
        "notes": what_if.notes if what_if else [],
        "refused": list(refused),
    })  # fmt: skip


def _effect(effect: StretchEffect) -> StretchEffectModel:
    first, last, deepest = (datetime.date.fromordinal(day) for day in (effect.first, effect.last, effect.deepest))
    return StretchEffectModel(**{**effect._asdict(), "first": first, "last": last, "deepest": deepest})


def _own_lines(forecast: Forecast, chosen: list[str], first: datetime.date) -> Written:
    moment, lines = forecast.moment, []
    for run in (run for run in forecast.runs if run.account.id in chosen):
        changes = daily_changes(moment, run.account.id)
        ink = recorded_levels(run.account, changes, first.toordinal(), moment.now)
        lines.append(whole(OwnLine, {
            "id": run.account.id, "name": run.account.name, "currency": run.account.currency,
            "floor": run.account.floor, "ink": _levels(tuple(ink)), "pencil": _levels(tuple(run.levels)),
        }))  # fmt: skip
    return several(OwnLine, lines)


def _line(forecast: Forecast, chosen: list[str], first: datetime.date) -> Written | None:
    runs = [run for run in forecast.runs if run.account.id in chosen]
    if not runs:
        return None
    moment = forecast.moment
    recorded = {
        run.account.id: recorded_levels(
            run.account, daily_changes(moment, run.account.id), first.toordinal(), moment.now
        )
        for run in runs
    }
    line = tideline(forecast, chosen, recorded)
    return whole(TidelineModel, {
        "currency": line.currency,
        "floor": line.floor,
        "cushion": line.cushion,
        "ink": _levels(line.ink),
        "pencil": _levels(line.pencil),
        "lows": [low_point(low) for low in line.lows],
        "lowest": low_point(lowest_ahead(line)),
    })  # fmt: skip


def _levels(rows: tuple[Level, ...]) -> Written:
    return levels([day for day, _ in rows], [balance for _, balance in rows])
