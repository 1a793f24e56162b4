"""What happened in a stretch of days against what was expected of it (docs/rules.md, Expected and actual)."""

from collections.abc import Sequence
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account
from next_penny.core.review.expecting import Sources
from next_penny.core.review.records import Review, Totals
from next_penny.core.review.stretches import check_stretch
from next_penny.core.review.sums import Sums


def review(
    moment: Moment, sources: Sources, first: date, last: date, accounts: Sequence[Account] | None = None
) -> Review:
    """What happened from a day to a day against what was expected, of some accounts or all.

    Raises PlanError for a stretch that cannot be, NoRate where an amount cannot be converted.
    """
    check_stretch(first, last)
    return review_of(Sums(moment, sources, first, last, accounts))


def review_of(sums: Sums) -> Review:
    """The review of a stretch that is added up."""
    return Review(sums.totals(), sums.rows(), sums.allowances(), sums.payees(),
                  sums.accounts(), sums.largest(), sums.moved())  # fmt: skip


def totals(
    moment: Moment, sources: Sources, first: date, last: date, accounts: Sequence[Account] | None = None
) -> Totals:
    """Income, spending and what was kept alone."""
    return Sums(moment, sources, first, last, accounts).totals()
