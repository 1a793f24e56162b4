"""A household's content in the form that a file's ending names."""

from datetime import date
from typing import Literal

from next_penny.core.ahead.months import Grid, grid
from next_penny.core.ahead.stretch import spendable, stretch
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.formats.documents.plan import plan_json
from next_penny.formats.workbooks.household import entries_csv, household_workbook, receipts_zip
from next_penny.store.moments import Reading

_MONTHS_BEHIND, _MONTHS_AHEAD = 12, 12


def exported(reading: Reading, ending: Literal["json", "csv", "xlsx", "zip"]) -> bytes:
    """The plan document (json), all entries (csv), a workbook (xlsx), or the receipts with their list (zip)."""
    recorded = reading.entries()
    match ending:
        case "json":
            return plan_json(reading.moment.plan, recorded, reading.memory()).encode()
        case "csv":
            return entries_csv(reading.moment.plan, recorded).encode()
        case "xlsx":
            return household_workbook(reading.moment, recorded, _months(reading), reading.memory().rows)
        case "zip":
            return receipts_zip(recorded, reading.receipt)


def _months(reading: Reading) -> Grid | None:
    """A year back and a year ahead of what can be spent from; None where there is nothing of the kind."""
    moment: Moment = reading.moment
    accounts, this = spendable(moment), month_number(reading.today)
    if not accounts:
        return None
    first = date.fromordinal(month_start(this - _MONTHS_BEHIND))
    last = date.fromordinal(month_end(this + _MONTHS_AHEAD - 1))
    return grid(stretch(moment, accounts, first, last, reading.between(accounts, first, last)))
