"""Names of a household found by their beginning, or with one misspelling (docs/rules.md, Said in a sentence)."""

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import NamedTuple

# A shorter word with one letter wrong may be any other.
_LONG_ENOUGH = 5


class Named(NamedTuple):
    """Something that has a name: what it is, its id, and what it is called."""

    kind: str
    id: str
    name: str


def found(text: str, among: Iterable[Named]) -> list[Named]:
    """What a text names: by its whole name, else by its beginning, else with one misspelling; several if unclear."""
    wanted = _plain(text)
    if not wanted:
        return []
    listed = [(named_stretch, _plain(named_stretch.name)) for named_stretch in among]
    for fits in (_is_whole, _begins, _has_word, _is_misspelt, _has_misspelt):
        hits = [named_stretch for named_stretch, name in listed if fits(wanted, name)]
        if hits:
            return list(dict.fromkeys(hits))
    return []


def begins_so(text: str, name: str) -> bool:
    """Whether a name begins with a text, or with it but for one misspelling."""
    wanted, own_name = _plain(text), _plain(name)
    return bool(wanted) and (_begins(wanted, own_name) or _is_misspelt(wanted, own_name))


@lru_cache(maxsize=10_000)
def _plain(text: str) -> list[str]:
    """Its words; “Mr.” and “Mr” are one. Looked up at every key in thousands of payees, so it is kept."""
    words = text.casefold().replace("’", "'").replace(",", " ").split()
    return [word.rstrip(".") or word for word in words]


def _is_whole(wanted: Sequence[str], name: Sequence[str]) -> bool:
    return wanted == name


def _begins(wanted: Sequence[str], name: Sequence[str]) -> bool:
    return " ".join(name).startswith(" ".join(wanted))


def _has_word(wanted: Sequence[str], name: Sequence[str]) -> bool:
    """Whether a name of several words has these among them, the last by its beginning."""
    width = len(wanted)
    return any(
        list(name[at : at + width - 1]) == list(wanted[:-1]) and name[at + width - 1].startswith(wanted[-1])
        for at in range(1, len(name) - width + 1)
    ) and len(wanted[-1]) > 2  # fmt: skip


def _is_misspelt(wanted: Sequence[str], name: Sequence[str]) -> bool:
    """Whether the first words of a name are these, one of them with one misspelling."""
    if len(wanted) > len(name):
        return False
    is_off = False
    for one, other in zip(wanted, name, strict=False):
        if one != other:
            if is_off or not is_one_off(one, other):
                return False
            is_off = True
    return is_off


def _has_misspelt(wanted: Sequence[str], name: Sequence[str]) -> bool:
    """Whether words within a name are these, one of them with one misspelling."""
    return any(_is_misspelt(wanted, name[at:]) for at in range(1, len(name)))


def is_one_off(one: str, other: str) -> bool:
    """Whether two words of five letters or more differ by one letter, or by two neighbours changed round."""
    if len(one) > len(other):
        one, other = other, one
    if len(one) < _LONG_ENOUGH - 1 or len(other) < _LONG_ENOUGH or len(other) - len(one) > 1:
        return False
    same = 0
    while same < len(one) and one[same] == other[same]:
        same += 1
    if len(one) + 1 == len(other):
        return one[same:] == other[same + 1 :]
    if one[same + 1 :] == other[same + 1 :]:
        return True
    turned = one[same : same + 2][::-1] == other[same : same + 2]
    return turned and one[same + 2 :] == other[same + 2 :]
