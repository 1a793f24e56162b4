"""Goals: how far each has come, where the forecast says it ends, and which changed from met to missed."""

import datetime
from collections.abc import Sequence
from typing import get_args

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.api.review.sources import Recorded
from next_penny.core.checks.goals import may_name
from next_penny.core.plan.kept.goals import MOST_GOALS, GoalKind, Per
from next_penny.core.review.goals.progress import Progress, progress_of, shares_of
from next_penny.core.review.goals.wording import sentence_of, shares_sentence, together_notes
from next_penny.formats.documents.fields import Document, Percent
from next_penny.formats.documents.kept.goals import Goal as GoalDocument
from next_penny.store.seeing import see_goals

router = APIRouter(prefix="/api", tags=["review"])


class GoalAnswer(BaseModel):
    """A goal in the period of today, amounts in the household's currency.

    `target` of a share is that of the income so far and expected. `behind`: by how much the forecast misses it, `met`
    where it does not. `needed_monthly`: what is needed a month from here, or, of spending, what may be spent.
    """

    id: str
    name: str
    kind: GoalKind
    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    target: int
    so_far: int
    by_end: int
    behind: int
    needed_monthly: int
    met: bool
    sentence: str
    notes: list[str]
    goal: GoalDocument


class GoalChoice(BaseModel):
    """What a goal of a kind may name: categories or accounts, by id."""

    kind: GoalKind
    categories: list[str]
    accounts: list[str]


class SharesRequest(Document):
    """Shares of a period's income, in percent, side by side."""

    per: Per = "month"
    shares: list[Percent] = Field(max_length=MOST_GOALS)


class SharesAnswer(BaseModel):
    """What shares come to, each and in all; `left` of 100 percent, which is negative where they are more."""

    currency: str
    income: int
    amounts: list[int]
    sum: str
    left: str
    sentence: str


class MissedGoal(BaseModel):
    name: str
    sentence: str


class MissedAnswer(BaseModel):
    """Goals that the forecast met when they were last looked at, and misses now."""

    missed: list[MissedGoal]


@router.get("/goals")
def read_goals(home: HomeOrWhatIf) -> list[GoalAnswer]:
    """Every goal: so far, by the end of its period as the forecast has it, and what is needed a month."""
    progress = progress_of(home.moment, Recorded(home))
    together = together_notes(home.moment, progress)
    currency = home.plan.household.currency
    return [
        _answer(one_progress, together.get(one_progress.goal.id, ()), currency, home.today) for one_progress in progress
    ]


@router.get("/goals/choices")
def read_goal_choices(home: Home) -> list[GoalChoice]:
    """What goals of each kind may name, as forms offer it."""
    return [
        GoalChoice(
            kind=kind,
            categories=[
                category.id for category in home.plan.categories if not category.retired and may_name(kind, category)
            ],
            accounts=[
                account.id
                for account in home.plan.accounts
                if not account.is_closed_on(home.today) and may_name(kind, account)
            ],
        )
        for kind in get_args(GoalKind)
    ]


@router.post("/goals/shares")
def add_up_shares(request: SharesRequest, home: HomeOrWhatIf) -> SharesAnswer:
    """What shares of a running month's or year's income come to, so far and expected."""
    shares = shares_of(home.moment, Recorded(home), request.per, request.shares)
    currency = home.plan.household.currency
    return SharesAnswer(
        currency=currency, income=shares.income, amounts=list(shares.amounts), sum=f"{shares.sum:f}",
        left=f"{100 - shares.sum:f}", sentence=shares_sentence(shares, request.per, currency),
    )  # fmt: skip


@router.get("/goals/missed")
def read_missed(home: Home) -> MissedAnswer:
    """What changed from met to missed since the goals were last looked at."""
    currency = home.plan.household.currency
    return MissedAnswer(
        missed=[
            MissedGoal(name=progress.goal.name, sentence=sentence_of(progress, currency, home.today))
            for progress in _missed(home)
        ]
    )


@router.post("/goals/seen")
def look_at_goals(home: Home) -> MissedAnswer:
    """Remember how each goal stands: it was looked at. This is no matter of undo."""
    progress = progress_of(home.moment, Recorded(home))
    see_goals(
        home.store,
        home.reading,
        {one_progress.goal.id: (one_progress.days.first, one_progress.is_met) for one_progress in progress},
    )
    return MissedAnswer(missed=[])


def _missed(home: Session) -> Sequence[Progress]:
    seen = home.reading.goals_seen()
    progress = progress_of(home.moment, Recorded(home))
    return [
        one_progress
        for one_progress in progress
        if not one_progress.is_met and seen.get(one_progress.goal.id) == (one_progress.days.first, True)
    ]


def _answer(progress: Progress, together: Sequence[str], currency: str, today: datetime.date) -> GoalAnswer:
    goal = progress.goal
    return GoalAnswer.model_validate(
        {
            "id": goal.id,
            "name": goal.name,
            "kind": goal.kind,
            "goal": GoalDocument.of(goal),
            "from": progress.days.first,
            "to": progress.days.last,
            "target": progress.target,
            "so_far": progress.so_far,
            "by_end": progress.by_end,
            "behind": progress.behind,
            "needed_monthly": progress.needed_monthly,
            "met": progress.is_met,
            "sentence": sentence_of(progress, currency, today),
            "notes": [*progress.notes, *together],
        }
    )
