"""What is behind a row of a review: flows, payees, entries."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.http.session import HomeOrWhatIf
from next_penny.api.review.review import TwoModel, check_days, two_fields
from next_penny.api.review.sources import Recorded, named_accounts
from next_penny.core.plan.categories import CategoryKind
from next_penny.core.review.detail.behind import Counted, PayeeSums, behind
from next_penny.core.review.records import RowKey
from next_penny.core.review.sums import Sums
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api/review", tags=["review"])


class FlowPart(TwoModel):
    """A flow's part; `flow` is null for what was recorded without one. `times`: dates of it, or entries."""

    flow: str | None
    name: str
    times: int


class EntryPart(BaseModel):
    """An entry; `amount` is what it counts in its category, in the household's currency."""

    id: str
    date: datetime.date
    payee: str
    notes: str
    category: str
    amount: int


class CategoryPart(BaseModel):
    """A category's part; `category` is null for what is not sorted yet."""

    category: str | None
    name: str
    amount: int


class BehindLine(BaseModel):
    """The same sum by category, flow, payee and entry. What an allowance expects is in none of its flows."""

    categories: list[CategoryPart]
    flows: list[FlowPart]
    payees: list[PayeeSums]
    entries: list[EntryPart]


@router.get("/line")
def read_behind(
    home: HomeOrWhatIf, first: Annotated[Day, Query(alias="from")], last: Annotated[Day, Query(alias="to")],
    kind: CategoryKind, categories: str = "", accounts: str | None = None,
) -> BehindLine:  # fmt: skip
    """What is behind some income or expense categories (none named: not sorted yet) in a stretch."""
    check_days(home, first, last)
    keys = {RowKey(kind, id) for id in categories.split(",") if id} or {RowKey(kind, None)}
    found_behind = behind(Sums(home.moment, Recorded(home), first, last, named_accounts(home, accounts)), keys)
    names = {category.id: category.name for category in home.plan.categories}
    return BehindLine(
        categories=[
            CategoryPart(category=id, name=_name(id, names), amount=amount) for id, amount in found_behind.categories
        ],
        flows=[
            FlowPart(flow=flow.flow, name=flow.name, times=flow.times, **two_fields(flow.sums))
            for flow in found_behind.flows
        ],
        payees=list(found_behind.payees),
        entries=[_entry(home.plan.name_of(entry.entry), entry, names) for entry in found_behind.entries],
    )


def _entry(name: str, count: Counted, names: dict[str, str]) -> EntryPart:
    return EntryPart(id=count.entry.id, date=count.entry.date, payee=name, notes=count.entry.notes,
                     category=_name(count.category, names), amount=count.amount)  # fmt: skip


def _name(category: str | None, names: dict[str, str]) -> str:
    return "" if category is None else names.get(category, "")
