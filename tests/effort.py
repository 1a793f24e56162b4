"""How hard the tests try: with a fifth of the examples on the way to landing, with all of them in `make test-all`."""

import os

# Whether what fails is then made smaller, which takes minutes; of a bug put in on purpose nobody reads it.
SHRINKS = os.environ.get("NEXT_PENNY_SHRINKS", "yes") == "yes"
_PERCENT = int(os.environ.get("NEXT_PENNY_EFFORT", "20"))


def examples(count: int) -> int:
    """How many random examples are tried of a full number."""
    return max(1, count * _PERCENT // 100)
