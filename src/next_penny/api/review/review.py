"""Review: what happened in a stretch against what was expected of it."""

import datetime
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import checked_until, chosen_accounts
from next_penny.api.ahead.months import FiguresModel, figures_model
from next_penny.api.http.errors import Refused, refusals
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.ahead.figures import figures
from next_penny.core.ahead.stretch import spendable, stretch
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.problems import PlanError
from next_penny.core.review.occurrences import Became, Status, occurrences_over
from next_penny.core.review.review import (
    AllowanceUse,
    Kept,
    Moved,
    Payee,
    Row,
    RowKind,
    Totals,
    Two,
    review,
    totals,
)
from next_penny.core.review.stretches import check_stretch, stretch_before, year_before
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api", tags=["review"])


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


class ReviewRow(TwoModel):
    """A category or an allowance. `category` is null where nothing is sorted yet; `of_allowance`: whose category."""

    kind: RowKind
    category: str | None = None
    allowance: str | None = None
    name: str
    group: str
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


class ReviewAnswer(TotalsModel):
    """A stretch. `balances`: of the chosen accounts, or of those that can be spent from; null in several currencies."""

    currency: str
    rows: list[ReviewRow]
    allowances: list[AllowanceUse]
    occurrences: list[ReviewOccurrence]
    payees: list[Payee]
    moved: Moved
    balances: FiguresModel | None
    before: TotalsModel
    year_ago: TotalsModel


class Recorded:
    """What is recorded and remembered, with the entries of the what-if that a request names."""

    def __init__(self, home: Session) -> None:
        self._home, self._reading = home, home.reading

    def dated(self, first: datetime.date, last: datetime.date) -> Sequence[Entry]:
        entries = self._home.recorded(self._reading.dated(first, last))
        return [entry for entry in entries if first <= entry.date <= last]

    def paid_for(self, first: datetime.date, last: datetime.date) -> Mapping[Key, Sequence[Entry]]:
        recorded = self._home.recorded(self._reading.paid_for(first, last))
        paid: defaultdict[Key, list[Entry]] = defaultdict(list)
        for entry in recorded:
            if entry.flow is not None and entry.nominal is not None and first <= entry.nominal <= last:
                paid[Key(entry.flow, entry.nominal)].append(entry)
        return paid

    def expected_until(self) -> datetime.date | None:
        return self._reading.expected_until()

    def expected_between(self, first: datetime.date, last: datetime.date) -> Sequence[Expected]:
        return self._reading.expected_between(first, last)

    def expected_keys(self, first: datetime.date, last: datetime.date) -> frozenset[Key]:
        return self._reading.expected_keys(first, last)


@router.get("/review", response_model_by_alias=True)
def read_review(
    home: HomeOrWhatIf,
    first: Annotated[Day, Query(alias="from")],
    last: Annotated[Day, Query(alias="to")],
    accounts: str | None = None,
) -> ReviewAnswer:
    """What happened from a day to a day against what was expected, of chosen accounts or of all."""
    chosen = chosen_accounts(home.plan, accounts) if accounts else None
    named = [home.plan.account_by_id[id] for id in chosen] if chosen is not None else None
    sources = Recorded(home)
    checked_until(home.today, max(home.today, last), ("query", "to"))
    try:
        check_stretch(first, last)
    except PlanError as error:
        raise Refused(refusals(error.problems, ("query",))) from error
    found = review(home.moment, sources, first, last, named)
    became = occurrences_over(home.moment, sources, first, last, named)
    before, year_ago = (
        totals_fields(totals(home.moment, sources, *days, named))
        for days in (stretch_before(first, last), year_before(first, last))
    )
    return ReviewAnswer.model_validate({
        **totals_fields(found.totals),
        "currency": home.plan.household.currency,
        "rows": [row_model(row) for row in found.rows],
        "allowances": found.allowances,
        "occurrences": [_occurrence(each) for each in became],
        "payees": found.payees,
        "moved": found.moved,
        "balances": _balances(home, first, last, named),
        "before": before,
        "year_ago": year_ago,
    })  # fmt: skip


def totals_fields(found: Totals) -> dict[str, object]:
    """The totals of a stretch, as an answer has them."""
    return {"from": found.first, "to": found.last, "income": _two(found.income), "spending": _two(found.spending),
            "kept": _kept(found.kept)}  # fmt: skip


def _two(found: Two) -> dict[str, int]:
    return {"expected": found.expected, "actual": found.actual}


def _kept(found: Kept) -> dict[str, object]:
    share = None if found.share is None else tenths_text(found.share)
    return {"expected": found.expected, "actual": found.actual, "share": share}


def tenths_text(tenths: int) -> str:
    """A percentage to one decimal, from tenths of one."""
    whole, tenth = divmod(abs(tenths), 10)
    return f"{'-' if tenths < 0 else ''}{whole}.{tenth}"


def row_model(row: Row) -> dict[str, object]:
    """A row, as an answer has it."""
    is_allowance = row.key.kind == "allowance"
    return {
        "kind": row.key.kind,
        "category": None if is_allowance else row.key.id,
        "allowance": row.key.id if is_allowance else None,
        "name": row.name,
        "group": row.group,
        **_two(row.sums),
        "entries": row.entries,
        "of_allowance": row.of_allowance,
    }


def _occurrence(found: Became) -> dict[str, object]:
    row = found.row
    return {"flow": row.source, "nominal": row.nominal, "name": row.name, "lands": row.lands,
            "expected": found.expected, "actual": found.actual, "status": found.status, "account": found.account,
            "days": found.days}  # fmt: skip


def _balances(
    home: Session, first: datetime.date, last: datetime.date, named: Sequence[Account] | None
) -> FiguresModel | None:
    accounts = tuple(named) if named is not None else spendable(home.moment)
    if not accounts or len({account.currency for account in accounts}) > 1:
        return None
    entries = home.recorded(home.reading.between(accounts, first, last))
    return figures_model(figures(stretch(home.moment, accounts, first, last, entries)))
