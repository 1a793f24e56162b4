"""Flows seen in recorded money: offered unasked, or asked for with chosen entries."""

import datetime
from datetime import timedelta
from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import rule_sentence
from next_penny.core.flows.candidates import Candidate, candidate_from, candidates
from next_penny.formats.documents.fields import Document, Id, Name

router = APIRouter(prefix="/api/candidates", tags=["candidates"])

# Three years of entries show everything that comes at least once a year.
_LOOKED_BACK_DAYS = 3 * 366


class CandidateModel(BaseModel):
    """A flow as entries suggest it: `first` is the next date that the rule gives."""

    key: str
    payee: str
    kind: Literal["income", "bill"]
    account: str
    currency: str
    category: str | None
    rule: str
    sentence: str
    first: datetime.date
    amount: int
    is_estimate: bool
    times: int
    entries: list[str]


class CandidatesAnswer(BaseModel):
    today: datetime.date
    candidates: list[CandidateModel]


class ProposalRequest(Document):
    """The entries that are to become a flow."""

    entries: list[Id] = Field(min_length=1, max_length=100)


class DeclineRequest(Document):
    key: Name
    payee: Name


@router.get("")
def read_candidates(home: HomeOrWhatIf) -> CandidatesAnswer:
    """What repeats among recorded entries and is in no flow yet."""
    since = home.today - timedelta(days=_LOOKED_BACK_DAYS)
    reading, moment = home.reading, home.moment
    found_candidates = moment.keep(
        "candidates",
        lambda: candidates(moment.plan, reading.unplanned(since), reading.declined_candidates(), home.today),
    )
    return CandidatesAnswer(today=home.today, candidates=[_model(home, candidate) for candidate in found_candidates])


@router.post("/proposal")
def propose_flow(request: ProposalRequest, home: HomeOrWhatIf) -> CandidateModel:
    """The flow that some entries suggest."""
    entries = [home.reading.entry(id) for id in dict.fromkeys(request.entries)]
    if any(entry is None for entry in entries):
        raise refused(("body", "entries"), "One of these entries is not there any more.", "unknown_id")
    candidate = candidate_from([entry for entry in entries if entry is not None])
    if candidate is None:
        message = "Choose entries with a payee, on one account, all money in or all money out."
        raise refused(("body", "entries"), message, "not_alike")
    return _model(home, candidate)


@router.post("/decline")
def decline(request: DeclineRequest, home: Home) -> ChangeAnswer:
    """Offer this one no more; undo offers it again."""
    label = f"Left “{request.payee}” out of the plan"
    return done_answer(home.store.decline_candidate(home.today, request.key, label))


def _model(home: Session, candidate: Candidate) -> CandidateModel:
    return CandidateModel(
        key=candidate.key,
        payee=candidate.payee,
        kind=candidate.kind,
        account=candidate.account,
        currency=home.plan.account_by_id[candidate.account].currency,
        category=candidate.category,
        rule=candidate.rule,
        sentence=rule_sentence(parse_rule(candidate.rule), candidate.first),
        first=candidate.first,
        amount=candidate.amount,
        is_estimate=candidate.is_estimate,
        times=candidate.times,
        entries=list(candidate.entries),
    )
