"""What is said to who owes money: one sentence with the sum and since when."""

from datetime import date

from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.lent.standing import LentStanding
from next_penny.core.money import format_amount


def reminder(standing: LentStanding, today: int) -> str | None:
    """One sentence to send, friendly and exact; None where nothing is owed."""
    whole = standing.owed + standing.accrued
    if whole <= 0:
        return None
    currency, to = standing.account.currency, standing.terms.to
    wording = format_amount(whole, currency)
    interest = f", {format_amount(standing.accrued, currency)} of it interest" if standing.accrued else ""
    late = standing.late(today)
    if late is not None:
        amount, since = late
        part = "" if amount == whole else f", of {wording} in all{interest}"
        day = full_day(date.fromordinal(since))
        return f"Dear {to}, {format_amount(amount, currency)} has been due since {day}{part}: could you send it?"
    since_day = full_day(standing.account.opening.date)
    return f"Dear {to}, of what I lent you on {since_day} {wording} is still open{interest}: when would it suit you?"
