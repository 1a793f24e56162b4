"""What is said to who owes money: one sentence with the sum and since when."""

from datetime import date

from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.lent.standing import LentStanding
from next_penny.core.money import format_amount


def reminder(stands: LentStanding, today: int) -> str | None:
    """One sentence to send, friendly and exact; None where nothing is owed."""
    whole = stands.owed + stands.accrued
    if whole <= 0:
        return None
    currency, to = stands.account.currency, stands.terms.to
    told = format_amount(whole, currency)
    interest = f", {format_amount(stands.accrued, currency)} of it interest" if stands.accrued else ""
    late = stands.late(today)
    if late is not None:
        amount, since = late
        part = "" if amount == whole else f", of {told} in all{interest}"
        day = full_day(date.fromordinal(since))
        return f"Dear {to}, {format_amount(amount, currency)} has been due since {day}{part}: could you send it?"
    since_day = full_day(stands.account.opening.date)
    return f"Dear {to}, of what I lent you on {since_day} {told} is still open{interest}: when would it suit you?"
