"""Everything out: all entries as CSV, the household as a workbook, receipts as a zip with their list."""

import csv
import io
import re
import zipfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from datetime import date
from typing import Any

from openpyxl import Workbook

from next_penny.core.ahead.months import Grid
from next_penny.core.books.moment import Moment
from next_penny.core.books.registers import AccountLine, line_name
from next_penny.core.flows.summary import summarize
from next_penny.core.loans.standing import standings
from next_penny.core.plan.entries import Entry, Leg, first_account
from next_penny.core.plan.memory import Expected
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import while_waited_for
from next_penny.formats.documents.parts import month_text
from next_penny.formats.workbooks.loans import major_text
from next_penny.formats.workbooks.sheets import csv_text, major, plain_text, write_rows

_ENTRY_COLUMNS = ("entry", "date", "payee", "account", "category", "amount", "currency", "flow", "nominal", "notes",
                  "tags", "receipt", "number")  # fmt: skip


def entries_csv(plan: Plan, entries: Iterable[Entry]) -> str:
    """A line for each leg (RFC 4180): an entry's lines have its id and sum to zero in each currency.

    Amounts are in major units with a point; on a category positive for expense. A category has the currency of the
    account beside it.
    """
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(_ENTRY_COLUMNS)
    for entry in while_waited_for(entries):
        for account, category, amount, currency in _legs(plan, entry):
            row = (csv_text(entry.id), entry.date.isoformat(), csv_text(entry.payee), csv_text(account),
                   csv_text(category), major_text(amount, currency), currency, csv_text(entry.flow or ""),
                   entry.nominal.isoformat() if entry.nominal else "", csv_text(entry.notes),
                   csv_text(" ".join(entry.tags)), entry.receipt.file if entry.receipt else "",
                   csv_text(entry.number))  # fmt: skip
            writer.writerow(row)
    return out.getvalue()


_REGISTER_COLUMNS = ("date", "account", "number", "payee", "other", "amount", "balance", "currency", "tags", "notes")


def register_csv(plan: Plan, lines: Iterable[AccountLine]) -> str:
    """A register as it stands on the screen (RFC 4180), amounts and balances in major units with a point."""
    names = {account.id: account.name for account in plan.accounts}
    names |= {category.id: category.name for category in plan.categories}
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(_REGISTER_COLUMNS)
    for account, line in while_waited_for(lines):
        others = ", ".join(names.get(id, id) for id in line.others)
        words = (account.name, line.number, line_name(plan, account, line), others)
        sums = (major_text(line.amount, account.currency), major_text(line.balance, account.currency))
        day = date.fromordinal(line.day).isoformat()
        writer.writerow((day, *map(csv_text, words), *sums, account.currency, csv_text(" ".join(line.tags)),
                         csv_text(line.notes)))  # fmt: skip
    return out.getvalue()


def _legs(plan: Plan, entry: Entry) -> Iterator[tuple[str, str, int, str]]:
    """Of each leg: account, category, amount and currency, all by name."""
    currencies = [plan.account_by_id[leg.account].currency for leg in entry.legs if leg.account in plan.account_by_id]
    beside = currencies[0] if currencies else plan.household.currency
    for leg in entry.legs:
        account = plan.account_by_id.get(leg.account or "")
        category = plan.category_by_id.get(leg.category or "")
        currency = account.currency if account is not None else beside
        yield (
            account.name if account is not None else "",
            category.name if category is not None else "",
            leg.amount,
            currency,
        )


def household_workbook(
    moment: Moment, entries: Sequence[Entry], grid: Grid | None, remembered: Sequence[Expected] = ()
) -> bytes:
    """Accounts, entries, flows, loans, months and what was expected, a sheet each; major units (Office Open XML).

    `grid`: the months of the accounts that can be spent from, in the household's currency.
    """
    workbook = Workbook(write_only=True)
    entry_headings = tuple(name.capitalize() for name in _ENTRY_COLUMNS)
    write_rows(workbook.create_sheet("Accounts"), _ACCOUNT_HEADINGS, _accounts(moment))
    write_rows(workbook.create_sheet("Entries"), entry_headings, _entry_rows(moment.plan, entries))
    write_rows(workbook.create_sheet("Flows"), _FLOW_HEADINGS, _flows(moment))
    write_rows(workbook.create_sheet("Loans"), _LOAN_HEADINGS, _loans(moment))
    if grid is not None:
        headings = ("", *(month_text(month.month) for month in grid.months))
        write_rows(workbook.create_sheet("Months"), headings, _months(grid, moment.plan.household.currency))
    if remembered:
        write_rows(workbook.create_sheet("Expected"), _EXPECTED_HEADINGS, _expected(moment.plan, remembered))
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


