"""What-ifs that are kept: a name and a list of changes, as the text that a request wrote them in (docs/rules.md)."""

from dataclasses import dataclass

MOST_WHAT_IFS = 200


@dataclass(frozen=True, slots=True)
class SavedWhatIf:
    """`changes` is JSON text of the plan document's CHANGE; the core lays it over only once it has been read."""

    id: str
    name: str
    changes: str
