"""Interest and property tax of a calendar year, loan by loan and property by property, with what is behind each sum.

Everything is as recorded, on the day it was paid: that is what a tax return asks for. Of the running and coming years
the interest that is expected is told beside it.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal, NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.flows.summary import summarize
from next_penny.core.forecast.projection import in_a_year
from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.loans.years import by_year
from next_penny.core.mortgage.loan_books import LoanBooks, books_by_loan, loan_books
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry, first_account
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import YearBefore
from next_penny.core.plan.terms.part import ids

# What a property's money was for; `interest` is that of the loans on it, `other` what nothing was said of.
PropertyItem = Literal["rent", "interest", "tax", "insurance", "upkeep", "other"]
_NO_PARTS = Parts(0, 0, 0, 0)


class PaidLine(NamedTuple):
    """One payment of a loan, and the lender that it went to."""

    entry: Entry
    lender: str
    parts: Parts


@dataclass(frozen=True, slots=True)
class ExpectedInterest:
    """Interest of a year that has not ended, in minor units.

    to_come: of the payments of the year that are still to be made. run_up: what runs up in the year by days, whenever
    it is paid.
    """

    to_come: int
    run_up: int


@dataclass(frozen=True)
class LoanYear:
    """What a loan cost in a year; `began` and `ended` are given where they fall in it.

    before: what was paid in it before the household began here, of which no payments are recorded. expected: None for
    a year that has ended.
    """

    account: Account
    lines: tuple[PaidLine, ...]
    began: date | None
    ended: date | None
    before: YearBefore | None = None
    expected: ExpectedInterest | None = None

    @property
    def parts(self) -> Parts:
        """The year's sums."""
        recorded = sum_of(line.parts for line in self.lines)
        return recorded if self.before is None else recorded._replace(interest=recorded.interest + self.before.interest)

    @property
    def by_lender(self) -> list[tuple[str, Parts]]:
        """The same by lender, in order of time."""
        names = dict.fromkeys(line.lender for line in self.lines)
        return [(name, sum_of(line.parts for line in self.lines if line.lender == name)) for name in names]


class PropertyLine(NamedTuple):
    """Money of a property: an amount of cost, or of income for rent, in the property's currency."""

    entry: Entry
    item: PropertyItem
    amount: int


@dataclass(frozen=True)
class Property:
    """What is owned, with the loans on it, or, where no account stands for it, such a loan."""

    account: Account
    loans: tuple[Account, ...]

    @property
    def escrows(self) -> frozenset[str]:
        """The escrow accounts that its taxes and insurance are paid from."""
        return frozenset(id for loan in self.loans for id in ids(loan.escrow_account))


def sum_of(parts: Iterable[Parts]) -> Parts:
    """Several payments' parts together."""
    columns = list(zip(*parts, strict=True))
    return Parts(*(sum(column) for column in columns)) if columns else _NO_PARTS


def properties(plan: Plan) -> list[Property]:
    """Every property: accounts that loans or flows name as one, and loans with escrow that name none."""
    named = {terms.property for _, terms in plan.loans} | {flow.property for flow in plan.flows}
    properties = [
        Property(account, tuple(loan for loan, terms in plan.loans if terms.property == account.id))
        for account in plan.accounts if account.id in named
    ]  # fmt: skip
    alone = [loan for loan, terms in plan.loans if terms.property is None and terms.escrow_account]
    return [*properties, *(Property(loan, (loan,)) for loan in alone)]


def loan_year(books: LoanBooks, stands_ended: date | None, year: int) -> LoanYear:
    """A loan's payments of a calendar year."""
    terms, flow = books.account.loan_terms, books.flow
    lines = []
    for entry in books.payments:
        if entry.date.year == year:
            lender = terms.lender_on((entry.nominal or entry.date).toordinal())
            first = (flow.payee if flow is not None else "") or entry.payee
            lines.append(PaidLine(entry, lender.name if lender is not None else first, books.parts(entry)))
    began = terms.disbursed if terms.disbursed.year == year else None
    before = next((year_before for year_before in terms.years_before if year_before.year == year), None)
    ended = stands_ended if _is_in(stands_ended, year) else None
    return LoanYear(books.account, tuple(lines), began, ended, before)


def years_before(plan: Plan) -> set[int]:
    """The years of which something was given that was paid before the household began here."""
    return {before.year for _, terms in plan.loans for before in terms.years_before}


def _is_in(day: date | None, year: int) -> bool:
    return day is not None and day.year == year


def expected_interest(standing: Standing, year: int) -> ExpectedInterest:
    """A loan's interest of a calendar year, as its schedule has it from where it stands."""
    rows = standing.rest.rows if standing.rest is not None else ()
    to_come = sum(row.interest for row in rows if date.fromordinal(row.due).year == year)
    return ExpectedInterest(
        to_come, sum(one_year.interest_accrued for one_year in by_year(standing.shown) if one_year.year == year)
    )


