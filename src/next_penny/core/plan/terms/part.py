"""What an account is or does beside holding money: a loan, a card or line, savings, a sweep.

The terms of each are a record in this folder. What those that act do over balances is in `core/accounts/parts.py`, what
pays a loan in `core/flows/loan_payment.py`. Nobody else asks which part an account has.
"""

from typing import ClassVar, Protocol

from next_penny.core.plan.flows import Flow


class Part(Protocol):
    """A part's terms, as the plan asks them.

    acts: whether it makes movements that follow from balances, which only a walk over them has. reads_gains: whether
    these follow from the money that comes in apart from what goes out.
    """

    acts: ClassVar[bool]
    reads_gains: ClassVar[bool]

    @property
    def named_accounts(self) -> tuple[str, ...]:
        """The ids of the accounts that it refers to."""
        ...

    @property
    def read_accounts(self) -> tuple[str, ...]:
        """The ids of the accounts, beside its own, whose balances decide what it does."""
        ...

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """The flows that it makes of itself on the account with an id and a name."""
        ...


def ids(*named: str | None) -> tuple[str, ...]:
    """Those of some ids that are given."""
    return tuple(id for id in named if id is not None)
