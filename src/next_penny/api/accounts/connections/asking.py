"""Getting what is new from a service: fetched outside of any transaction, and taken in by one undoable step."""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from typing import NamedTuple

from next_penny.api.accounts.bank_files.looking import Look, bank_account, look_at, with_found
from next_penny.api.accounts.bank_files.models import ImportRequest
from next_penny.api.accounts.bank_files.taking import Result, taken_in
from next_penny.api.accounts.connections import notices, rates
from next_penny.api.accounts.connections.bank import booked_since
from next_penny.api.accounts.connections.fetching import PATIENCE_SECONDS, CannotAsk
from next_penny.api.http.session import OpenHousehold, Session
from next_penny.core.bank_lines.statements import BankFile
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.kept.connections import Service
from next_penny.core.problems import NextPennyError, PlanError
from next_penny.formats.bank_files.texts import BankFileError
from next_penny.formats.notices import NoticeError, read_notices
from next_penny.store.moments import Reading
from next_penny.store.sql.services import read_services, write_service
from next_penny.store.transactions import Decision

_NOTHING = "Nothing new."
# A bank books late: so many days before the newest line that was taken in are asked for again.
_AGAIN_DAYS, _FIRST_DAYS = 15, 60


class Came(NamedTuple):
    """What came of asking; look: lines that are to be looked at before they are taken in."""

    said: str
    look: Look | None = None


class Asking:
    """Asks the household's services. No reading and no transaction stays open while a service is waited for."""

    def __init__(self, household: OpenHousehold, patience: float = PATIENCE_SECONDS) -> None:
        self._household = household
        self.patience = patience

    @contextmanager
    def session(self) -> Iterator[Session]:
        """The household as it is now."""
        session = Session(self._household)
        try:
            yield session
        finally:
            session.end()

    def services(self) -> dict[str, Service]:
        """The services by their ids, with their secrets."""
        with self.session() as session:
            return {service.id: service for service in session.reading.services()}

    def ask(self, service: Service) -> Came:
        """Ask a service, and write down what came of it. Raises CannotAsk, after writing that down too."""
        try:
            came = self._asked(service)
        except CannotAsk as error:
            self.write_down(service.id, problem=str(error))
            raise
        with self.session() as session:
            today = session.today
        self.write_down(service.id, said=came.said, problem="", asked=today)
        return came

    def ask_daily(self) -> None:
        """Ask those that are asked once a day and were not asked today, and take in what is certain."""
        with self.session() as session:
            today = session.today
        for service in self.services().values():
            if service.daily and (service.asked is None or service.asked < today):
                with suppress(CannotAsk):
                    self.take_in(service, self.ask(service))

    def write_down(self, id: str, **fields: object) -> None:
        """Correct what is kept of a service, unless it was disconnected meanwhile."""
        with self.session() as session, session.store.beside_the_plan() as connection:
            service = next((read_service for read_service in read_services(connection) if read_service.id == id), None)
            if service is not None:
                write_service(connection, replace(service, **fields))  # type: ignore[arg-type]

    def take_in(self, service: Service, came: Came) -> None:
        """Take in what was found as it was found; what is only offered waits in Settle."""
        look = came.look
        if look is None:
            return
        done: list[Result] = []

        def decide(reading: Reading) -> Decision:
            again = with_found(reading, look, look.accounts)
            done.append(taken_in(reading, again, ImportRequest(look=look.id, statements=None, payee_rules=[])))
            return Decision(done[-1].changes, done[-1].label)

        wording = f"{came.said}. Get what is new, to look at them"
        if any(owner is not None for owner in look.accounts):
            with suppress(NextPennyError), self.session() as session:
                session.change(decide)
                result = done[-1]
                wording = result.label + (
                    f"; {_count(result.waiting, 'line')} to decide in Settle" if result.waiting else ""
                )
        self.write_down(service.id, said=f"{wording}.")

    def _asked(self, service: Service) -> Came:
        match service.kind:
            case "bank":
                return self._ask_bank(service)
            case "rates":
                return self._ask_rates(service)
            case "mailbox":
                return self._ask_mailbox(service)

    def _ask_bank(self, service: Service) -> Came:
        with self.session() as session:
            today, since = session.today, _since(session.reading, session.today)
        booked = booked_since(service.address, service.key, since, today, self.patience)
        if booked is None:
            return Came("The bank keeps no account that it tells of.")
        with self.session() as session:
            try:
                look = _named(look_at(session.reading, booked.content, {}, None, None), booked.names)
            except (BankFileError, PlanError) as error:
                raise CannotAsk("What it answered cannot be read as statements. Nothing was taken in.") from error
        fresh = sum(is_found.kind != "known" for identified_lines in look.kinds for is_found in identified_lines or ())
        unknown = sum(len(statement.lines) for statement, owner in zip(look.file.statements, look.accounts, strict=True)
                      if owner is None)  # fmt: skip
        if not fresh + unknown:
            return Came(_NOTHING)
        return Came(_count(fresh + unknown, "new line"), look)

    def _ask_rates(self, service: Service) -> Came:
        with self.session() as session:
            plan, today = session.plan, session.today
        if not rates.needed(plan):
            return Came("Nothing is held in another currency, so no rate is needed.")
        found_rates = rates.new_rates(service.address, plan, today, self.patience)
        changes = rates.changes_of(plan, found_rates)
        if not changes:
            return Came(_NOTHING)

        def decide(reading: Reading) -> Decision:
            changes = rates.changes_of(reading.moment.plan, found_rates)
            return Decision(changes, f"Took {_count(len(changes), 'exchange rate')}")

        with self.session() as session:
            session.change(decide)
        return Came(f"{_count(len(changes), 'exchange rate')}, the newest of {full_day(found_rates[-1].date)}.")

    def _ask_mailbox(self, service: Service) -> Came:
        try:
            found_notices = read_notices(Path(service.address))
        except NoticeError as error:
            raise CannotAsk(str(error)) from error
        with self.session() as session:
            taking = notices.to_take(session.reading, found_notices)
            unread = f" {_count(taking.unread, 'message')} could not be read: look at them." if taking.unread else ""
            if not taking.changes:
                return Came(f"{_NOTHING}{unread}")
            session.change(lambda reading: _from_messages(notices.to_take(reading, found_notices)))
            return Came(f"{_count(taking.balances, 'balance')} from messages.{unread}")


def _since(reading: Reading, today: date) -> Callable[[str], date]:
    """From which day on an account is asked for, by its number: what was taken in says it, not when it was asked."""
    owners, newest = reading.bank_accounts(), reading.newest_bank_days()

    def since(number: str) -> date:
        owner = owners.get(bank_account(number, "").hash)
        last = newest.get(owner.account) if owner is not None else None
        return min(last, today) - timedelta(days=_AGAIN_DAYS) if last is not None else today - timedelta(_FIRST_DAYS)

    return since


def _named(look: Look, names: Mapping[str, str]) -> Look:
    """The look with what the bank calls each account."""

    def named(file: BankFile) -> BankFile:
        statements = (replace(statement, name=names.get(statement.number or "", "")) for statement in file.statements)
        return replace(file, statements=tuple(statements))

    return replace(look, file=named(look.file), whole=named(look.whole) if look.whole is not None else None)


def _from_messages(taking: notices.Taking) -> Decision:
    return Decision(taking.changes, f"Took {_count(taking.balances, 'balance')} from messages")


def _count(number: int, name: str) -> str:
    return f"{number:,} {name}{'' if number == 1 else 's'}"
