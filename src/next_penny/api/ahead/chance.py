"""How sure the forecast is: bands, chances, what would make it safe, and what makes it uncertain."""

import datetime
from collections.abc import Sequence
from decimal import Decimal
from itertools import accumulate, pairwise
from typing import Annotated, Any

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import checked_until, chosen_accounts
from next_penny.api.ahead.short import AffordRequest
from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.api.review.sources import Recorded
from next_penny.core.ahead.afford import with_it
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.edits.defaults import default_account
from next_penny.core.forecast.chances.chance import MOST_PATHS, Chance, MonthChance, chance, odds, share_of
from next_penny.core.forecast.chances.habits import Habits
from next_penny.core.plan.accounts import Account
from next_penny.core.review.forward.habits import habits
from next_penny.formats.documents.fields import Day, Id
from next_penny.formats.documents.parts import month_text

router = APIRouter(prefix="/api", tags=["how sure"])

_LONGEST_YEARS, _USUAL_PATHS = 10, 2_000

Band = tuple[datetime.date, int, int, int]


class MonthChanceModel(BaseModel):
    """The share of paths that have a day below the floor in a month (from today on), and as people say it."""

    month: str
    chance: str
    says: str


class UncertaintyModel(BaseModel):
    """What makes the lowest balance ahead uncertain, and its share; shares sum to 1.

    based_on: what that is drawn from, in words. history: what it came to of what was expected, in percent, the oldest
    first. is_assumed: too little is remembered of it.
    """

    name: str
    share: str
    based_on: str
    history: list[int]
    is_assumed: bool


class FlowUncertainty(UncertaintyModel):
    """That of a flow."""

    flow: Id


class AllowanceUncertainty(UncertaintyModel):
    """That of an allowance."""

    allowance: Id


class AssumedModel(BaseModel):
    """What is only assumed, for too little is remembered: in how many months enough will be, if that can be told."""

    name: str
    based_on: str
    known_in: int | None


class GoesBadlyModel(BaseModel):
    """The 10th percentile of the lowest balance, and how far that is above the floor."""

    balance: int
    headroom: int


class ChanceAnswer(BaseModel):
    """How sure the balance of some accounts together is, from today on, over `paths` paths.

    bands: the 10th, 50th and 90th percentile of the end-of-day balance, on the days on which one of them changes.
    below_floor: the share of paths with a day below the floor, null where debts are among the accounts. safe_with:
    what, added today, leaves at most one path in twenty below, null where nothing tried does. is_known: whether any of
    what varies is remembered often enough to say so.
    """

    today: datetime.date
    until: datetime.date
    accounts: list[str]
    currency: str
    floor: int
    paths: int
    bands: list[Band]
    below_floor: str | None
    below_says: str | None
    months: list[MonthChanceModel]
    goes_badly: GoesBadlyModel | None
    safe_with: int | None
    causes: list[FlowUncertainty | AllowanceUncertainty]
    assumed: list[AssumedModel]
    is_known: bool
    notes: list[str]


@router.get("/chance")
def read_chance(
    home: HomeOrWhatIf,
    until: Day,
    accounts: Annotated[str | None, Query(description="Ids with commas; none: the first checking account.")] = None,
    account: Id | None = None,
    paths: Annotated[int, Query(ge=1, le=MOST_PATHS)] = _USUAL_PATHS,
    seed: int = 1,
) -> ChanceAnswer:
    """Run the forecast along many paths, in each of which what varies is drawn anew from what is remembered."""
    until = _checked(home, until, ("query", "until"))
    chosen = _accounts(home, accounts, account)
    chance = _chance(home.moment, chosen, until, habits_of(home), paths, seed)
    return ChanceAnswer(
        today=home.today, until=until, accounts=[one_account.id for one_account in chosen], currency=chosen[0].currency,
        floor=chance.floor, paths=chance.paths, bands=_bands(home.moment.now, chance),
        below_floor=None if chance.below is None else share_of(chance.below, chance.paths),
        below_says=None if chance.below is None else odds(chance.below, chance.paths),
        months=[_month(month, chance.paths) for month in chance.months],
        goes_badly=None if chance.below is None else GoesBadlyModel(
            balance=chance.goes_badly, headroom=chance.goes_badly - chance.floor
        ),
        safe_with=chance.safe_with, causes=_causes(chance),
        assumed=[AssumedModel(name=thing.name, based_on=thing.based_on, known_in=thing.known_in)
                 for thing in chance.things if thing.is_assumed],
        is_known=chance.is_known, notes=list(chance.notes),
    )  # fmt: skip