_EXPECTED_HEADINGS = ("Day", "Name", "Kind", "Of", "Account", "Category", "Amount", "Currency")
_ACCOUNT_HEADINGS = ("Account", "Kind", "Currency", "Opened", "Opening balance", "Floor", "Cushion")
_FLOW_HEADINGS = ("Flow", "Kind", "Amount", "Currency", "When", "From", "To", "Category", "Payee")
_LOAN_HEADINGS = ("Loan", "Currency", "Borrowed", "Rate, %", "First payment", "Owed today")


def _accounts(moment: Moment) -> Iterator[Sequence[Any]]:
    for account in moment.plan.accounts:
        amounts = [
            major(amount, account.currency) for amount in (account.opening.balance, account.floor, account.cushion)
        ]
        yield (account.name, account.kind.replace("_", " "), account.currency, account.opening.date, *amounts)


def _entry_rows(plan: Plan, entries: Sequence[Entry]) -> Iterator[Sequence[Any]]:
    for entry in entries:
        for account, category, amount, currency in _legs(plan, entry):
            yield (entry.id, entry.date, entry.payee, account, category, major(amount, currency), currency,
                   entry.flow or "", entry.nominal, entry.notes, " ".join(entry.tags),
                   entry.receipt.name if entry.receipt else "", entry.number)  # fmt: skip


def _expected(plan: Plan, remembered: Sequence[Expected]) -> Iterator[Sequence[Any]]:
    """A line for each leg of what was expected, and one for an allowance's limit."""
    for row in while_waited_for(remembered):
        legs = row.legs if not row.is_allowance else (Leg(row.limit or 0, account=row.account),)
        beside = plan.account_by_id.get(first_account(legs))
        for leg in legs:
            account = plan.account_by_id.get(leg.account or "")
            category = plan.category_by_id.get(leg.category or "")
            existing = account or beside
            currency = existing.currency if existing is not None else plan.household.currency
            yield (row.lands, row.name, row.kind.replace("_", " "), row.nominal, account.name if account else "",
                   category.name if category else "", major(leg.amount, currency), currency)  # fmt: skip


def _flows(moment: Moment) -> Iterator[Sequence[Any]]:
    plan = moment.plan
    for flow in plan.all_flows:
        summary = summarize(moment, flow)
        now = summary.flow_now
        sides = [plan.account_by_id[id].name if id else "" for id in (now.from_account, now.to_account)]
        category = plan.category_by_id.get(now.category or "")
        yield (flow.name, flow.kind.replace("_", " "), major(summary.amount_now, summary.currency), summary.currency,
               summary.sentence, *sides, category.name if category else "", flow.payee)  # fmt: skip


def _loans(moment: Moment) -> Iterator[Sequence[Any]]:
    for standing in standings(moment):
        account, terms = standing.account, standing.terms
        amounts = [major(amount, account.currency) for amount in (terms.principal, standing.owed)]
        yield account.name, account.currency, amounts[0], terms.annual_rate, terms.first_payment, amounts[1]


def _months(grid: Grid, currency: str) -> Iterator[Sequence[Any]]:
    def row(name: str, amounts: Iterable[int]) -> Sequence[Any]:
        return (name, *(major(amount, currency) for amount in amounts))

    yield row("Opening", (month.opening for month in grid.months))
    for one_row in grid.rows:
        yield row(one_row.key.name, (cell.amount for cell in one_row.cells))
    yield row("Closing", (month.closing for month in grid.months))
    yield row("Lowest", (month.lowest for month in grid.months))


def receipts_zip(entries: Iterable[Entry], read: Callable[[str], tuple[str, bytes] | None]) -> bytes:
    """Every receipt that an entry refers to, named by its day and payee, and `receipts.csv`, which lists them."""
    out, listed = io.BytesIO(), io.StringIO()
    writer = csv.writer(listed)
    writer.writerow(("file", "date", "payee", "name", "entry", "sha256"))
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        written: set[str] = set()
        for entry in entries:
            kept_file = read(entry.receipt.file) if entry.receipt is not None else None
            if entry.receipt is None or kept_file is None:
                continue
            media_type, content = kept_file
            name = _file_name(entry, media_type)
            if name not in written:
                packed.writestr(name, content)
                written.add(name)
            row = (name, entry.date.isoformat(), entry.payee, entry.receipt.name, entry.id, entry.receipt.file)
            writer.writerow([plain_text(cell) for cell in row])
        packed.writestr("receipts.csv", listed.getvalue())
    return out.getvalue()


def _file_name(entry: Entry, media_type: str) -> str:
    """A name that every system takes: day, payee in plain letters, and the beginning of the content's hash."""
    assert entry.receipt is not None
    payee = re.sub(r"[^\w-]+", "-", entry.payee, flags=re.ASCII).strip("-")[:40] or "receipt"
    ending = {"application/pdf": "pdf", "image/png": "png", "image/jpeg": "jpg"}.get(media_type, "bin")
    return f"{entry.date.isoformat()}-{payee}-{entry.receipt.file[:8]}.{ending}"
