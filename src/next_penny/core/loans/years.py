"""A loan's schedule by calendar year, and in all."""

from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from next_penny.core.dates.day_counts import days_by_year
from next_penny.core.loans.schedule import Schedule
from next_penny.core.money import rounded_quotient


@dataclass(frozen=True, slots=True)
class ScheduleYear:
    """What a calendar year's payments were made of; `interest_accrued` allots each period's interest by days."""

    year: int
    interest_paid: int
    interest_accrued: int
    principal: int
    extra: int
    escrow: int


def by_year(schedule: Schedule) -> list[ScheduleYear]:
    """A schedule by calendar year."""
    sums: dict[int, list[int]] = {}
    for row in schedule.rows:
        year = sums.setdefault(date.fromordinal(row.due).year, [0] * 5)
        for column, amount in ((0, row.interest), (2, row.principal), (3, row.extra), (4, row.escrow)):
            year[column] += amount
        for accrued_in, part in accrued_by_year(row.begins, row.due, row.interest):
            sums.setdefault(accrued_in, [0] * 5)[1] += part
    return [ScheduleYear(year, *columns) for year, columns in sorted(sums.items())]


class InAll(NamedTuple):
    """What leaves with each payment, escrow and insurance included, and the same by calendar year."""

    rows: list[int]
    years: dict[int, int]
    insurance: dict[int, int]


def in_all(schedule: Schedule) -> InAll:
    """The whole sums of a schedule's payments; years as `by_year` has them."""
    whole = InAll([], {}, {})
    for row in schedule.rows:
        paid, year = row.payment + row.extra + row.escrow + row.insurance, date.fromordinal(row.due).year
        whole.rows.append(paid)
        whole.years[year] = whole.years.get(year, 0) + paid
        whole.insurance[year] = whole.insurance.get(year, 0) + row.insurance
    return whole


def accrued_by_year(begin: int, due: int, interest: int) -> list[tuple[int, int]]:
    """A period's interest allotted to calendar years by days, rounded as it accumulates so that the parts sum to it."""
    total, passed, given, parts = due - begin, 0, 0, []
    for year, days in days_by_year(begin, due):
        passed += days
        upto = rounded_quotient(interest * passed, total)
        parts.append((year, upto - given))
        given = upto
    return parts or [(date.fromordinal(due).year, interest)]
