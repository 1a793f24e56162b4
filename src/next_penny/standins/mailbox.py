"""A simulated mailbox: a Maildir folder into which a bank's plain notices come, one each morning."""

import mailbox
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from email.message import EmailMessage
from email.utils import format_datetime
from pathlib import Path

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.money import format_amount

_MORNING = 6
_SENDER = "Harbour notices <notices@bank.example>"


class SimulatedMailbox:
    """Puts each morning's notice into a Maildir once, whenever it is asked to."""

    def __init__(
        self, folder: Path, name: str, currency: str, closing_balance: Callable[[date], ClosingBalance]
    ) -> None:
        self._box = mailbox.Maildir(folder, create=True)
        self._name, self._currency, self._closing_balance = name, currency, closing_balance
        self._delivered = {str(message["Message-ID"]) for message in self._box}

    def deliver(self, first: date, today: date) -> None:
        """The notices from a morning to this one, as far as they did not come yet."""
        for number in range(first.toordinal(), today.toordinal() + 1):
            morning = date.fromordinal(number)
            if _id_of(morning) not in self._delivered:
                self._box.add(self._notice(morning))
                self._delivered.add(_id_of(morning))

    def _notice(self, morning: date) -> EmailMessage:
        closing_balance = self._closing_balance(morning - timedelta(days=1))
        message = EmailMessage()
        message["From"] = _SENDER
        message["Subject"] = "Your morning notice"
        message["Date"] = format_datetime(datetime(morning.year, morning.month, morning.day, _MORNING, tzinfo=UTC))
        message["Message-ID"] = _id_of(morning)
        balance = format_amount(closing_balance.balance, self._currency)
        message.set_content(
            f"Good morning,\n\n{self._name}\n"
            f"Balance on {closing_balance.date.day} {closing_balance.date:%B %Y}: {balance}\n"
            "Questions? Call 555 0142, 8 to 18 o'clock.\n"
        )
        return message


def _id_of(morning: date) -> str:
    return f"<{morning}@bank.example>"
