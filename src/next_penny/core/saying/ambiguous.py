"""Words that say what is done in some sentences and belong to a name in others: “extra lesson”, “weekend off”."""

from next_penny.core.saying.asking import Asking
from next_penny.core.saying.kinds.lending import is_of_cash, owed_by_who_paid
from next_penny.core.saying.kinds.terms import is_of_terms

# These say what becomes of something that is expected, and then no amount is said.
_OF_DATES = {"comes", "put_off", "reschedule", "sooner", "stops", "ends_then", "cancels"}


def is_extra(asking: Asking) -> bool:
    """Whether an extra is said of a debt."""
    slots = asking.said
    is_said = "extra" in slots.verbs or ("more" in slots.verbs and bool(slots.amounts))
    return is_said and (asking.is_debt("target") or asking.is_debt("name"))


def names_in(asking: Asking) -> set[str]:
    """The sorts of verbs that are none in this sentence: their words belong to a name."""
    slots = asking.said
    said = slots.verbs
    names = {
        "extra": not is_extra(asking),
        "more": not is_extra(asking) and not _is_known(asking) and "pay" not in said,
        "back": owed_by_who_paid(asking) is None and "in_past" not in said,
        "deposit": not is_of_cash(asking),
        "refund": "in_past" not in said and "source" not in slots.names,
        "sets": not _is_known(asking) and not is_of_terms(asking),
        "off": bool(slots.amounts) and not said & {"pay", "out_past"},
        **dict.fromkeys(_OF_DATES, bool(slots.amounts)),
    }
    return {sort for sort, is_name in names.items() if is_name and sort in said}


def _is_known(asking: Asking) -> bool:
    """Whether what is spoken of is a flow, or an allowance, that there is."""
    name = asking.said.name or asking.said.names.get("pay", "")
    return bool(name) and asking.knows(name)
