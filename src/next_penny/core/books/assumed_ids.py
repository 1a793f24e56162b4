"""Ids of entries that nobody recorded: they are assumed to have happened as planned."""

ASSUMED_PREFIX = "assumed:"


def is_assumed(entry: str) -> bool:
    """Whether an entry's id is that of one that is assumed, not recorded."""
    return entry.startswith(ASSUMED_PREFIX)
