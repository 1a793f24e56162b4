"""The way out of debt: the calculator, the household's own, and the plan that is adopted."""

import datetime
from typing import Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, ValidationError

from next_penny.api.answers import Written, response, whole
from next_penny.api.changes import HistoryAnswer, done_answer
from next_penny.api.errors import Refused, from_validation, refusals, refused
from next_penny.api.forecast import LowPointModel, low_point
from next_penny.api.household import Home, Visit
from next_penny.api.payoff_answers import (
    AffordableModel,
    AffordableMonth,
    CheapestModel,
    DebtModel,
    HouseholdPayoff,
    LeastModel,
    OtherDebt,
    PastMonth,
    PayoffAnswer,
    PayoffPicture,
    calculator_fields,
    month_of,
    months_written,
    never_clears,
)
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.forecast.trials import with_changes
from next_penny.core.moment import Moment
from next_penny.core.payoff.adopting import adoption, drop
from next_penny.core.payoff.affordable import Affordable
from next_penny.core.payoff.comparing import compared
from next_penny.core.payoff.debts import rates_from
from next_penny.core.payoff.household import owed_by_month
from next_penny.core.payoff.progress import DebtProgress, DebtYear, progress, years_on_record
from next_penny.core.payoff.run import Run, run
from next_penny.core.payoff.told import differences, left_out_note, order_notes
from next_penny.core.payoff.way import Way
from next_penny.core.problems import Loc, PlanError
from next_penny.core.way_out import STRATEGIES
from next_penny.formats.balance_document import month_text
from next_penny.formats.payoff_document import AskedDocument, CalculatorDocument
from next_penny.formats.payoff_workbook import payoff_csv, payoff_workbook
from next_penny.store.reading import Reading
from next_penny.store.store import Decision

router = APIRouter(prefix="/api", tags=["debts"])

# So many months on record are drawn before the plan.
_MONTHS_ON_RECORD = 24


@router.post("/tools/payoff", response_model=PayoffAnswer)
def payoff_calculator(request: CalculatorDocument) -> Response:
    """Pay debts off month by month; stateless."""
    debts = [each.to_core() for each in request.debts]
    runs = {strategy: run(debts, request.start, request.wish(strategy)) for strategy in STRATEGIES}
    left_out = [left_out_note(debt.name) for debt in debts if debt.balance == 0]
    wish, names = request.wish(request.strategy), {debt.id: debt.name for debt in debts if debt.balance}
    notes = [*left_out, *order_notes(wish, names)]
    return response(whole(PayoffAnswer, calculator_fields(runs[request.strategy], compared(runs), notes)))


@router.post("/payoff", response_model=HouseholdPayoff)
def way_out(request: AskedDocument, home: Home) -> Response:
    """The household's debts, paid off as asked."""
    way = asked_way(home.moment, request)
    wants_affordable = "affordable" in request.want or request.cap == "affordable"
    needs_payer = wants_affordable or request.from_account is not None
    found = way.run
    return response(whole(HouseholdPayoff, {
        **calculator_fields(found, way.compared, list(way.notes())),
        "today": home.today,
        "start": month_text(way.debts.start),
        "currency": way.debts.currency,
        "strategy": request.strategy,
        "payer": way.payer.id if needs_payer else None,
        "debts": _debts(way, found),
        "others": _others(way),
        "differences": list(differences(way.compared, way.debts.currency, with_own=bool(request.order))),
        "affordable": _affordable(way.affordable) if wants_affordable else None,
        "cheapest": _cheapest(way.cheapest) if "cheapest" in request.want else None,
    }))  # fmt: skip


