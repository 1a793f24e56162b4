"""The app: routers put together over one open household."""

from collections.abc import Callable, Iterable
from datetime import date

from fastapi import FastAPI
from fastapi.routing import APIRoute

from next_penny import __version__
from next_penny.api import (
    allowances,
    backups,
    candidates,
    cards,
    categories,
    changes,
    debts,
    door,
    errors,
    escrow,
    exchange,
    forecast,
    interface,
    limits,
    loan_tools,
    months,
    payoff,
    payoff_questions,
    places,
    plan,
    receipts,
    reference,
    register,
    review,
    security,
    set_aside,
    settle,
    short,
    side_by_side,
    statement_checks,
    tax_year,
    tideline,
    tools,
    what_ifs,
    year_list,
)
from next_penny.api.household import OpenHousehold
from next_penny.api.squeezed import Squeezed
from next_penny.store.store import Store


def create_app(store: Store, clock: Callable[[], date], hosts: Iterable[str] = ()) -> FastAPI:
    """The app over a household's file. `clock` tells today; `hosts` are names it answers to beside this computer's."""
    app = FastAPI(
        title="Next Penny",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
        generate_unique_id_function=_operation_id,
        responses=errors.STATUSES,
    )
    app.state.household = OpenHousehold(store, clock)
    app.state.doorkeeper = door.Doorkeeper(store)
    errors.install(app)
    for part in (
        reference,
        plan,
        forecast,
        changes,
        tideline,
        places,
        allowances,
        categories,
        settle,
        register,
        receipts,
        candidates,
        set_aside,
        cards,
        debts,
        tools,
        loan_tools,
        payoff,
        payoff_questions,
        escrow,
        statement_checks,
        review,
        months,
        short,
        what_ifs,
        side_by_side,
        year_list,
        tax_year,
        backups,
        exchange,
        door,
        interface,
    ):
        app.include_router(part.router)
    app.add_middleware(Squeezed)
    app.add_middleware(limits.Limits)
    app.add_middleware(security.Guard, hosts=hosts, keeper=app.state.doorkeeper)
    return app


def _operation_id(route: APIRoute) -> str:
    return route.name
