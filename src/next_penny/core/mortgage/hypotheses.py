"""What may have gone wrong with a loan's books, each with what would put it right; a statement check tries them all.

Each is a guess: whether it is right is found out by laying it over the books (`statement_check`).
"""

from collections.abc import Iterator

from next_penny.core.mortgage import entry_hypotheses as of_entries
from next_penny.core.mortgage import terms_hypotheses as of_terms
from next_penny.core.mortgage.evidence import Evidence, Hypothesis

_MAKERS = (
    of_entries.recorded_whole,
    of_entries.split_behind,
    of_entries.disbursement_missing,
    of_terms.escrow_changed,
    of_terms.rate_changed,
    of_terms.other_method,
    of_entries.extra_missing,
    of_terms.rounding,
)


def hypotheses(evidence: Evidence) -> Iterator[Hypothesis]:
    """All guesses that some evidence allows, the likeliest kinds first."""
    for make in _MAKERS:
        yield from make(evidence)
