"""The way out of debt: the calculator, and the household's own with its picture and tables."""

from typing import Literal

from fastapi import APIRouter, Response
from pydantic import ValidationError

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.debts.progress import MONTHS_ON_RECORD
from next_penny.api.debts.way_out_answers import (
    AffordableModel,
    AffordableMonth,
    CheapestModel,
    DebtModel,
    HouseholdPayoff,
    LeastModel,
    OtherDebt,
    OwedMonthModel,
    PayoffAnswer,
    PayoffPicture,
    PrintedLine,
    PrintedPayoff,
    calculator_fields,
    month_of,
    months_written,
    never_clears,
)
from next_penny.api.http.answers import Written, response, whole, workbook
from next_penny.api.http.errors import Refused, from_validation, refusals
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.books.moment import Moment
from next_penny.core.payoff.affordable import Affordable
from next_penny.core.payoff.comparing import compared, saves_more, saving
from next_penny.core.payoff.debts import rates_from
from next_penny.core.payoff.outcome import months_a_line, taken_together
from next_penny.core.payoff.run import run
from next_penny.core.payoff.way import Way
from next_penny.core.payoff.wording import differences, left_out_note, order_notes
from next_penny.core.plan.kept.way_out import STRATEGIES
from next_penny.core.problems import Loc, PlanError
from next_penny.formats.documents.kept.way_out import AskedDocument, CalculatorDocument
from next_penny.formats.documents.parts import month_text
from next_penny.formats.workbooks.way_out import payoff_csv, payoff_workbook

router = APIRouter(prefix="/api", tags=["debts"])


@router.post("/tools/payoff", response_model=PayoffAnswer)
def payoff_calculator(request: CalculatorDocument) -> Response:
    """Pay debts off month by month; stateless."""
    debts = [debt.to_core() for debt in request.debts]
    runs = {strategy: run(debts, request.start, request.wish(strategy)) for strategy in STRATEGIES}
    left_out = [left_out_note(debt.name) for debt in debts if debt.balance == 0]
    wish, names = request.wish(request.strategy), {debt.id: debt.name for debt in debts if debt.balance}
    notes = [*left_out, *order_notes(wish, names)]
    return response(whole(PayoffAnswer, calculator_fields(runs[request.strategy], compared(runs), notes)))


@router.post("/payoff", response_model=HouseholdPayoff)
def way_out(request: AskedDocument, home: HomeOrWhatIf) -> Response:
    """The household's debts, paid off as asked."""
    way = asked_way(home.moment, request)
    wants_affordable = "affordable" in request.want or request.cap == "affordable"
    needs_payer = wants_affordable or request.from_account is not None
    run = way.run
    return response(whole(HouseholdPayoff, {
        **calculator_fields(run, way.compared, list(way.notes())),
        "today": home.today,
        "start": month_text(way.debts.start),
        "currency": way.debts.currency,
        "strategy": request.strategy,
        "payer": way.payer.id if needs_payer else None,
        "debts": _debts(way),
        "others": _others(way),
        "paid": run.paid,
        "owed": run.owed,
        "differences": list(differences(way.compared, way.debts.currency, with_own=bool(request.order))),
        "affordable": _affordable(way.affordable) if wants_affordable else None,
        "cheapest": _cheapest(way) if "cheapest" in request.want else None,
    }))  # fmt: skip


@router.post("/payoff/picture", response_model=PayoffPicture)
def way_out_picture(request: AskedDocument, home: HomeOrWhatIf) -> Response:
    """The household's debts, paid off as asked, as a picture of it needs them."""
    way = asked_way(home.moment, request)
    run, least, start = way.run, way.least, way.debts.start
    bears = bool(run.debts) and way.has_payer
    interest, months = saving(run, least)
    return response(whole(PayoffPicture, {
        "today": home.today,
        "start": month_text(start),
        "currency": way.debts.currency,
        "strategy": request.strategy,
        "months": len(run),
        "debt_free": month_of(run.debt_free),
        "total_interest": run.total_interest,
        "never_clears": never_clears(run),
        "debts": _debts(way),
        "others": _others(way),
        "owed": [OwedMonthModel(month=month_text(month), owed=owed, sum=sum(owed), is_planned=is_planned)
                 for month, owed, is_planned in way.owed_by_month(MONTHS_ON_RECORD)],
        "own": run.own,
        "wished": way.wished,
        "least": LeastModel(
            months=None if least.never else len(least), total_interest=least.total_interest, owed=least.owed,
            saves_interest=interest, saves_months=months,
        ),
        "affordable": _affordable(way.affordable) if bears else None,
        "strained": [month_text(month) for month in (way.affordable.strained(way.wished) if bears else ())],
    }))  # fmt: skip


