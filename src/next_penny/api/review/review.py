"""Review: what happened in a stretch against what was expected of it."""

import datetime
from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.ahead.months import FiguresModel, figures_model
from next_penny.api.http.errors import Refused, refusals
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.api.review.sources import Recorded, named_accounts
from next_penny.core.ahead.figures import figures
from next_penny.core.ahead.revaluation import revaluation
from next_penny.core.ahead.stretch import spendable, stretch
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import PlanError
from next_penny.core.review.detail.different import Reason, different
from next_penny.core.review.occurrences import Became, Status, became_of
from next_penny.core.review.records import (
    AccountSums,
    AllowanceUse,
    Kept,
    Largest,
    Moved,
    Payee,
    Row,
    RowKey,
    RowKind,
    Totals,
    Two,
)
from next_penny.core.review.review import review_of, totals
from next_penny.core.review.stretches import Per, check_stretch, name_of, stretch_before, stretch_with, year_before
from next_penny.core.review.sums import Sums
from next_penny.core.review.telling import Line, groups_of, lines_of, sentence_of
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api", tags=["review"])
# As many differences as anybody reads; the largest come first.
_MOST_DIFFERENT = 100


class TwoModel(BaseModel):
    """What was expected and what happened, in the household's currency."""

    expected: int
    actual: int


class KeptModel(TwoModel):
    """share: what was kept of every hundred that came in, to one decimal; null where nothing did."""

    share: str | None


class TotalsModel(BaseModel):
    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    income: TwoModel
    spending: TwoModel
    kept: KeptModel


class Named(BaseModel):
    """A category or an allowance; `category` is null for that, and where nothing is sorted yet."""

    kind: RowKind
    category: str | None = None
    allowance: str | None = None
    name: str
    group: str


class ReviewRow(Named, TwoModel):
    """`of_allowance`: whose category it is."""

    entries: int
    of_allowance: str | None


class ReviewOccurrence(TwoModel):
    """What became of one occurrence; amounts are changes of `account`, in its currency. `days`: when it was paid."""

    flow: str
    nominal: datetime.date
    name: str
    lands: datetime.date
    status: Status
    account: str
    days: list[datetime.date]


class DifferentModel(BaseModel):
    """What went otherwise: an occurrence (`flow`), or an entry that nothing expected; changes of `account`."""

    reason: Reason
    sentence: str
    name: str
    day: datetime.date
    flow: str | None
    entry: str | None
    account: str
    expected: int
    actual: int


class ReviewLine(TwoModel):
    """A category, or an allowance with its categories; `gained`: how much more was kept because of it than expected."""

    kind: RowKind
    id: str | None
    name: str
    group: str
    gained: int
    categories: list[str]


class ReviewGroup(TwoModel):
    kind: RowKind
    name: str


class LargestModel(BaseModel):
    """One entry's spending; share: of every hundred spent, to one decimal, null where nothing was in all."""

    entry: str
    date: datetime.date
    payee: str
    amount: int
    share: str | None


class ReviewAnswer(TotalsModel):
    """A stretch. `balances`: of the chosen accounts, or of those that can be spent from; null in several currencies.

    `sentence` says what was kept; `lines` and `groups` are the rows as one reads them, with allowances as one.
    `different` has the largest differences, of `different_count`. revaluation: what the exchange rates alone did to
    what is held in other currencies, null where nothing is.
    """

    today: datetime.date
    name: str
    sentence: str
    lines: list[ReviewLine]
    groups: list[ReviewGroup]
    currency: str
    rows: list[ReviewRow]
    allowances: list[AllowanceUse]
    occurrences: list[ReviewOccurrence]
    different: list[DifferentModel]
    different_count: int
    payees: list[Payee]
    by_account: list[AccountSums]
    largest: list[LargestModel]
    moved: Moved
    balances: FiguresModel | None
    revaluation: int | None
    before: TotalsModel
    year_ago: TotalsModel


class StretchAnswer(BaseModel):
    """A calendar stretch; `earlier` and `later` are days in those beside it."""

    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    name: str
    earlier: datetime.date
    later: datetime.date


@router.get("/review/stretch", response_model_by_alias=True)
def read_stretch(home: Home, per: Per = "month", on: Day | None = None) -> StretchAnswer:
    """The week, month, quarter or year that a day is in, or today."""
    stretch = stretch_with(per, on or home.today)
    ends = {"from": stretch.first, "to": stretch.last}
    fields = {**ends, "name": stretch.name, "earlier": stretch.earlier, "later": stretch.later}
    return StretchAnswer.model_validate(fields)


def check_days(home: Session, first: datetime.date, last: datetime.date) -> None:
    """Refuse a stretch that cannot be reviewed."""
    checked_until(home.today, max(home.today, last), ("query", "to"))
    try:
        check_stretch(first, last)
    except PlanError as error:
        raise Refused(refusals(error.problems, ("query",))) from error