def _checked(home: Session, until: datetime.date, loc: tuple[str, str]) -> datetime.date:
    if until > add_months(home.today, 12 * _LONGEST_YEARS):
        raise refused(loc, "How sure it is can be said of ten years at most.", "until_too_far")
    return checked_until(home.today, until, loc)


def habits_of(home: Session) -> Habits:
    """What is remembered of how things vary, kept with the moment."""
    moment = home.moment
    return moment.keep("habits", lambda: habits(moment, Recorded(home)))


def _chance(
    moment: Moment, chosen: Sequence[Account], until: datetime.date, habits: Habits, paths: int, seed: int
) -> Chance:
    ids = ",".join(account.id for account in chosen)
    name = f"chance of {ids} until {until} along {paths} from {seed}"
    return moment.keep(name, lambda: chance(moment, chosen, until, habits, paths=paths, seed=seed))


def _accounts(home: Session, accounts: str | None, account: str | None) -> list[Account]:
    by_id = home.plan.account_by_id
    named = [account_of(home.plan, account, ("query", "account")).id] if account else None
    ids = named or chosen_accounts(home.plan, accounts) or default_account(list(by_id.values()))
    chosen = [by_id[id] for id in ids]
    if not chosen:
        raise refused(("query", "accounts"), "There is no account yet.", "unknown_id")
    if len({one_account.currency for one_account in chosen}) > 1:
        raise refused(("query", "accounts"), "Choose accounts of one currency: these have several.", "currency")
    return chosen


def _bands(now: int, chance: Chance) -> list[Band]:
    rows = chance.bands.T.tolist()
    return [(datetime.date.fromordinal(now + at), *row) for at, row in enumerate(rows) if not at or row != rows[at - 1]]


def _month(month_chance: MonthChance, paths: int) -> MonthChanceModel:
    return MonthChanceModel(
        month=month_text(month_chance.month),
        chance=share_of(month_chance.below, paths),
        says=odds(month_chance.below, paths),
    )


def _causes(chance: Chance) -> list[FlowUncertainty | AllowanceUncertainty]:
    things = {(thing.is_allowance, thing.id): thing for thing in chance.things}
    uncertainties: list[FlowUncertainty | AllowanceUncertainty] = []
    for cause, share in zip(chance.causes, _shares(chance), strict=True):
        thing = things.get((cause.is_allowance, cause.id))
        if thing is None:
            continue
        fields: dict[str, Any] = {
            "name": thing.name, "share": share, "based_on": thing.based_on, "history": list(thing.history),
            "is_assumed": thing.is_assumed,
        }  # fmt: skip
        if cause.is_allowance:
            uncertainties.append(AllowanceUncertainty(allowance=cause.id, **fields))
        else:
            uncertainties.append(FlowUncertainty(flow=cause.id, **fields))
    return uncertainties


def _shares(chance: Chance) -> list[str]:
    """The shares with four digits, rounded as they add up, so that they sum to 1."""
    upto = [round(10_000 * share) for share in accumulate((cause.share for cause in chance.causes), initial=0.0)]
    return [str(Decimal(after - before).scaleb(-4)) for before, after in pairwise(upto)]


class AffordChanceAnswer(BaseModel):
    """The share of paths that have a day below the account's floor, with what is asked about and without it."""

    model_config = {"populate_by_name": True}

    chance_with: Annotated[str, Field(alias="with")]
    chance_without: Annotated[str, Field(alias="without")]
    with_says: str
    without_says: str
    is_known: bool


@router.post("/afford/chance")
def chance_to_afford(request: AffordRequest, home: HomeOrWhatIf) -> AffordChanceAnswer:
    """How likely the account falls below its floor, with something and without it, from today on."""
    until = _checked(home, request.until, ("body", "until"))
    account = account_of(home.plan, request.account, ("body", "account"))
    spending = with_it(home.moment, account, request.amount, request.on, until, monthly=request.monthly)
    known = habits_of(home)
    without = _chance(home.moment, [account], until, known, _USUAL_PATHS, 1)
    with_ = chance(spending, [account], until, known)
    return AffordChanceAnswer(
        chance_with=share_of(with_.below or 0, with_.paths),
        chance_without=share_of(without.below or 0, without.paths),
        with_says=odds(with_.below or 0, with_.paths),
        without_says=odds(without.below or 0, without.paths),
        is_known=without.is_known,
    )
