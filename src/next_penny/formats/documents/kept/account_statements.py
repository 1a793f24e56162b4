"""A bank's statements of an account, as documents: a plan's `statements`."""

from pydantic import Field

from next_penny.core.plan.kept import account_statements as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, fields_of, values_of


class AccountStatementDocument(Document):
    """A statement with the ids of the entries that were found on it; amounts are signed as the account's books are."""

    id: Id
    account: Id
    first: Day = Field(alias="from")
    last: Day = Field(alias="to")
    opening: Amount
    closing: Amount
    entries: tuple[Id, ...] = Field((), max_length=20_000)
    finished: Day | None = None

    @classmethod
    def of(cls, statement: core.AccountStatement) -> "AccountStatementDocument":
        return cls(**fields_of(statement, cls))

    def to_core(self) -> core.AccountStatement:
        return core.AccountStatement(**values_of(self))
