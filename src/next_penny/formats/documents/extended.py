"""What documents of several subjects have in common: fields that are left away, and one of two that is given."""

from typing import Any, ClassVar

from pydantic import model_serializer

from next_penny.formats.documents.fields import Document


class Extended(Document):
    """Its `_extra` fields were added to version 1 later: they are left out of the document where nothing is set."""

    _extra: ClassVar[frozenset[str]] = frozenset()

    @model_serializer(mode="wrap")
    def _without_unset(self, handler: Any) -> dict[str, Any]:
        written = handler(self)
        unset = {name for name in self._extra if written.get(name) in (None, False, "", 0, (), [])}
        return {name: value for name, value in written.items() if name not in unset}


class OneOf(Document):
    """An amount on an account or on a category; the one that it is not on is left out of the document."""

    @model_serializer(mode="wrap")
    def _without_none(self, handler: Any) -> dict[str, Any]:
        return {name: value for name, value in handler(self).items() if value is not None}
