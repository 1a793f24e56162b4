"""All stand-ins together, as the demo starts them, and the demo's own day, which can be moved on."""

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from pathlib import Path

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.books.moment import Moment
from next_penny.core.plan.entries import Entry
from next_penny.standins.bank import SimulatedBank
from next_penny.standins.mailbox import SimulatedMailbox
from next_penny.standins.server import StandInServer


class DemoClock:
    """Today, as many days ahead of a clock as the demo was moved on."""

    def __init__(self, clock: Callable[[], date]) -> None:
        self._clock, self._ahead = clock, 0

    def __call__(self) -> date:
        return self._clock() + timedelta(days=self._ahead)

    def move_on(self, days: int) -> None:
        """Let so many days pass."""
        self._ahead += days


class StandIns:
    """The simulated bank, mailbox and rates of a demo household, from a moment on; folder: where the mailbox is."""

    def __init__(
        self, moment: Moment, recorded: Sequence[Entry], clock: DemoClock, folder: Path, port: int = 0
    ) -> None:
        self.clock, self.mailbox_folder = clock, folder
        self._begun = moment.today
        bank = SimulatedBank(moment, recorded)
        self.server = StandInServer(bank, clock, port)
        account = next(iter(bank.accounts), None)
        self._mailbox = None
        if account is not None:

            def held(day: date) -> ClosingBalance:
                return bank.statement(account, day, day).closing

            self._mailbox = SimulatedMailbox(folder, account.name, account.currency, held)
            self._mailbox.deliver(self._begun - timedelta(days=2), clock())

    @property
    def bank_address(self) -> str:
        return f"{self.server.address}/ofx"

    @property
    def rates_address(self) -> str:
        return f"{self.server.address}/rates"

    def move_on(self, days: int) -> None:
        """Let days pass, with what comes each morning."""
        self.clock.move_on(days)
        if self._mailbox is not None:
            self._mailbox.deliver(self._begun, self.clock())

    def stop(self) -> None:
        """Let the servers go."""
        self.server.stop()
