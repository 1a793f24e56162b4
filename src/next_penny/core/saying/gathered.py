"""What a sentence says, in slots: how much, when, from and to where, under which name."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field

from next_penny.core.saying.days import DAYS
from next_penny.core.saying.phrases import NotUnderstood, Phrase, Said

_MARKS = {"source": "source", "target": "target", "means": "means", "category": "category"}
_RHYTHMS = ("rhythm", "rhythm_other", "rhythm_of", "rhythm_on", "adverb")
_PAST = {
    "out_past", "in_past", "move_past", "lent", "borrowed", "repaid", "withdraw_past", "deposit_past", "charged",
}  # fmt: skip
_VERBS = {*_PAST, "move", "none", "is_now", "up", "down", "pay", "stops", "cancels", "ends_then"}
# “Was” is said of one time.
_MEANS_TOO = {"more": {"up"}, "sets": {"is_now"}, "was": {"is_now", "next_time"}}
_BOUNDS = ("begins", "ends", "shifted", "instead_of")
_PLACES = ("source", "target", "means", "category")


@dataclass
class Gathered:
    """The slots of a sentence. verbs: those that were said. rest: what found no slot.

    weak: a word that is a verb in other sentences and begins the name here.
    bounds: by `begins`, `ends`, `shifted`, `instead_of`.
    names: as they were written, by `name`, `source`, `target`, `means`, `category`, `pay` (how pay is called).
    """

    said: Said
    verbs: set[str] = field(default_factory=set)
    amounts: list[str] = field(default_factory=list)
    percents: list[str] = field(default_factory=list)
    days: list[Phrase] = field(default_factory=list)
    months: list[Phrase] = field(default_factory=list)
    rhythms: list[Phrase] = field(default_factory=list)
    weak: str = ""
    bounds: dict[str, Phrase] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    rest: list[str] = field(default_factory=list)

    @property
    def begins(self) -> Phrase | None:
        """From when on."""
        return self.bounds.get("begins")

    @property
    def ends(self) -> Phrase | None:
        """Until when."""
        return self.bounds.get("ends")

    @property
    def shifted(self) -> Phrase | None:
        """By how many days it comes later or earlier."""
        return self.bounds.get("shifted")

    @property
    def instead_of(self) -> Phrase | None:
        """The day on which it does not come."""
        return self.bounds.get("instead_of")

    @property
    def is_past(self) -> bool:
        """Whether the tense or a day says that it has happened."""
        return bool(self.verbs & _PAST) or any(day.sort in ("yesterday", "last_weekday") for day in self.days)

    @property
    def name(self) -> str:
        return self.names.get("name", "")

    @property
    def from_now(self) -> bool:
        """Whether it is said to hold from now on."""
        return "from_now" in self.verbs

    @property
    def is_once(self) -> bool:
        """Whether it is said of the next time alone."""
        return "next_time" in self.verbs

    @property
    def is_told(self) -> bool:
        """Whether it says more than a name, which would be looked for and not done."""
        said = (self.amounts, self.percents, self.verbs, self.said.opener, self.rhythms)
        return any(said) or any(self.bounds.get(slot) for slot in ("begins", "shifted", "instead_of"))

    def words_of(self, *sorts: str) -> str:
        """What was said by the first phrase of some sorts."""
        return next((phrase.words[-1] for phrase in self.said.phrases if phrase.sort in sorts), "")

    def besides(self, *used: str) -> list[str]:
        """What was said beside what a reading uses, as it was written, so that nothing is left aside unsaid.

        used: slots and names; of `day`, `month` and `rhythm` the first one alone.
        """
        first = {"days": "day", "months": "month", "rhythms": "rhythm"}
        parts: list[str | Phrase] = []
        for slot in ("amounts", "percents", "days", "months", "rhythms"):
            if slot not in used:
                parts += getattr(self, slot)[1 if first.get(slot) in used else 0 :]
        parts += [phrase for slot in _BOUNDS if slot not in used and (phrase := getattr(self, slot))]
        parts += [self.names[place] for place in ("name", *_PLACES) if place in self.names and place not in used]
        return [part if isinstance(part, str) else self.said.between(part.begin, part.end) for part in parts]


def gathered(said: Said, as_words: Collection[str] = ()) -> Gathered:
    """A sentence's phrases in their slots; `as_words`: sorts of verbs that belong to a name in it."""
    slots = Gathered(said)
    run: list[Phrase] = []
    slot = "name"
    for phrase in said.phrases:
        if phrase.sort in as_words and not run and slot == "name":
            slots.weak = phrase.words[-1]
        if phrase.sort in ("word", "conjunction", *as_words) or (phrase.sort == "pay" and (run or slot != "name")):
            run.append(phrase)
            continue
        _put_name(slots, slot, run)
        run, slot = [], _MARKS.get(phrase.sort, "name")
        if slot == "name":
            _put(slots, phrase)
    _put_name(slots, slot, run)
    return slots


def _put(slots: Gathered, phrase: Phrase) -> None:
    sort = phrase.sort
    if sort == "owing":
        # What somebody owes is no spending; that it was lent, or came back, is said otherwise.
        raise NotUnderstood(phrase.words[-1])
    if sort in _VERBS:
        slots.verbs.add(sort)
        if sort == "pay":
            slots.names["pay"] = phrase.words[-1]
    elif sort in DAYS:
        slots.days.append(phrase)
    elif sort in _RHYTHMS:
        slots.rhythms.append(phrase)
    elif sort in ("from_day", "from_month", "from_year"):
        slots.bounds["begins"] = phrase
    elif sort in ("until_day", "until_month"):
        slots.bounds["ends"] = phrase
    elif sort in ("shifted", "instead_of"):
        slots.bounds[sort] = phrase
    elif sort == "amount":
        slots.amounts.append(phrase.words[-1])
    elif sort == "percent":
        slots.percents.append(phrase.words[-1])
    elif sort == "month":
        slots.months.append(phrase)
    else:
        slots.verbs |= _MEANS_TOO.get(sort, set()) | {sort}


def _put_name(slots: Gathered, slot: str, run: Sequence[Phrase]) -> None:
    while run and run[0].sort == "conjunction":
        run = run[1:]
    while run and run[-1].sort == "conjunction":
        run = run[:-1]
    if not run:
        return
    text = slots.said.between(run[0].begin, run[-1].end).strip(" ,.;:!?")
    if slot not in slots.names:
        slots.names[slot] = text
    elif slot == "name" and slots.name == slots.weak:
        # “Extra 20 on the moon”: alone it is no name.
        slots.names[slot] = f"{slots.name} {text}"
    else:
        slots.rest.append(text)
