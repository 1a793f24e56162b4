"""Names of a household found by what a person writes of them: some of their words, the last perhaps not to its end."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.saying.names import Named, begins_so, found, is_one_off

WORDS = ("orchard", "ferry", "quince", "millpond", "harbour", "tallow")
names = st.lists(st.sampled_from(WORDS), min_size=1, max_size=4, unique=True)


@given(names, st.data())
@settings(max_examples=examples(200))
def test_a_name_is_found_by_words_within_it_and_by_the_beginning_of_the_last(
    words: list[str], data: st.DataObject
) -> None:
    named, other = Named("payee", "p", " ".join(words).title()), Named("payee", "o", "Bellwether")
    first = data.draw(st.integers(0, len(words) - 1))
    last = data.draw(st.integers(first, len(words) - 1))
    said = words[first : last + 1]
    said[-1] = said[-1][: data.draw(st.integers(3, len(said[-1])))]
    assert found(" ".join(said), [other, named]) == [named]
    assert begins_so(" ".join(said), named.name) == (first == 0)
    # Two letters are enough for a beginning, not for a word within.
    said[-1] = said[-1][:2]
    assert (named in found(" ".join(said), [other, named])) == (first == 0)
    # Words that are not next to each other, or in another order, are no part of it.
    if len(words) > 2:
        assert found(f"{words[0]} {words[2]}", [named]) == []
    assert found(f"{words[-1]} {words[0]}", [named]) == []


def test_a_whole_name_goes_before_a_beginning_and_that_before_a_word_within() -> None:
    quay, quayside, old, twice = (
        Named("payee", name, name) for name in ("Quay", "Quayside", "Old Quay", "Quays, Old Quay")
    )
    everything = [old, quayside, twice, quay]
    assert found("quay", everything) == [quay]
    assert found("quay", everything[:3]) == [quayside, twice]
    assert found("quay", [old, Named("payee", "x", "Bell")]) == [old]
    assert found("  ", everything) == []
    assert found("old quay", [twice, twice]) == [twice]


@pytest.mark.parametrize(
    ("one", "other", "is_so"),
    [
        ("ferry", "fery", True), ("ferry", "ferrry", True), ("ferry", "fetry", True), ("ferry", "frery", True),
        ("ferry", "ferryx", True), ("ferry", "erry", True), ("ferry", "erryf", False), ("ferry", "frrey", False),
        ("ferry", "fer", False), ("quay", "quya", False), ("quay", "quays", True), ("ferry", "ferr", True),
        ("tallow", "tollew", False), ("tallow", "talwlo", False), ("tallow", "tallwo", True), ("tal", "tall", False),
    ],
)  # fmt: skip
def test_a_word_of_five_letters_may_have_one_misspelling(one: str, other: str, is_so: bool) -> None:
    assert is_one_off(one, other) == is_one_off(other, one) == is_so
