"""Which column of a table is what: guessed from its header and from all that stands in it, or as a person says."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from next_penny.core.money import DECIMALS
from next_penny.formats.bank_files.texts import possible_days, signed_amount

DateOrder = Literal["day_first", "month_first", "year_first"]
Row = Sequence[str]


@dataclass(frozen=True, slots=True)
class Columns:
    """The columns of a table by number from 0; amounts stand in one, or in two: what came in and what went out.

    side: where a mark of debit or credit stands. decimal: the mark before the fraction; None where there is none.
    """

    date: int
    amount: int | None = None
    money_in: int | None = None
    money_out: int | None = None
    side: int | None = None
    payee: int | None = None
    memo: int | None = None
    date_order: DateOrder = "year_first"
    decimal: str | None = None


_WORDS: dict[str, tuple[str, ...]] = {
    "date": (
        "booking date",
        "date posted",
        "posted",
        "posting",
        "transaction date",
        "booked",
        "date",
        "day",
        "datum",
        "buchungstag",
        "fecha",
        "data",
    ),
    "amount": ("amount", "sum", "value", "total", "betrag", "umsatz", "montant", "importe", "importo", "bedrag"),
    "money_in": (
        "money in",
        "paid in",
        "credit amount",
        "credit",
        "deposit",
        "received",
        "in",
        "haben",
        "haber",
        "gutschrift",
        "crédit",
    ),
    "money_out": (
        "money out",
        "paid out",
        "debit amount",
        "debit",
        "withdrawal",
        "spent",
        "out",
        "soll",
        "debe",
        "belastung",
        "débit",
    ),
    "side": ("debit/credit", "dr/cr", "cr/dr", "d/c", "direction", "sign", "in/out", "side", "type"),
    "payee": (
        "payee",
        "counterparty",
        "name",
        "merchant",
        "description",
        "details",
        "narrative",
        "beneficiary",
        "text",
    ),
    "memo": ("memo", "reference", "notes", "note", "message", "purpose", "particulars", "remittance", "information"),
}
_NOT_AMOUNTS = re.compile(r"balance|saldo|running|rate|number|no\.?$|id$|code", re.IGNORECASE)
_CREDIT = {"c", "cr", "credit", "crdt", "in", "+", "received", "deposit", "h"}
_DEBIT = {"d", "dr", "debit", "dbit", "out", "-", "−", "spent", "withdrawal", "s"}


def side_sign(mark: str) -> int | None:
    """1 for a mark of credit, -1 for one of debit; None for another."""
    word = mark.strip().casefold().rstrip(".")
    return 1 if word in _CREDIT else -1 if word in _DEBIT else None


def guess(header: Row | None, rows: Sequence[Row], currency: str) -> Columns | None:
    """Which column is what, by header and content; None where no day or no amount is found."""
    width = max(map(len, rows), default=0)
    columns = [[row[at].strip() if at < len(row) else "" for row in rows] for at in range(width)]
    names = [header[at].strip().casefold() if header is not None and at < len(header) else "" for at in range(width)]
    dates = [at for at in range(width) if _most(columns[at], lambda text: any(possible_days(text)))]
    if not dates:
        return None
    day = _best(names, dates, "date") if header is not None else dates[0]
    day = dates[0] if day is None else day
    numbers = [at for at in range(width) if at not in dates and _are_amounts(columns[at], currency)
               and not _NOT_AMOUNTS.search(names[at])]  # fmt: skip
    columns_found = _amounts(names, columns, numbers, currency)
    if columns_found is None:
        return None
    taken = {day, *dates, *numbers}
    side = next((at for at in range(width) if at not in taken and columns[at]
                 and _most(columns[at], lambda text: side_sign(text) is not None)), None)  # fmt: skip
    texts = [at for at in range(width) if at not in taken and at != side and any(columns[at])]
    payee = _best(names, texts, "payee")
    if payee is None and texts:
        payee = max(texts, key=lambda at: len(set(columns[at])))
    memo = _best(names, [at for at in texts if at != payee], "memo")
    made = Columns(day, *columns_found, side=side if columns_found[0] is not None else None, payee=payee, memo=memo)
    return with_marks(made, rows, currency)


def with_marks(columns: Columns, rows: Sequence[Row], currency: str, household_order: str = "month_first") -> Columns:
    """The columns with the decimal mark and the order of day and month that all of their rows allow."""
    days = [row[columns.date] for row in rows if columns.date < len(row)]
    return replace(
        columns, date_order=order_of(days, household_order), decimal=decimal_of(_money(columns, rows), currency)
    )


def _money(columns: Columns, rows: Sequence[Row]) -> list[str]:
    places = [at for at in (columns.amount, columns.money_in, columns.money_out) if at is not None]
    return [row[at] for row in rows for at in places if at < len(row) and row[at].strip()]


def order_of(days: Sequence[str], household_order: str) -> DateOrder:
    """In which order all of some days can be read; where both orders can, the household's."""
    votes = {"day_first": 0, "month_first": 0}
    plain = 0
    for text in days:
        readings = [order for order, _ in possible_days(text)]
        if readings == [None]:
            plain += 1
        elif len(readings) == 1:
            votes[str(readings[0])] += 1
    if votes["day_first"] != votes["month_first"]:
        return "day_first" if votes["day_first"] > votes["month_first"] else "month_first"
    if plain:
        return "year_first"
    return "day_first" if household_order == "day_first" else "month_first"


