"""A lender's statement as a document: a plan's `statement_checks`, and what is checked."""

from next_penny.core.plan.kept import statements as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, fields_of, values_of


class LastSplitDocument(Document):
    """How the lender split the newest payment; null for what the statement does not show."""

    principal: Amount | None = None
    interest: Amount | None = None
    escrow: Amount | None = None


class StatementDocument(Document):
    """A statement's figures at the end of its date, what is owed positive; all but the date may be null."""

    date: Day
    principal_balance: Amount | None = None
    escrow_balance: Amount | None = None
    interest_to_date: Amount | None = None
    escrow_to_date: Amount | None = None
    last_split: LastSplitDocument | None = None

    def statement(self) -> core.Statement:
        values = {name: getattr(self, name) for name in StatementDocument.model_fields}
        split = core.LastSplit(**values_of(self.last_split)) if self.last_split is not None else None
        return core.Statement(**{**values, "last_split": split})


class StatementCheckDocument(StatementDocument):
    """A statement that was held against the books of a loan's account."""

    account: Id

    @classmethod
    def of(cls, check: core.StatementCheck) -> "StatementCheckDocument":
        split = check.statement.last_split
        last_split_document = LastSplitDocument(**fields_of(split, LastSplitDocument)) if split is not None else None
        return cls(
            **{
                **fields_of(check.statement, StatementDocument),
                "last_split": last_split_document,
                "account": check.account,
            }
        )

    def to_core(self) -> core.StatementCheck:
        return core.StatementCheck(self.account, self.statement())
