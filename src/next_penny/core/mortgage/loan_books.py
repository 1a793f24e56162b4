"""What the books say of one loan at the end of a day: its balances, its year, and how its last payment was split.

docs/rules.md, Escrow: to date means in that calendar year, and what is owed is positive.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal, NamedTuple

from propcache.api import cached_property

from next_penny.core.books.recorded import with_changed
from next_penny.core.loans.standing import Parts
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import LastSplit, Statement
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import ESCROW_PAID, LENDER_FEES, LOAN_INSURANCE, LOAN_INTEREST

Item = Literal[
    "principal_balance", "escrow_balance", "interest_to_date", "escrow_to_date",
    "last_principal", "last_interest", "last_escrow",
]  # fmt: skip
# Categories of a payment that are not interest.
_BESIDE_INTEREST = {ESCROW_PAID.id: "escrow", LOAN_INSURANCE.id: "insurance", LENDER_FEES.id: "fee"}


class Compared(NamedTuple):
    """One figure of a statement beside the books' own; `difference` is the statement's less theirs."""

    item: Item
    statement: int
    books: int

    @property
    def difference(self) -> int:
        return self.statement - self.books


@dataclass(frozen=True)
class LoanBooks:
    """A loan, and every entry that concerns it or its escrow account, in order of date.

    entries: those that move money on one of the two accounts or name the loan's flow.
    """

    plan: Plan
    account: Account
    entries: tuple[Entry, ...]

    @cached_property
    def flow(self) -> Flow | None:
        """What pays the loan."""
        return self.plan.loan_flow(self.account.id)

    @cached_property
    def escrow(self) -> Account | None:
        """The account of the household that its escrow parts go to."""
        return self.plan.account_by_id.get(self.account.escrow_account or "")

    @cached_property
    def interest_categories(self) -> frozenset[str]:
        """Where its interest is spent."""
        named = self.flow.category_ids if self.flow is not None else ()
        return frozenset((LOAN_INTEREST.id, *named))

    @cached_property
    def payments(self) -> tuple[Entry, ...]:
        """The entries that pay it: they name its flow, or lower what is owed and cost interest."""
        return tuple(entry for entry in self.entries if self._pays(entry))

    def _pays(self, entry: Entry) -> bool:
        if self.flow is not None and entry.flow == self.flow.id:
            return True
        lowers = any(leg.account == self.account.id and leg.amount > 0 for leg in entry.legs)
        return lowers and any(leg.category is not None and leg.amount > 0 for leg in entry.legs)

    def parts(self, entry: Entry) -> Parts:
        """How a payment was split, as recorded."""
        on_loan = [leg.amount for leg in entry.legs if leg.account == self.account.id]
        beside = dict.fromkeys(("escrow", "insurance", "fee"), 0)
        beside["escrow"] += sum(self.into_escrow(entry))
        spent: dict[str, int] = {}
        for leg in entry.legs:
            if leg.category in _BESIDE_INTEREST:
                beside[_BESIDE_INTEREST[leg.category]] += leg.amount
            elif leg.category is not None:
                spent[leg.category] = spent.get(leg.category, 0) + leg.amount
        own = {category: amount for category, amount in spent.items() if category in self.interest_categories}
        # Of a payment that lowers what is owed, what else is spent is its interest.
        interest = sum((own or (spent if on_loan else {})).values())
        return Parts(interest, sum(on_loan), **beside)

    def paid(self, entry: Entry) -> int:
        """What left the accounts that paid it."""
        return -sum(leg.amount for leg in paying_legs(self, entry))

    def into_escrow(self, entry: Entry) -> Iterable[int]:
        """What an entry moves on the escrow account."""
        escrow = self.escrow
        return [leg.amount for leg in entry.legs if escrow is not None and leg.account == escrow.id]

    def balance(self, account: Account | None, day: date) -> int:
        """What an account of the two holds at the end of a day; nothing before it is open."""
        if account is None or account.opening.date > day:
            return 0
        legs = (leg for entry in self.entries if entry.date <= day for leg in entry.legs)
        return account.opening.balance + sum(leg.amount for leg in legs if leg.account == account.id)

    def figures(self, day: date) -> Mapping[Item, int]:
        """What the books say at the end of a day."""
        year = [entry for entry in self.entries if entry.date <= day and entry.date.year == day.year]
        paid = [self.parts(entry) for entry in self.payments if entry.date <= day]
        last = paid[-1] if paid else Parts(0, 0, 0, 0)
        return {
            "principal_balance": -self.balance(self.account, day),
            "escrow_balance": self.balance(self.escrow, day),
            "interest_to_date": sum(self.parts(entry).interest for entry in year if self._pays(entry)),
            "escrow_to_date": sum(self.paid_into_escrow(entry) for entry in year),
            "last_principal": last.principal,
            "last_interest": last.interest,
            "last_escrow": last.escrow,
        }

    def paid_into_escrow(self, entry: Entry) -> int:
        """What the household paid into escrow with an entry: a payment's part, or money moved there by itself."""
        moved = sum(self.into_escrow(entry))
        if self._pays(entry):
            return self.parts(entry).escrow
        comes_from_accounts = all(leg.category is None for leg in entry.legs)
        return moved if moved > 0 and comes_from_accounts else 0

    def compare(self, statement: Statement) -> list[Compared]:
        """Each figure that the statement gives beside the books'."""
        books = self.figures(statement.date)
        split = statement.last_split or LastSplit()
        given: dict[Item, int | None] = {
            "principal_balance": statement.principal_balance,
            "escrow_balance": statement.escrow_balance,
            "interest_to_date": statement.interest_to_date,
            "escrow_to_date": statement.escrow_to_date,
            "last_principal": split.principal,
            "last_interest": split.interest,
            "last_escrow": split.escrow,
        }
        return [Compared(item, amount, books[item]) for item, amount in given.items() if amount is not None]

    def with_entries(self, changed: Mapping[str, Entry | None]) -> "LoanBooks":
        """The books with some entries put in, in the place of those with their ids, or taken out."""
        return replace(self, entries=with_changed(self.entries, changed))


