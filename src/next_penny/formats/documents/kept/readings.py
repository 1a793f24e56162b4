"""What a bank said an account held, as a document: a plan's `readings`."""

from next_penny.core.plan.kept import readings as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, fields_of, values_of


class BalanceReadingDocument(Document):
    """An account's true balance at the end of a day, signed as its books are."""

    account: Id
    date: Day
    balance: Amount
    source: core.ReadingSource = "typed"

    @classmethod
    def of(cls, reading: core.BalanceReading) -> "BalanceReadingDocument":
        return cls(**fields_of(reading, cls))

    def to_core(self) -> core.BalanceReading:
        return core.BalanceReading(**values_of(self))
