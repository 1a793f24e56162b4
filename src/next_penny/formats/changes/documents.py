"""What the value of a CHANGE holds, by what a person means."""

from typing import Any, Literal

from pydantic import Field

from next_penny.core.edits.recording import Beside, Part, Recorded
from next_penny.core.plan.entries import Receipt
from next_penny.core.plan.terms.cards import CardPays
from next_penny.formats.documents.accounts import Account as AccountDocument
from next_penny.formats.documents.allowances import Allowance as AllowanceDocument
from next_penny.formats.documents.entries import Entry as EntryDocument
from next_penny.formats.documents.entries import Receipt as ReceiptDocument
from next_penny.formats.documents.fields import Amount, Currency, Day, Document, Id, Name, Number, Percent, Tag, Text
from next_penny.formats.documents.flows import Flow as FlowDocument
from next_penny.formats.documents.household import Category as CategoryDocument
from next_penny.formats.documents.household import Household as HouseholdDocument
from next_penny.formats.documents.household import Rate as RateDocument
from next_penny.formats.documents.kept.bank_lines import PayeeRuleDocument
from next_penny.formats.documents.kept.goals import Goal as GoalDocument
from next_penny.formats.documents.loans import Loan


class PartDocument(Document):
    """A part in a category; the last part takes what the others leave."""

    category: str = ""
    amount: Amount | None = None


class RecordedDocument(Document):
    """Money spent, received or moved; of a move between currencies, `arrives` is what arrives.

    `pays`: the due date of a loan's payment that a move to the loan pays, which is then split as that payment is.
    """

    date: Day
    account: str = ""
    amount: Amount
    payee: Name = ""
    parts: tuple[PartDocument, ...] = ()
    to_account: str | None = None
    arrives: Amount | None = None
    pays: Day | None = None
    notes: Text = ""
    tags: tuple[Tag, ...] = Field((), max_length=20)
    number: Number = ""
    receipt: ReceiptDocument | None = None

    def to_core(self, way: Literal["spent", "received", "moved"]) -> Recorded:
        parts = tuple(Part(part.category, part.amount) for part in self.parts)
        receipt = Receipt(self.receipt.file, self.receipt.name) if self.receipt else None
        beside = Beside(self.notes, self.tags, receipt, self.number.strip())
        return Recorded(
            way,
            self.date,
            self.account,
            self.amount,
            self.payee,
            parts,
            self.to_account,
            self.arrives,
            beside,
            self.pays,
        )


class BorrowedDocument(Document):
    """A loan: its terms, and, where it is joined later, what is owed on a day.

    `new_escrow`: what is in an escrow account that is made with it, for its escrow parts.
    """

    name: Name
    currency: Currency
    loan: Loan
    owed: Amount | None = None
    owed_on: Day | None = None
    known_since: Day | None = None
    new_escrow: Amount | None = None


class WorthDocument(Document):
    """What an account that is owned is worth on a day, and the id of the entry that says so."""

    entry: Id
    amount: Amount
    date: Day


class LoanRevision(Document):
    """What of a loan may be another from a day on."""

    annual_rate: Percent | None = None
    payment: Amount | None = None
    escrow: Amount | None = None


class CardRevision(Document):
    """What of a card may be another: its rate from a day on, and how it is paid, from now on."""

    annual_rate: Percent | None = None
    pays: CardPays | None = None
    fixed_amount: Amount | None = None
    limit: Amount | None = None


# By the part of an account that is revised.
REVISIONS: dict[str, type[Document]] = {"loan": LoanRevision, "card": CardRevision}


class OneOff(Document):
    """What may be another for one date."""

    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False
    hours: Percent | None = None


class MovedOnward(Document):
    """The day on which a date of a flow is to be, and those after it likewise."""

    moved_to: Day


DOCUMENTS: dict[str, Any] = {
    "household": HouseholdDocument,
    "account": AccountDocument,
    "category": CategoryDocument,
    "flow": FlowDocument,
    "allowance": AllowanceDocument,
    "entry": EntryDocument,
    "goal": GoalDocument,
    "rate": RateDocument,
    "payee_rule": PayeeRuleDocument,
}
