"""What is answered about paying debts off: the calculator's answer, and the household's with more beside it."""

import datetime
import json
from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import BaseModel

from next_penny.api.http.answers import Written
from next_penny.core.payoff.comparing import Compared, needs_monthly
from next_penny.core.payoff.debts import Debt
from next_penny.core.payoff.outcome import DebtMonth, Run
from next_penny.core.plan.kept.way_out import Choice, Strategy
from next_penny.formats.documents.parts import month_text


class DebtMonthModel(BaseModel):
    """A debt in a month; what is paid is `minimum` and `extra`. After it is cleared all are zero."""

    opening: int
    interest: int
    minimum: int
    extra: int
    closing: int


class PayoffMonth(BaseModel):
    """A month; `left_over` is what no debt needed any more."""

    month: str
    debts: dict[str, DebtMonthModel]
    left_over: int


class ClearedModel(BaseModel):
    id: str
    month: str


class NeverClears(BaseModel):
    """A debt that is not cleared in a hundred years, and the least fixed monthly amount that would in thirty."""

    id: str
    needs_monthly: int


class ComparedModel(BaseModel):
    """An order against minimums only; null where one of the two never ends. `first_cleared`: when the first debt is."""

    strategy: Strategy
    debt_free: str | None
    months: int | None
    total_interest: int
    saves_interest: int | None
    saves_months: int | None
    first_cleared: str | None


class PayoffAnswer(BaseModel):
    """A plan month by month; `notes` say what was left out or appended."""

    months: list[PayoffMonth]
    cleared: list[ClearedModel]
    never_clears: list[NeverClears]
    debt_free: str | None
    total_interest: int
    total_paid: int
    comparison: list[ComparedModel]
    notes: list[str]


class AffordableMonth(BaseModel):
    month: str
    amount: int


class AffordableModel(BaseModel):
    """What the forecast bears beside the minimums: the same in every month, and as early as can be.

    later: where the first month bears nothing, the first one that does and what it and all after it bear.
    """

    even: int
    early: list[AffordableMonth]
    later: AffordableMonth | None


class CheapestModel(BaseModel):
    """The least total interest with the money that the cheapest order has in each month.

    What it saves against minimums alone, and of interest more than the best order does; null where one never ends.
    """

    total_interest: int
    debt_free: str | None
    saves_interest: int | None
    saves_months: int | None
    saves_more: int | None
    months: list[PayoffMonth]


class DebtModel(BaseModel):
    """A debt as the plan has it: what is owed at first, its rate and minimum then, and the month it clears.

    frees: what it then leaves free each month.
    """

    id: str
    name: str
    kind: str
    owed: int
    annual_rate: str
    minimum: int
    clears: str | None
    frees: int


class OtherDebt(BaseModel):
    """A debt that is not in the plan, and why; whether it would be, were it named."""

    id: str
    name: str
    why: str
    can_join: bool


class OwedMonthModel(BaseModel):
    """What is owed on each debt, in their order, at the end of a month, and in all; whether it is planned."""

    month: str
    owed: list[int]
    sum: int
    is_planned: bool


class LeastModel(BaseModel):
    """Minimums alone: null months where these never end; `owed` is what is owed in all after each month.

    What the plan saves against them: null where one of the two never ends.
    """

    months: int | None
    total_interest: int
    owed: list[int]
    saves_interest: int | None
    saves_months: int | None


class PayoffPicture(BaseModel):
    """What the picture of a household's way out needs, and no more: it is asked for with every move of the slider.

    debts: in the order in which they clear; in an own order, in that. others: what is not in the plan. owed: months on
    record, the one that the plan begins with, and each of its months. own: what is added to the minimums in each month.
    wished: what was wished of that. affordable: null without an account that the extra can come from. strained: months
    that cannot bear what is wished of them.
    """

    today: datetime.date
    start: str
    currency: str
    strategy: Choice
    months: int
    debt_free: str | None
    total_interest: int
    never_clears: list[NeverClears]
    debts: list[DebtModel]
    others: list[OtherDebt]
    owed: list[OwedMonthModel]
    own: list[int]
    wished: list[int]
    least: LeastModel
    affordable: AffordableModel | None
    strained: list[str]


class HouseholdPayoff(PayoffAnswer):
    """The household's way out of debt.

    debts: in the order in which they clear; in an own order, in that. others: what is not in the plan. paid, owed: on
    all debts, in each month and at its end. differences: what the orders differ by, in words.
    """

    today: datetime.date
    start: str
    currency: str
    strategy: Choice
    payer: str | None
    debts: list[DebtModel]
    others: list[OtherDebt]
    paid: list[int]
    owed: list[int]
    differences: list[str]
    affordable: AffordableModel | None
    cheapest: CheapestModel | None


def month_of(number: int | None) -> str | None:
    """A month number as YYYY-MM."""
    return None if number is None else month_text(number)


class PrintedLine(BaseModel):
    """Months taken together: until the end of which, what is paid on each debt and then owed, and owed in all."""

    until: str
    paid: list[int]
    owed: list[int]
    sum: int


class PrintedPayoff(BaseModel):
    """A plan on one page: `lines` of so many months each, with the debts in their order."""

    start: str
    currency: str
    strategy: Choice
    extra_monthly: int
    debt_free: str | None
    total_interest: int
    debts: list[str]
    months_a_line: int
    lines: list[PrintedLine]


_ROW = "{" + ",".join(f'"{name}":%d' for name in DebtMonthModel.model_fields) + "}"


def months_written(run: Run) -> Written:
    """A run's months, as the text of the answer."""
    columns = []
    for debt in run.debts:
        rows = [_ROW % month for month in run.months[debt.id]]
        # Cleared, nothing is left; what has grown beyond what can be counted stands still.
        left = run.months[debt.id][-1].closing
        columns.append(rows + [_ROW % DebtMonth(left, 0, 0, 0, left)] * (len(run) - len(rows)))
    names = [json.dumps(debt.id).replace("%", "%%") for debt in run.debts]
    template = '{"month":"%s","debts":{' + ",".join(f"{name}:%s" for name in names) + '},"left_over":%d}'
    months = map(month_text, range(run.start, run.start + len(run)))
    texts = map(template.__mod__, zip(months, *columns, run.left_over, strict=True))
    return Written(list[PayoffMonth], ("[", ",".join(texts), "]"))


def never_clears(run: Run) -> list[NeverClears]:
    """The debts that a run never clears."""
    by_id: Mapping[str, Debt] = {debt.id: debt for debt in run.debts}
    return [NeverClears(id=id, needs_monthly=needs_monthly(by_id[id], run.start)) for id in sorted(run.never)]


def calculator_fields(run: Run, compared: Sequence[Compared], notes: Sequence[str]) -> dict[str, Any]:
    """The fields of the calculator's answer."""
    return {
        "months": months_written(run),
        "cleared": [ClearedModel(id=id, month=month_text(month)) for id, month in run.cleared],
        "never_clears": never_clears(run),
        "debt_free": month_of(run.debt_free),
        "total_interest": run.total_interest,
        "total_paid": run.total_paid,
        "comparison": [_compared(comparison) for comparison in compared],
        "notes": list(notes),
    }


def _compared(comparison: Compared) -> ComparedModel:
    fields = comparison._asdict()
    months = {name: month_of(fields[name]) for name in ("debt_free", "first_cleared")}
    return ComparedModel(**{**fields, **months})
