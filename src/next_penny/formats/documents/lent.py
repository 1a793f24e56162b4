"""Money lent, in the plan document: an account's `lent`."""

from decimal import Decimal

from pydantic import Field

from next_penny.core.plan.terms import lent as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Percent, RuleText, fields_of, values_of
from next_penny.formats.documents.loans import Loan


class Repays(Document):
    """An amount on the dates of rules, until nothing is owed."""

    amount: Amount
    rules: tuple[RuleText, ...] = Field(min_length=1, max_length=20)
    start: Day


class Lent(Document):
    """To whom money was lent, and how it comes back: by a schedule, by an amount on dates, or as it comes."""

    to: Name
    into_account: Id | None = None
    annual_rate: Percent = Decimal(0)
    terms: Loan | None = None
    repays: Repays | None = None
    sure: core.Sureness = "counted"

    @classmethod
    def of(cls, lent: core.LentTerms) -> "Lent":
        terms = Loan.of(lent.terms) if lent.terms is not None else None
        repays = Repays(**fields_of(lent.repays, Repays)) if lent.repays is not None else None
        return cls(**{**fields_of(lent, cls), "terms": terms, "repays": repays})

    def to_core(self) -> core.LentTerms:
        terms = self.terms.to_core() if self.terms is not None else None
        repays = core.Repays(**values_of(self.repays)) if self.repays is not None else None
        return core.LentTerms(**{**values_of(self), "terms": terms, "repays": repays})
