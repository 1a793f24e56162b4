"""Flows: everything that repeats or is planned, with what each comes to."""

import datetime
from dataclasses import replace

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.dates.rhythms import rhythm_of
from next_penny.core.dates.sentences import recurrence_sentence
from next_penny.core.flows.summary import FlowSummary, summarize, yearly_by_kind
from next_penny.core.plan.flows import Flow as CoreFlow
from next_penny.core.plan.flows import FlowKind, Revision
from next_penny.formats.documents.flows import Flow, Hourly
from next_penny.formats.documents.rhythms import Rhythm

router = APIRouter(prefix="/api", tags=["places"])


class NextModel(BaseModel):
    """The next occurrence from today on."""

    date: datetime.date
    amount: int


class FlowRow(BaseModel):
    """A flow at a glance. `months` are sums of twelve calendar months, this one first; `_now` is in force today.

    `rhythms` are the rules of each revision in words, empty where it sets none. rhythms_now: by rule in force the parts
    that one picks, null where it is said in a sentence alone.
    """

    flow: Flow
    currency: str
    sentence: str
    amount_now: int
    rules_now: list[str]
    rhythms_now: list[Rhythm | None]
    from_account_now: str | None
    to_account_now: str | None
    category_now: str | None
    hourly_now: Hourly | None
    rhythms: list[str]
    next: NextModel | None
    past_due: int
    yearly: int
    months: list[int]


class KindTotal(BaseModel):
    """A year's total of one kind in one currency."""

    kind: FlowKind
    currency: str
    yearly: int


class FlowsAnswer(BaseModel):
    today: datetime.date
    flows: list[FlowRow]
    totals: list[KindTotal]


@router.get("/flows")
def read_flows(home: HomeOrWhatIf) -> FlowsAnswer:
    """Everything that repeats or is planned."""
    summaries = [summarize(home.moment, flow) for flow in home.plan.all_flows]
    return FlowsAnswer(
        today=home.today,
        flows=[flow_row(summary, home.today) for summary in summaries],
        totals=[
            KindTotal(kind=kind, currency=currency, yearly=yearly)
            for (kind, currency), yearly in yearly_by_kind(summaries).items()
        ],
    )


def next_of(row: FlowSummary) -> NextModel | None:
    """The next occurrence of a flow."""
    return NextModel(date=row.next.lands, amount=row.next.amount) if row.next else None


def flow_row(row: FlowSummary, today: datetime.date) -> FlowRow:
    return FlowRow(
        flow=Flow.of(row.flow),
        currency=row.currency,
        sentence=row.sentence,
        amount_now=row.amount_now,
        rules_now=list(row.rules_now),
        rhythms_now=[
            Rhythm.of(rhythm) if (rhythm := rhythm_of(rule, row.flow.start or today)) is not None else None
            for rule in row.rules_now
        ],
        from_account_now=row.flow_now.from_account,
        to_account_now=row.flow_now.to_account,
        category_now=row.flow_now.category,
        hourly_now=Hourly.model_validate(row.hourly_now, from_attributes=True) if row.hourly_now else None,
        rhythms=[_rhythm(row.flow, revision) for revision in row.flow.revisions],
        next=next_of(row),
        past_due=row.past_due,
        yearly=row.yearly,
        months=list(row.months),
    )


def _rhythm(flow: CoreFlow, revision: Revision) -> str:
    if revision.rules is None:
        return ""
    return recurrence_sentence(replace(flow.schedule(revision.start, revision.rules), until=None, count=None))