@router.post("/payoff/picture", response_model=PayoffPicture)
def way_out_picture(request: AskedDocument, home: Home) -> Response:
    """The household's debts, paid off as asked, as a picture of it needs them."""
    way = asked_way(home.moment, request)
    found, least, start = way.run, way.least, way.debts.start
    past = owed_by_month(home.moment, way.debts, _MONTHS_ON_RECORD)
    bears = bool(found.debts) and way.has_payer
    owed = {debt.id: [month.closing for month in found.months[debt.id]] for debt in found.debts}
    return response(whole(PayoffPicture, {
        "today": home.today,
        "start": month_text(start),
        "currency": way.debts.currency,
        "strategy": request.strategy,
        "months": len(found),
        "debt_free": month_of(found.debt_free),
        "total_interest": found.total_interest,
        "never_clears": never_clears(found),
        "debts": _debts(way, found),
        "others": _others(way),
        "owed": owed,
        "own": found.own,
        "wished": way.wished,
        "least": LeastModel(
            months=None if least.never else len(least), total_interest=least.total_interest, owed=least.owed
        ),
        "past": [PastMonth(month=month_text(month), owed=owed) for month, owed in past],
        "affordable": _affordable(way.affordable) if bears else None,
        "strained": [month_text(month) for month in (way.affordable.strained(way.wished) if bears else ())],
    }))  # fmt: skip


def _others(way: Way) -> list[OtherDebt]:
    return [
        OtherDebt(id=each.account.id, name=each.account.name, why=each.reason, can_join=each.can_join)
        for each in way.debts.left_out
    ]


def asked_way(moment: Moment, request: AskedDocument, loc: Loc = ("body",)) -> Way:
    """The way out that a request asks for; a refusal names the field, within `loc`."""
    try:
        return Way(moment, request.asked(moment.today))
    except PlanError as error:
        raise Refused(refusals(error.problems, loc)) from error


def _debts(way: Way, found: Run) -> list[DebtModel]:
    """In the order in which they clear, those that never do last; in an own order, in that."""
    kinds = {account.id: account.kind for account in way.debts.accounts}
    clears = dict(found.cleared)
    last = way.debts.start + len(found)
    places = {debt.id: clears.get(debt.id, last) for debt in found.debts}
    if way.asked.choice == "custom":
        order = way.asked.wish.order
        places = {debt.id: order.index(debt.id) if debt.id in order else last for debt in found.debts}
    return [
        DebtModel(
            id=debt.id,
            name=debt.name,
            kind=kinds[debt.id],
            owed=debt.balance,
            annual_rate=f"{rates_from(debt, found.start, 1)[0]:f}",
            minimum=found.months[debt.id][0].minimum,
            clears=month_of(clears.get(debt.id)),
            frees=found.freed[debt.id],
        )
        for debt in sorted(found.debts, key=lambda debt: places[debt.id])
    ]


def _affordable(found: Affordable) -> AffordableModel:
    early = zip(found.rooms, found.early, strict=True)
    return AffordableModel(
        even=found.even,
        early=[AffordableMonth(month=month_text(room.month), amount=amount) for room, amount in early],
        later=found.later and AffordableMonth(month=month_text(found.later[0]), amount=found.later[1]),
    )


def _cheapest(found: Run) -> Written:
    return whole(CheapestModel, {
        "total_interest": found.total_interest,
        "debt_free": month_of(found.debt_free),
        "months": months_written(found),
    })  # fmt: skip


class EffectAnswer(BaseModel):
    """What adopting would do: the payer's lowest point in the coming year, and the interest of the plan's months.

    interest_by_day: the same interest as the books and the forecast's days have it.
    """

    currency: str
    payer: str
    lowest_before: LowPointModel | None
    lowest_after: LowPointModel | None
    interest_planned: int
    interest_by_day: int


@router.post("/payoff/effect")
def effect_of_adopting(request: AskedDocument, home: Home) -> EffectAnswer:
    """What would change if the plan were adopted."""
    way = asked_way(home.moment, request)
    after = with_changes(home.moment, adoption(way))
    before_run, after_run = (year_ahead(each).run_of[way.payer.id] for each in (home.moment, after))
    found = progress(after)
    assert found is not None
    return EffectAnswer(
        currency=way.debts.currency,
        payer=way.payer.name,
        lowest_before=low_point(lowest(before_run)),
        lowest_after=low_point(lowest(after_run)),
        interest_planned=sum(each.interest_planned for each in found.debts),
        interest_by_day=sum(each.interest_by_day for each in found.debts),
    )


