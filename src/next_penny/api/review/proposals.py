"""What a review proposes for the plan: amounts that would have fitted, to be taken over with one press."""

import datetime
from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.http.session import HomeOrWhatIf
from next_penny.api.review.sources import Recorded
from next_penny.core.review.forward.proposals import Proposal, proposals
from next_penny.core.review.telling import proposal_sentence
from next_penny.formats.changes.request import ChangeRequest

router = APIRouter(prefix="/api/review", tags=["review"])


class ProposalModel(BaseModel):
    """Another amount of a flow, or limit of an allowance, from its next date on; `change` takes it over."""

    kind: Literal["flow", "allowance"]
    id: str
    name: str
    currency: str
    planned: int
    amount: int
    begins: datetime.date = Field(alias="from")
    times: int
    sentence: str
    change: ChangeRequest


@router.get("/proposals", response_model_by_alias=True)
def read_proposals(home: HomeOrWhatIf) -> list[ProposalModel]:
    """Where three or more differences in a row point one way, the amount that would have fitted."""
    return [
        proposal_model(proposal, proposal_sentence(proposal)) for proposal in proposals(home.moment, Recorded(home))
    ]


def proposal_model(proposal: Proposal, sentence: str) -> ProposalModel:
    """A proposal as it is answered, with the change that takes it over."""
    field = "limit" if proposal.kind == "allowance" else "amount"
    change = {"op": "revise", "kind": proposal.kind, "id": proposal.id, "from": proposal.begins.isoformat(),
              "value": {field: proposal.amount}}  # fmt: skip
    return ProposalModel.model_validate(
        {
            "kind": proposal.kind,
            "id": proposal.id,
            "name": proposal.name,
            "currency": proposal.currency,
            "planned": proposal.planned,
            "amount": proposal.amount,
            "from": proposal.begins,
            "times": proposal.times,
            "sentence": sentence,
            "change": ChangeRequest.model_validate(change),
        }
    )