def loan_books(plan: Plan, account: Account, recorded: Iterable[Entry]) -> LoanBooks:
    """The books of a loan, out of any entries."""
    books = LoanBooks(plan, account, ())
    named = {account.id, *([books.escrow.id] if books.escrow is not None else [])}
    flow = books.flow.id if books.flow is not None else ""
    concerned = (
        entry for entry in recorded if entry.flow == flow or any(leg.account in named for leg in entry.legs)
    )  # fmt: skip
    return replace(books, entries=tuple(sorted(concerned, key=lambda entry: entry.date)))


def books_by_loan(plan: Plan, recorded: Iterable[Entry]) -> Mapping[str, LoanBooks]:
    """The books of every loan of a plan, by its account's id, out of any entries, which are walked once."""
    books = {account.id: loan_books(plan, account, ()) for account, _ in plan.loans}
    loans_of = defaultdict[tuple[str, str], list[str]](list)  # by what an entry may name: an account or a flow
    for id, one in books.items():
        accounts = [("account", account) for account in (id, *([one.escrow.id] if one.escrow else []))]
        for name in (*accounts, *([("flow", one.flow.id)] if one.flow else [])):
            loans_of[name].append(id)
    entries: dict[str, list[Entry]] = {id: [] for id in books}
    for entry in recorded:
        named = {("account", leg.account or "") for leg in entry.legs} | {("flow", entry.flow or "")}
        for id in {id for name in named & loans_of.keys() for id in loans_of[name]}:
            entries[id].append(entry)
    return {
        id: replace(one, entries=tuple(sorted(entries[id], key=lambda entry: entry.date))) for id, one in books.items()
    }


def split_legs(books: LoanBooks, entry: Entry, parts: Parts) -> tuple[Leg, ...]:
    """The legs of a payment that left its account as recorded, split as given; principal takes up the difference."""
    funding = paying_legs(books, entry)
    category = next(iter(books.flow.category_ids), LOAN_INTEREST.id) if books.flow is not None else LOAN_INTEREST.id
    beside = [
        Leg(parts.interest, category=category),
        Leg(parts.escrow, account=books.escrow.id) if books.escrow else Leg(parts.escrow, category=ESCROW_PAID.id),
        Leg(parts.insurance, category=LOAN_INSURANCE.id),
        Leg(parts.fee, category=LENDER_FEES.id),
    ]
    principal = books.paid(entry) - sum(leg.amount for leg in beside)
    return (*funding, *(leg for leg in (Leg(principal, account=books.account.id), *beside) if leg.amount))


def paying_legs(books: LoanBooks, entry: Entry) -> Sequence[Leg]:
    """The legs by which a payment left the accounts that paid it."""
    own = {books.account.id, books.escrow.id if books.escrow is not None else ""}
    return [leg for leg in entry.legs if leg.account is not None and leg.account not in own and leg.amount < 0]
