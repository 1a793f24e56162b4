"""What a request names, looked up in the plan, or refused at the place where it was named."""

from next_penny.api.http.errors import refused
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc


def account_of(plan: Plan, id: str, loc: Loc = ("body", "account")) -> Account:
    """The account of an id. Raises Refused where there is none."""
    account = plan.account_by_id.get(id)
    if account is None:
        raise refused(loc, f"There is no account “{id}”.", "unknown_id")
    return account
