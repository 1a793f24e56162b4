"""The app: routers put together over one open household."""

from collections.abc import Callable, Iterable
from datetime import date
from functools import cache
from typing import Any

from fastapi import APIRouter, FastAPI
from fastapi.routing import APIRoute
from starlette.routing import BaseRoute

from next_penny import __version__
from next_penny.api.accounts import (
    accounts,
    backups,
    calendar_feed,
    exports,
    lent,
    plan,
    rates,
    readings,
    receipts,
    register,
    statements,
)
from next_penny.api.accounts.bank_files import files, payee_rules, waiting
from next_penny.api.accounts.bank_files.looking import Looks
from next_penny.api.accounts.connections import connections, demo, messages
from next_penny.api.accounts.connections.asking import Asking
from next_penny.api.ahead import calendar, chance, days, forecast, months, paydays, short, tideline, years
from next_penny.api.debts import (
    adopting,
    alternatives,
    cards,
    debts,
    escrow,
    loan_page,
    progress,
    recorded_whole,
    statement_checks,
    way_out,
    way_out_questions,
    why,
)
from next_penny.api.edits import changes, side_by_side, steps, understanding, what_ifs
from next_penny.api.flows import (
    allowances,
    bill_line,
    candidates,
    categories,
    flows,
    limits_table,
    set_aside,
    subscriptions,
)
from next_penny.api.http import errors, interface, limits, passwords, security
from next_penny.api.http.addresses import ByAddress
from next_penny.api.http.compression import Squeezed
from next_penny.api.http.session import OpenHousehold
from next_penny.api.review import goals, line, noticing, proposals, review, tagged, year_end
from next_penny.api.review import months as review_months
from next_penny.api.review import years as loan_years
from next_penny.api.settle import due, lines
from next_penny.api.tools import interest, loans, previews, reference
from next_penny.standins.running import StandIns
from next_penny.store.store import Store

# In this order they are asked whether an address is theirs: the interface answers whatever is nobody else's.
_PARTS = (
    *(reference, plan, changes, steps, what_ifs, side_by_side, understanding),
    *(days, calendar, chance, paydays, forecast, tideline, months, short, years),
    *(due, lines),
    *(flows, bill_line, subscriptions, limits_table, allowances, categories, candidates, set_aside),
    *(cards, debts, alternatives, why, loan_page, way_out, way_out_questions, adopting, progress),
    *(
        escrow,
        statement_checks,
        recorded_whole,
        loan_years,
        review,
        line,
        review_months,
        goals,
        noticing,
        proposals,
        year_end,
        tagged,
    ),
    *(
        accounts,
        register,
        readings,
        statements,
        lent,
        rates,
        receipts,
        backups,
        exports,
        files,
        waiting,
        payee_rules,
        calendar_feed,
        connections,
        messages,
        demo,
    ),
    *(previews, loans, interest),
    *(passwords, interface),
)


def create_app(
    store: Store, clock: Callable[[], date], hosts: Iterable[str] = (), stand_ins: StandIns | None = None
) -> FastAPI:
    """The app over a household's file. `clock` tells today; `hosts` are names it answers to beside this computer's.

    stand_ins: the simulated services of the demo, which answer beside it.
    """
    app = _App(
        title="Next Penny",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    app.state.household = OpenHousehold(store, clock)
    app.state.looks = Looks()
    app.state.asking = Asking(app.state.household)
    app.state.stand_ins = stand_ins
    app.state.doorkeeper = passwords.Doorkeeper(store)
    errors.install(app)
    app.router.routes.extend(_routes())
    app.add_middleware(errors.Faults)
    app.add_middleware(Squeezed)
    app.add_middleware(limits.Limits)
    app.add_middleware(security.Guard, hosts=hosts, keeper=app.state.doorkeeper)
    return app


@cache
def _routes() -> list[BaseRoute]:
    """All routes, put together once a process: what reads their requests is made of them when the first is asked."""
    together = APIRouter(generate_unique_id_function=_operation_id, responses=errors.STATUSES)
    for part in _PARTS:
        together.include_router(part.router)
    addresses = [[getattr(route, "path", "{}") for route in part.router.routes] for part in _PARTS]
    return [ByAddress(list(zip(together.routes, addresses, strict=True))), *together.routes]


class _App(FastAPI):
    """An app whose document has what every call may be refused with."""

    def openapi(self) -> dict[str, Any]:
        if self.openapi_schema is None:
            self.openapi_schema = errors.with_refusals(super().openapi())
        return self.openapi_schema


def _operation_id(route: APIRoute) -> str:
    return route.name