@router.get("/review", response_model_by_alias=True)
def read_review(
    home: HomeOrWhatIf,
    first: Annotated[Day, Query(alias="from")],
    last: Annotated[Day, Query(alias="to")],
    accounts: str | None = None,
) -> ReviewAnswer:
    """What happened from a day to a day against what was expected, of chosen accounts or of all."""
    named = named_accounts(home, accounts)
    check_days(home, first, last)
    sources = Recorded(home)
    sums = Sums(home.moment, sources, first, last, named)
    review = review_of(sums)
    became = became_of(home.moment, sources, sums.planned)
    before, year_ago = (
        totals_fields(totals(home.moment, sources, *days, named))
        for days in (stretch_before(first, last), year_before(first, last))
    )
    lines, currency = lines_of(review), home.plan.household.currency
    unlike = different(home.plan, became, sums.unplanned())
    return ReviewAnswer.model_validate({
        **totals_fields(review.totals),
        "today": home.today,
        "name": name_of(first, last),
        "sentence": sentence_of(review.totals, lines, currency, home.today),
        "lines": [_line(line) for line in lines],
        "groups": [{"kind": group.kind, "name": group.name, **two_fields(group.sums)} for group in groups_of(lines)],
        "currency": currency,
        "rows": [row_model(row) for row in review.rows],
        "allowances": review.allowances,
        "occurrences": [_occurrence(outcome) for outcome in became],
        "different": [deviation._asdict() for deviation in unlike[:_MOST_DIFFERENT]],
        "different_count": len(unlike),
        "payees": review.payees,
        "by_account": review.accounts,
        "largest": [_largest(largest) for largest in review.largest],
        "moved": review.moved,
        "balances": _balances(home, first, last, named),
        "revaluation": revaluation(home.moment, first, last, named or home.plan.accounts),
        "before": before,
        "year_ago": year_ago,
    })  # fmt: skip


def totals_fields(totals: Totals) -> dict[str, object]:
    """The totals of a stretch, as an answer has them."""
    sums = {"income": two_fields(totals.income), "spending": two_fields(totals.spending)}
    return {"from": totals.first, "to": totals.last, **sums, "kept": kept_fields(totals.kept)}


def two_fields(two: Two) -> dict[str, int]:
    """Two sums, as an answer has them."""
    return {"expected": two.expected, "actual": two.actual}


def kept_fields(answer: Kept) -> dict[str, object]:
    """What was kept, as an answer has it."""
    share = None if answer.share is None else tenths_text(answer.share)
    return {"expected": answer.expected, "actual": answer.actual, "share": share}


def tenths_text(tenths: int) -> str:
    """A percentage to one decimal, from tenths of one."""
    whole, tenth = divmod(abs(tenths), 10)
    return f"{'-' if tenths < 0 else ''}{whole}.{tenth}"


def row_model(row: Row) -> dict[str, object]:
    """A row, as an answer has it."""
    named = named_fields(row.key, row.name, row.group)
    return {**named, **two_fields(row.sums), "entries": row.entries, "of_allowance": row.of_allowance}


def named_fields(key: RowKey, name: str, group: str) -> dict[str, object]:
    """What a row is of, as an answer has it."""
    of = "allowance" if key.kind == "allowance" else "category"
    return {"kind": key.kind, of: key.id, "name": name, "group": group}


def _line(line: Line) -> dict[str, object]:
    categories = [row.key.id for row in line.rows if row.key.id is not None]
    return {"kind": line.key.kind, "id": line.key.id, "name": line.name, "group": line.group, "gained": line.gained,
            "categories": categories, **two_fields(line.sums)}  # fmt: skip


def _largest(largest: Largest) -> dict[str, object]:
    share = None if largest.share is None else tenths_text(largest.share)
    return {"entry": largest.entry, "date": largest.date, "payee": largest.payee, "amount": largest.amount,
            "share": share}  # fmt: skip


def _occurrence(outcome: Became) -> dict[str, object]:
    row = outcome.row
    return {"flow": row.source, "nominal": row.nominal, "name": row.name, "lands": row.lands,
            "expected": outcome.expected, "actual": outcome.actual, "status": outcome.status,
            "account": outcome.account, "days": outcome.days}  # fmt: skip


def _balances(
    home: Session, first: datetime.date, last: datetime.date, named: Sequence[Account] | None
) -> FiguresModel | None:
    accounts = tuple(named) if named is not None else spendable(home.moment)
    if not accounts or len({account.currency for account in accounts}) > 1:
        return None
    entries = home.recorded(home.reading.between(accounts, first, last))
    return figures_model(figures(stretch(home.moment, accounts, first, last, entries)))
