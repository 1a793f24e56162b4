"""What-ifs that are kept: a name and a list of changes, as the text that a request wrote them in (docs/rules.md)."""

from dataclasses import dataclass

MOST_WHAT_IFS = 200


@dataclass(frozen=True, slots=True)
class SavedWhatIf:
    """`changes` is JSON text of the plan document's CHANGE; the core lays it over only once it has been read."""

    id: str
    name: str
    changes: str


def with_what_if(
    held: tuple[SavedWhatIf, ...], id: str, what_if: SavedWhatIf | None
) -> tuple[SavedWhatIf, ...]:  # fmt: skip
    """The what-ifs with one put in, in the place of the one with its id, or taken out."""
    if what_if is None:
        return tuple(each for each in held if each.id != id)
    if any(each.id == id for each in held):
        return tuple(what_if if each.id == id else each for each in held)
    return (*held, what_if)