@router.post("/payoff/adopt")
def adopt(request: AskedDocument, home: Home) -> HistoryAnswer:
    """Make the plan's payments the expected ones, from its first month on, as one undoable change."""

    def decide(reading: Reading) -> Decision:
        way = asked_way(reading.moment, request)
        return Decision(adoption(way), "Adopted a way out of debt", list(way.notes()))

    return done_answer(home.change(decide))


@router.delete("/payoff/adopt")
def drop_adopted(home: Home) -> HistoryAnswer:
    """Drop the adopted plan from today on: what it replaced is expected again."""

    def decide(reading: Reading) -> Decision:
        changes = drop(reading.moment)
        if not changes:
            raise refused(("path",), "There is no way out to drop: it may be dropped already.", "unknown_id")
        return Decision(changes, "Dropped the way out of debt")

    return done_answer(home.change(decide))


class DebtProgressModel(BaseModel):
    """A debt against the plan; `planned` and `paid` are payments since it began, `expected` what it has owed by now."""

    id: str
    name: str
    original: int
    owed: int
    expected: int
    planned: int
    paid: int
    percent: int
    interest_planned: int
    interest_by_day: int


class ProgressModel(BaseModel):
    """The plan as a whole: `ahead` of what was planned to be paid, negative behind; null months never come."""

    on: datetime.date
    start: str
    asked: AskedDocument
    currency: str
    ahead: int
    planned_debt_free: str
    debt_free: str | None
    months_later: int | None
    percent: int
    debts: list[DebtProgressModel]


class DebtYearModel(BaseModel):
    year: int
    paid: int
    interest: int
    owed: int


class DebtOnRecord(BaseModel):
    id: str
    name: str
    currency: str
    years: list[DebtYearModel]


class ProgressAnswer(BaseModel):
    """How the adopted plan goes, null without one; and each year's payments on record, debt by debt."""

    today: datetime.date
    progress: ProgressModel | None
    on_record: list[DebtOnRecord]


@router.get("/payoff/progress", response_model_by_alias=True)
def read_progress(home: Home) -> ProgressAnswer:
    """Ahead or behind, the new debt-free month, and the years on record."""
    return ProgressAnswer(
        today=home.today, progress=_progress(home), on_record=_on_record(years_on_record(home.moment))
    )


def _progress(home: Visit) -> ProgressModel | None:
    found = progress(home.moment)
    if found is None:
        return None
    return ProgressModel(
        on=found.adopted.on,
        start=month_text(found.adopted.asked.start),
        asked=AskedDocument.of_asked(found.adopted.asked),
        currency=found.debts[0].account.currency,
        ahead=found.ahead,
        planned_debt_free=month_text(found.planned_debt_free),
        debt_free=month_of(found.debt_free),
        months_later=found.months_later,
        percent=found.percent,
        debts=[_debt_progress(each) for each in found.debts],
    )


def _debt_progress(each: DebtProgress) -> DebtProgressModel:
    fields = each._asdict()
    account = fields.pop("account")
    return DebtProgressModel(id=account.id, name=account.name, **fields)


def _on_record(years: list[DebtYear]) -> list[DebtOnRecord]:
    found: dict[str, DebtOnRecord] = {}
    for each in years:
        fields = each._asdict()
        account = fields.pop("account")
        debt = DebtOnRecord(id=account.id, name=account.name, currency=account.currency, years=[])
        found.setdefault(account.id, debt).years.append(DebtYearModel(**fields))
    return list(found.values())


@router.get("/payoff/table.{form}", response_class=Response)
def export_table(home: Home, form: Literal["csv", "xlsx"], asked: str = "{}") -> Response:
    """The months of a plan (the request as JSON) as CSV, or as a workbook of live formulas."""
    try:
        way = asked_way(home.moment, AskedDocument.model_validate_json(asked), ("query", "asked"))
    except ValidationError as error:
        raise Refused(from_validation(error.errors(), ("query", "asked"))) from error
    headers = {"Content-Disposition": f'attachment; filename="way-out-of-debt.{form}"'}
    if form == "csv":
        text = payoff_csv(way.run, way.debts.currency)
        return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(payoff_workbook(way.run, way.debts.currency), media_type=kind, headers=headers)
