"""What is said in a sentence, read into changes or a question. Nothing is changed here."""

import uuid
from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.ahead.short import AffordRequest
from next_penny.api.http.errors import Refused, refusals
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.problems import PlanError
from next_penny.core.saying.meaning import understand
from next_penny.core.saying.readings import Does, Known, Meant, Reading
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Document, Text

router = APIRouter(prefix="/api", tags=["sentences"])


class UnderstandRequest(Document):
    """A sentence, and answers to what was missing or a choice, by field."""

    text: Text
    answers: dict[str, str] = Field(default={}, alias="with")


class ReadingModel(BaseModel):
    """One reading: what it will do, in words and as changes, or a question (the body of `/api/afford`).

    missing: what must be said yet; choices: by field, the ids among which it is. category_kind: of which sort a missing
    category is. Changes and question are there only where nothing is missing.
    """

    sentence: str
    does: Does
    question: AffordRequest | None
    changes: list[ChangeRequest]
    missing: list[str]
    choices: dict[str, list[str]]
    category_kind: Literal["income", "expense"]


class UnderstoodAnswer(BaseModel):
    """The readings, likeliest first, and the first part that means nothing."""

    readings: list[ReadingModel]
    not_understood: str | None


@router.post("/understand", response_model_by_alias=True)
def read_sentence(request: UnderstandRequest, home: HomeOrWhatIf) -> UnderstoodAnswer:
    """A sentence such as “supper 23.40 yesterday by card” as what it will do; nothing is changed."""
    payees = [Known(*row) for row in home.reading.payees()]
    try:
        understood = understand(home.moment, request.text, payees, request.answers, str(uuid.uuid4()))
    except PlanError as error:
        raise Refused(refusals(error.problems)) from error
    return UnderstoodAnswer(
        readings=[_reading(reading) for reading in understood.readings], not_understood=understood.not_understood
    )  # fmt: skip


def _reading(reading: Reading) -> ReadingModel:
    asked = reading.question
    question = None
    if asked is not None:
        question = AffordRequest(
            account=asked.account, amount=asked.amount, on=asked.on, monthly=asked.monthly, until=asked.until
        )
    return ReadingModel(
        sentence=reading.sentence,
        does=reading.does,
        question=question,
        changes=[_change(meant) for meant in reading.changes],
        missing=reading.missing,
        choices=reading.choices,
        category_kind=reading.category_kind,
    )


def _change(meant: Meant) -> ChangeRequest:
    fields = {"op": meant.op, "kind": meant.kind, "id": meant.id, "value": meant.value,
              "from": meant.start, "nominal": meant.nominal}  # fmt: skip
    return ChangeRequest.model_validate(fields)
