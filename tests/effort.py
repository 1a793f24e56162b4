"""How hard the tests try: with a quarter of the examples on the way to landing, with all of them in `make test-all`."""

import os

_PERCENT = int(os.environ.get("NEXT_PENNY_EFFORT", "25"))


def examples(count: int) -> int:
    """How many random examples are tried of a full number."""
    return max(1, count * _PERCENT // 100)