def years_ahead(moment: Moment) -> range:
    """The running year and all in which a loan is still to be paid; of one that never ends, none beyond these."""
    ends = (standing(moment, account).ends for account, _ in moment.plan.loans)
    last = max((day.year for day in ends if day is not None), default=moment.today.year)
    return range(moment.today.year, max(moment.today.year, last) + 1)


def loan_years(moment: Moment, recorded: Sequence[Entry], year: int) -> list[LoanYear]:
    """Every loan in which something was paid in a year, or is to be."""
    years = []
    for books in books_by_loan(moment.plan, recorded).values():
        current_standing = standing(moment, books.account)
        last = max((entry.date for entry in books.payments), default=None)
        one_year = loan_year(books, last if current_standing.rest is None else None, year)
        if year >= moment.today.year:
            one_year = replace(one_year, expected=expected_interest(current_standing, year))
        ahead = one_year.expected
        if one_year.lines or one_year.before is not None or (ahead is not None and (ahead.to_come or ahead.run_up)):
            years.append(one_year)
    return years


def property_lines(plan: Plan, owned: Property, recorded: Iterable[Entry]) -> Iterator[PropertyLine]:
    """Everything recorded of a property: its flows, what its escrow paid, its loans' interest, and what is tagged.

    Other currencies at the rate of the day, each leg rounded once. Raises NoRate where there is none.
    """
    recorded, own = tuple(recorded), owned.account.id
    books = [loan_books(plan, loan, recorded) for loan in owned.loans]
    interest = {
        entry.id: plan.between(book.account.id, own, book.parts(entry).interest, entry.date)
        for book in books for entry in book.payments
    }  # fmt: skip
    for entry in sorted(recorded, key=lambda one_entry: one_entry.date):
        paid_on = first_account(entry.legs)
        categories = [leg.amount for leg in entry.legs if leg.category is not None]
        spent = sum(plan.between(paid_on, own, amount, entry.date) for amount in categories)
        if entry.id in interest:
            if interest[entry.id]:
                yield PropertyLine(entry, "interest", interest[entry.id])
        elif spent and (item := _item(plan, owned, entry)) is not None:
            yield PropertyLine(entry, item, -spent if item == "rent" else spent)


def sums_of(lines: Iterable[PropertyLine]) -> dict[PropertyItem, int]:
    """Lines added up by what they were for."""
    sums: dict[PropertyItem, int] = {}
    for line in lines:
        sums[line.item] = sums.get(line.item, 0) + line.amount
    return sums


def net_of(sums: Mapping[PropertyItem, int]) -> int:
    """What a property brings less what it costs."""
    return 2 * sums.get("rent", 0) - sum(sums.values())


def sums_by_year(lines: Iterable[PropertyLine]) -> dict[int, dict[PropertyItem, int]]:
    """The same for every calendar year, the newest first."""
    years: dict[int, list[PropertyLine]] = {}
    for line in lines:
        years.setdefault(line.entry.date.year, []).append(line)
    return {year: sums_of(property_lines) for year, property_lines in sorted(years.items(), reverse=True)}


def _item(plan: Plan, owned: Property, entry: Entry) -> PropertyItem | None:
    """What an entry was for, if it is of the property."""
    flow = plan.flow_by_id.get(entry.flow or "")
    from_escrow = any(leg.account in owned.escrows and leg.amount < 0 for leg in entry.legs)
    is_tagged = _plain(owned.account.name) in [_plain(tag) for tag in entry.tags]
    if flow is not None and (flow.property == owned.account.id or (from_escrow and flow.property is None)):
        return _of_flow(flow)
    if from_escrow or is_tagged:
        return "rent" if sum(leg.amount for leg in entry.legs if leg.category is not None) < 0 else "other"
    return None


def _of_flow(flow: Flow) -> PropertyItem:
    return flow.purpose or ("rent" if flow.kind == "income" else "other")


def _plain(text: str) -> str:
    return " ".join(text.lower().split())


def coming_year(moment: Moment, owned: Property) -> dict[PropertyItem, int]:
    """What the coming twelve months are expected to bring and cost, at today's rates. Raises NoRate."""
    sums: dict[PropertyItem, int] = {}
    plan, own = moment.plan, owned.account.id
    for flow in moment.plan.flows:
        of_escrow = flow.property is None and flow.kind == "bill" and flow.from_account in owned.escrows
        if flow.property == owned.account.id or of_escrow:
            item = _of_flow(flow)
            yearly = plan.between(flow.main_account or "", own, summarize(moment, flow).yearly, moment.today)
            sums[item] = sums.get(item, 0) + yearly
    end = in_a_year(moment).toordinal()
    for loan in owned.loans:
        rest = standing(moment, loan).rest
        interest = sum(row.interest for row in rest.rows if moment.now <= row.due < end) if rest is not None else 0
        sums["interest"] = sums.get("interest", 0) + plan.between(loan.id, own, interest, moment.today)
    return sums