def _others(way: Way) -> list[OtherDebt]:
    return [
        OtherDebt(id=omission.account.id, name=omission.account.name, why=omission.reason, can_join=omission.can_join)
        for omission in way.debts.left_out
    ]


def asked_way(moment: Moment, request: AskedDocument, loc: Loc = ("body",)) -> Way:
    """The way out that a request asks for; a refusal names the field, within `loc`."""
    if request.until is not None:
        checked_until(moment.today, request.until, (*loc, "until"))
    try:
        return Way(moment, request.asked(moment.today))
    except PlanError as error:
        raise Refused(refusals(error.problems, loc)) from error


def _debts(way: Way) -> list[DebtModel]:
    run, kinds = way.run, {account.id: account.kind for account in way.debts.accounts}
    clears = dict(run.cleared)
    return [
        DebtModel(
            id=debt.id,
            name=debt.name,
            kind=kinds[debt.id],
            owed=debt.balance,
            annual_rate=f"{rates_from(debt, run.start, 1)[0]:f}",
            # Of the first month with a due date: a plan may begin before one.
            minimum=next((month.minimum for month in run.months[debt.id] if month.minimum), 0),
            clears=month_of(clears.get(debt.id)),
            frees=run.freed[debt.id],
        )
        for debt in way.debts_in_order
    ]


def _affordable(affordable: Affordable) -> AffordableModel:
    early = zip(affordable.rooms, affordable.early, strict=True)
    return AffordableModel(
        even=affordable.even,
        early=[AffordableMonth(month=month_text(room.month), amount=amount) for room, amount in early],
        later=affordable.later and AffordableMonth(month=month_text(affordable.later[0]), amount=affordable.later[1]),
    )


def _cheapest(way: Way) -> Written:
    run = way.cheapest
    interest, months = saving(run, way.least)
    return whole(CheapestModel, {
        "total_interest": run.total_interest,
        "debt_free": month_of(run.debt_free),
        "saves_interest": interest,
        "saves_months": months,
        "saves_more": saves_more(run, list(way.runs.values())),
        "months": months_written(run),
    })  # fmt: skip


@router.post("/payoff/printed")
def print_way_out(request: AskedDocument, home: HomeOrWhatIf) -> PrintedPayoff:
    """The household's debts, paid off as asked, on one page."""
    way = asked_way(home.moment, request)
    run, size = way.run, months_a_line(way.run)
    return PrintedPayoff(
        start=month_text(way.debts.start),
        currency=way.debts.currency,
        strategy=request.strategy,
        extra_monthly=request.extra_monthly,
        debt_free=month_of(run.debt_free),
        total_interest=run.total_interest,
        debts=[debt.name for debt in way.debts_in_order],
        months_a_line=size,
        lines=[
            PrintedLine(until=month_text(line.until), paid=line.paid, owed=line.owed, sum=sum(line.owed))
            for line in taken_together(run, size, [debt.id for debt in way.debts_in_order])
        ],
    )


@router.get("/payoff/table.{form}", response_class=Response)
def export_table(home: HomeOrWhatIf, form: Literal["csv", "xlsx"], asked: str = "{}") -> Response:
    """The months of a plan (the request as JSON) as CSV, or as a workbook of live formulas."""
    try:
        way = asked_way(home.moment, AskedDocument.model_validate_json(asked), ("query", "asked"))
    except ValidationError as error:
        raise Refused(from_validation(error.errors(), ("query", "asked"))) from error
    if form == "csv":
        text = payoff_csv(way.run, way.debts.currency)
        headers = {"Content-Disposition": 'attachment; filename="way-out-of-debt.csv"'}
        return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
    return workbook(payoff_workbook(way.run, way.debts.currency), "way-out-of-debt.xlsx")
