"""How alike two names of a payee are, as banks and households write them."""

import re
from functools import lru_cache

# A word as short as this says little.
_SHORT = 4


@lru_cache(maxsize=65536)
def words_of(text: str) -> tuple[str, ...]:
    """The words of a name, in small letters, without figures and signs."""
    return tuple(re.findall(r"[^\W\d_]+", text.casefold()))


def likeness(one: str, other: str) -> int:
    """3: the same words. 2: all words of one are in the other. 1: they share a longer word. 0: nothing."""
    first, second = words_of(one), words_of(other)
    if not first or not second:
        return 0
    if first == second:
        return 3
    a, b = set(first), set(second)
    if (a <= b or b <= a) and any(len(word) >= _SHORT for word in a & b):
        return 2
    return 1 if any(len(word) >= _SHORT for word in a & b) else 0


def names(text: str, name: str) -> bool:
    """Whether a text has all words of a name next to each other."""
    wanted, said = words_of(name), words_of(text)
    return bool(wanted) and any(said[at : at + len(wanted)] == wanted for at in range(len(said)))
