"""A kept what-if as a document: its name and its changes."""

import json

from pydantic import Field, TypeAdapter

from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Document, Id, Name

_CHANGES = TypeAdapter(tuple[ChangeRequest, ...])


class WhatIfDocument(Document):
    """A named list of changes, laid over the plan only while it is looked at."""

    id: Id
    name: Name
    changes: tuple[ChangeRequest, ...] = Field((), max_length=500)

    @classmethod
    def of(cls, what_if: SavedWhatIf) -> "WhatIfDocument":
        return cls(id=what_if.id, name=what_if.name, changes=_CHANGES.validate_json(what_if.changes))

    def to_core(self) -> SavedWhatIf:
        return SavedWhatIf(self.id, self.name, _CHANGES.dump_json(self.changes, by_alias=True).decode())


def written(what_if: SavedWhatIf) -> dict[str, object]:
    """A what-if as JSON that a file keeps."""
    return {"id": what_if.id, "name": what_if.name, "changes": json.loads(what_if.changes)}