def decimal_of(amounts: Sequence[str], currency: str) -> str | None:
    """The mark before the fraction that all amounts of a table allow; a single mark before three digits groups."""
    decimals = DECIMALS[currency]
    fits = {mark: sum(signed_amount(text, currency, mark) is not None for text in amounts) for mark in (".", ",")}
    if fits["."] != fits[","]:
        return "." if fits["."] > fits[","] else ","
    ends = {mark: sum(re.search(rf"\{mark}\d{{1,{max(1, decimals)}}}\D*$", text) is not None for text in amounts)
            for mark in (".", ",")}  # fmt: skip
    return "," if ends[","] > ends["."] else "."


def _most(texts: Sequence[str], fits: Callable[[str], bool]) -> bool:
    """Whether at least four fifths of what is written fit, and as many rows have something written."""
    written = [text for text in texts if text]
    return bool(written) and 5 * len(written) >= 4 * len(texts) and 5 * sum(map(fits, written)) >= 4 * len(written)


def _are_amounts(texts: Sequence[str], currency: str) -> bool:
    written = [text for text in texts if text]
    fits = sum(signed_amount(text, currency) is not None for text in written)
    return bool(written) and 5 * fits >= 4 * len(written)


def _best(names: Sequence[str], places: Sequence[int], wanted: str) -> int | None:
    """The place whose name is the likeliest for what is wanted: by the order of words, whole names first."""
    for word in _WORDS[wanted]:
        for fits in (lambda name, word=word: name == word, lambda name, word=word: has_word(name, word)):
            columns_found = next((at for at in places if fits(names[at])), None)
            if columns_found is not None:
                return columns_found
    return None


def has_word(name: str, word: str) -> bool:
    """Whether a name has a word, or several in a row, as words of their own."""
    return re.search(rf"(?<![a-z]){re.escape(word)}(?![a-z])", name) is not None


def _amounts(
    names: Sequence[str], columns: Sequence[Sequence[str]], numbers: Sequence[int], currency: str
) -> tuple[int | None, int | None, int | None] | None:
    """Where amounts are: in one column, or in and out apart."""
    apart = [(one, other) for one in numbers for other in numbers if one != other
             and _best(names, [one], "money_in") == one and _best(names, [other], "money_out") == other
             and _never_both(columns[one], columns[other], currency)]  # fmt: skip
    if apart:
        return None, *apart[0]
    if len(numbers) == 2 and _one_each(columns[numbers[0]], columns[numbers[1]]):
        return None, numbers[1], numbers[0]  # debit stands before credit, where no name says otherwise
    single = _best(names, numbers, "amount")
    if single is None:
        # What accumulates is a balance; of what is left the first.
        single = next((at for at in numbers if not _accumulates(columns, at, numbers, currency)), None)
    return (single, None, None) if single is not None else None


def _never_both(money_in: Sequence[str], money_out: Sequence[str], currency: str) -> bool:
    return not any(signed_amount(one, currency) and signed_amount(other, currency)
                   for one, other in zip(money_in, money_out, strict=True))  # fmt: skip


def _one_each(one: Sequence[str], other: Sequence[str]) -> bool:
    """Whether each row has something in exactly one of two columns, and both are used."""
    return any(one) and any(other) and all(bool(a) != bool(b) for a, b in zip(one, other, strict=True))


def _accumulates(columns: Sequence[Sequence[str]], at: int, numbers: Sequence[int], currency: str) -> bool:
    """Whether a column is the balance after each amount of another, upwards or downwards."""
    balances = [signed_amount(text, currency) for text in columns[at]]
    for other in numbers:
        if other == at or len(balances) < 3:
            continue
        amounts = [signed_amount(text, currency) for text in columns[other]]
        for later, step in ((1, 1), (0, -1)):
            pairs = [(balances[row], balances[row + 1], amounts[row + later]) for row in range(len(balances) - 1)]
            if all(one is not None and two is not None and amount is not None and step * (two - one) == amount
                   for one, two, amount in pairs):  # fmt: skip
                return True
    return False
