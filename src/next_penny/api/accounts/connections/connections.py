"""Connections: connecting a service, asking it for what is new, and ending it."""

from dataclasses import replace
from pathlib import Path as FilePath
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Path, Request

from next_penny.api.accounts.bank_files.answers import look_answer
from next_penny.api.accounts.connections.asking import Asking
from next_penny.api.accounts.connections.bank import NotKnown, sign_in
from next_penny.api.accounts.connections.fetching import CannotAsk
from next_penny.api.accounts.connections.models import (
    AskedAnswer,
    ConnectionChange,
    ConnectionRow,
    ConnectRequest,
    SignOnRequest,
)
from next_penny.api.http.errors import Refusal, Refused, refused
from next_penny.api.http.session import Home
from next_penny.core.plan.kept.connections import Service
from next_penny.formats.notices import NoticeError, read_notices
from next_penny.store.sql.services import delete_service, write_service

router = APIRouter(prefix="/api/connections", tags=["connections"])
ServiceId = Annotated[str, Path(max_length=100)]


def asking_of(request: Request) -> Asking:
    asking: Asking = request.app.state.asking
    return asking


def service_of(asking: Asking, id: str) -> Service:
    service = asking.services().get(id)
    if service is None:
        message = "There is no such connection: it may be ended already."
        raise Refused([Refusal(loc=["path", "id"], msg=message, type="unknown_id")], 404)
    return service


def _row(home: Home, service: Service) -> ConnectionRow:
    return ConnectionRow(
        id=service.id, kind=service.kind, address=service.address, until=service.until,
        has_ended=service.until is not None and service.until < home.today, daily=service.daily, asked=service.asked,
        said=service.said, problem=service.problem,
    )  # fmt: skip


@router.get("")
def read_connections(home: Home) -> list[ConnectionRow]:
    """The services that are asked for what is new, in the order in which they were connected."""
    return [_row(home, service) for service in home.reading.services()]


@router.post("")
def connect(request: Request, body: ConnectRequest, home: Home) -> ConnectionRow:
    """Connect a service that answers: of a bank its key is kept, never the password."""
    asking = asking_of(request)
    if any(
        (one_service.kind, one_service.address) == (body.kind, body.address)
        for one_service in asking.services().values()
    ):
        raise refused(("body", "address"), "This one is connected already.", "duplicate_id")
    service = Service(uuid4().hex, body.kind, body.address)
    if body.kind == "bank":
        service = _signed_on(asking, service, SignOnRequest(user=body.user, password=body.password), home)
    elif body.kind == "mailbox":
        service = replace(service, address=str(_mailbox(body.address)))
    with home.store.beside_the_plan() as connection:
        write_service(connection, service)
    return _row(home, service)


def _signed_on(asking: Asking, service: Service, who: SignOnRequest, home: Home) -> Service:
    for field, value in (("user", who.user), ("password", who.password)):
        if not value.strip():
            raise refused(("body", field), "The bank asks for this.", "missing")
    try:
        consent = sign_in(service.address, who.user, who.password, home.today, asking.patience)
    except CannotAsk as error:
        field = "password" if isinstance(error, NotKnown) else "address"
        raise refused(("body", field), str(error), "service") from error
    wording = f"{consent.accounts} account{'s' if consent.accounts != 1 else ''} there."
    return replace(service, key=consent.key, until=consent.until, said=wording, problem="")


def _mailbox(address: str) -> FilePath:
    folder = FilePath(address).expanduser()
    try:
        read_notices(folder)
    except (NoticeError, OSError, ValueError) as error:
        wording = str(error) if isinstance(error, NoticeError) else "There is no such folder."
        raise refused(("body", "address"), wording, "service") from error
    return folder


@router.post("/{id}/sign-on")
def sign_on_again(request: Request, id: ServiceId, body: SignOnRequest, home: Home) -> ConnectionRow:
    """Renew a bank's consent, by signing on once more."""
    asking = asking_of(request)
    service = service_of(asking, id)
    if service.kind != "bank":
        raise refused(("path", "id"), "Only a bank is signed on at.", "service")
    service = _signed_on(asking, service, body, home)
    asking.write_down(id, key=service.key, until=service.until, said=service.said, problem="")
    return _row(home, service)


@router.put("/{id}")
def change_connection(request: Request, id: ServiceId, body: ConnectionChange, home: Home) -> ConnectionRow:
    """Say whether a service is asked by itself, once a day."""
    asking = asking_of(request)
    service = service_of(asking, id)
    asking.write_down(id, daily=body.daily)
    return _row(home, replace(service, daily=body.daily))


@router.delete("/{id}", status_code=204)
def disconnect(request: Request, id: ServiceId, home: Home) -> None:
    """Ask a service no more, and forget its secret. What was taken in stays."""
    service_of(asking_of(request), id)
    with home.store.beside_the_plan() as connection:
        delete_service(connection, id)


@router.post("/{id}/ask")
def ask_for_new(request: Request, id: ServiceId) -> AskedAnswer:
    """Get what is new. A bank's lines are looked at before they are taken in; rates and balances are taken at once."""
    asking = asking_of(request)
    try:
        came = asking.ask(service_of(asking, id))
    except CannotAsk as error:
        raise refused(("path", "id"), str(error), "service") from error
    if came.look is None:
        return AskedAnswer(said=came.said)
    with asking.session() as session:
        return AskedAnswer(said=came.said, look=look_answer(session.reading, request.app.state.looks.keep(came.look)))
