"""A look as it is answered: each line with what it was found to be, in words that a person knows."""

from collections.abc import Mapping

from next_penny.api.accounts.bank_files.looking import Look, bank_account, key_of, places
from next_penny.api.accounts.bank_files.models import (
    BankLineModel,
    BankLookAnswer,
    BankStatementModel,
    ClosingModel,
    LeftOutLine,
    MatchedModel,
    TableModel,
)
from next_penny.core.bank_lines.found import Is, Place
from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.flows.makers import occurrence
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.formats.bank_files.csv_tables import columns_said
from next_penny.store.moments import Reading


def look_answer(reading: Reading, look: Look) -> BankLookAnswer:
    """All of a look."""
    statements = []
    for number, statement in enumerate(look.file.statements):
        closing = statement.closing
        statements.append(
            BankStatementModel(
                bank_account=bank_account(statement.number, "").last_four if statement.number else None,
                name=statement.name,
                account=look.accounts[number],
                currency=_currency(reading.moment.plan, look, number),
                first=statement.first,
                last=statement.last,
                closing=ClosingModel(date=closing.date, balance=closing.balance) if closing is not None else None,
                lines=[
                    line_answer(reading, key_of(place), line, identified, look.entries)
                    for place, line, identified in places(look, number)
                ],
            )
        )
    return BankLookAnswer(
        look=look.id,
        format=look.file.format,
        statements=statements,
        columns=columns_said(look.table) if look.table is not None else None,
        table=_table(look),
        left_out=[LeftOutLine(where=omission.where, why=omission.why) for omission in look.file.left_out],
    )


def _currency(plan: Plan, look: Look, number: int) -> str | None:
    account = plan.account_by_id.get(look.accounts[number] or "")
    return look.file.statements[number].currency or (account.currency if account is not None else None)


def _table(look: Look) -> TableModel | None:
    if look.table is None:
        return None
    header = look.table.header
    return TableModel(header=list(header) if header is not None else None, rows=look.table.sample)


def line_answer(
    reading: Reading, key: str, line: FileLine, identified: Is, entries: Mapping[str, Entry]
) -> BankLineModel:  # fmt: skip
    """One line, and what it is taken for."""
    return BankLineModel(
        key=key,
        date=line.date,
        amount=line.amount,
        payee=line.payee,
        memo=line.memo,
        number=line.number,
        bank_id=line.bank_id,
        kind=identified.kind,
        offered=identified.offered,
        entry=identified.entry,
        flow=identified.flow,
        nominal=identified.nominal,
        account=identified.account,
        category=identified.category,
        partner=_partner(identified.partner),
        shown=_shown(reading, identified, line.amount, entries),
    )


def _partner(place: Place | None) -> str | None:
    return key_of(place) if place is not None else None


def _shown(reading: Reading, identified: Is, amount: int, entries: Mapping[str, Entry]) -> MatchedModel | None:
    """What a line was found to be: an entry, what was expected, or an account."""
    plan = reading.moment.plan
    if identified.kind == "occurrence":
        flow = plan.flow_by_id.get(identified.flow or "")
        due = (
            occurrence(reading.moment.as_recorded, flow, identified.nominal)
            if flow is not None and identified.nominal
            else None
        )
        if flow is None or due is None:
            return None
        return MatchedModel(name=flow.name, date=due.lands, amount=due.amount if amount > 0 else -due.amount)
    if identified.kind == "transfer":
        other = plan.account_by_id.get(identified.account or "")
        return MatchedModel(name=other.name, date=None, amount=None) if other is not None else None
    entry = entries.get(identified.entry or "") or (
        reading.entry(identified.entry) if identified.entry is not None else None
    )
    if entry is None:
        return None
    moved = next((leg.amount for leg in entry.legs if leg.account is not None), None)
    return MatchedModel(name=plan.name_of(entry), date=entry.date, amount=moved)
