"""A sentence as phrases: what the grammar of a language finds in it, in the order in which it is said."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import NamedTuple

from lark import Lark, Token, Tree
from lark.exceptions import UnexpectedInput

from next_penny.core.dates.writing import current

# Longer than anything that somebody says at once.
LONGEST = 2000
_SHOWN = 40
_NARROW = "\N{NARROW NO-BREAK SPACE}"


class Phrase(NamedTuple):
    """One phrase: its sort, the words in it as the grammar has them, and where it stands in the text."""

    sort: str
    words: tuple[str, ...]
    begin: int
    end: int


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence in phrases; opener: `what_if`, `afford`, or "". text: as it was written."""

    text: str
    opener: str
    phrases: tuple[Phrase, ...]
    masked: str = ""
    places: tuple[str, ...] = ()

    def between(self, begin: int, end: int) -> str:
        """What was written from one place to another."""
        return _unmasked(self.masked[begin:end], self.places)


class NotUnderstood(Exception):
    """A part of a sentence that means nothing here."""

    def __init__(self, part: str) -> None:
        super().__init__(part)
        self.part = part


@cache
def _parser() -> Lark:
    sorts = {sort: [word for words in by_meaning.values() for word in words] for sort, by_meaning in _words().items()}
    grammar = re.sub(
        r"\{([a-z]+)\}", lambda match: "|".join(sorted(sorts[match[1]], key=len, reverse=True)), _language()
    )
    return Lark(grammar, parser="lalr", lexer="basic", propagate_positions=True)


@cache
def _language() -> str:
    return files("next_penny.core.saying").joinpath("english.lark").read_text(encoding="utf-8")


@cache
def _words() -> dict[str, dict[str, tuple[str, ...]]]:
    """The words of the language by sort and meaning."""
    meanings: dict[str, dict[str, tuple[str, ...]]] = {}
    for sort, meaning, words in re.findall(r"^//= (\w+)\.(\w+): (.+)$", _language(), re.MULTILINE):
        meanings.setdefault(sort, {})[meaning] = tuple(words.split(", "))
    return meanings


def meaning_of(sort: str, text: str) -> str | None:
    """What a text means among the words of a sort that it has, or begins with: of “fridays”, `FR`; None for nothing."""
    hits = [(len(word), meaning) for meaning, words in _words()[sort].items() for word in words
            if re.search(rf"(?<!\w){re.escape(word)}", text.lower())]  # fmt: skip
    return max(hits)[1] if hits else None


def is_word(sort: str, text: str) -> str | None:
    """What a text means that is one of the words of a sort, and no more."""
    return next((meaning for meaning, words in _words()[sort].items() if text.lower() in words), None)


def said(text: str, names: Sequence[str]) -> Said:
    """A sentence in phrases; `names` are those that stand for one thing whatever words are in them.

    Raises NotUnderstood.
    """
    if len(text) > LONGEST:
        raise NotUnderstood(f"{text[:_SHOWN]}…")
    masked, places = _masked(_grouped(text), names)
    try:
        tree = _parser().parse(masked.lower())
    except UnexpectedInput as error:
        at = max(0, min(error.pos_in_stream or 0, len(masked) - 1))
        raise NotUnderstood(_unmasked(masked[at:].split(" ")[0] or masked, places)) from error
    opener, phrases = "", []
    for child in tree.children:
        assert isinstance(child, Tree)
        if child.data in ("what_if", "afford"):
            opener = str(child.data)
        else:
            phrases.append(_phrase(child, masked, places))
    return Said(text, opener, tuple(phrases), masked, tuple(places))


def _phrase(tree: "Tree[Token]", masked: str, places: Sequence[str]) -> Phrase:
    sort, tokens = str(tree.data), list(tree.scan_values(lambda value: isinstance(value, Token)))
    words = [str(below.data) for below in tree.children if isinstance(below, Tree)]
    values = [_unmasked(masked[token.start_pos : token.end_pos], places) for token in tokens]
    return Phrase(sort, (*words, *values), tokens[0].start_pos or 0, tokens[-1].end_pos or 0)


def _grouped(text: str) -> str:
    """The text on one line, the digits of an amount that are written in groups with gaps as one."""
    plain = re.sub(r"\s+", " ", text.strip())
    if current().notation == "1 234,56":
        plain = re.sub(r"(?<=\d) (?=\d{3}(?!\d))", _NARROW, plain)
    return plain


def _masked(text: str, names: Sequence[str]) -> tuple[str, list[str]]:
    """The text with names of several words, and what is in quotes, put aside."""
    places: list[str] = []

    def put(name: str) -> str:
        places.append(name)
        return f"⟦{len(places) - 1}⟧"

    text = re.sub(r"[“\"]([^”\"]+)[”\"]", lambda quoted: put(quoted[1]), text.replace("⟦", "").replace("⟧", ""))
    lowered = text.lower()
    # A household has thousands of payees: only what is in the text is looked for by its edges.
    within = {name for name in names if " " in name.strip() and name.lower() in lowered}
    for name in sorted(within, key=len, reverse=True):
        text = re.sub(rf"(?<!\w){re.escape(name)}(?!\w)", lambda match: put(match[0]), text, flags=re.IGNORECASE)
    return text, places


def _unmasked(part: str, places: Sequence[str]) -> str:
    return re.sub(r"⟦(\d+)⟧", lambda place: places[int(place[1])], part)
