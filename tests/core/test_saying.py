"""Said in a sentence: the examples beside the grammar, their misspellings, and what is not to be guessed."""

import re
from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from said import MOMENT, PAYEES, PLAN, TODAY, examples, read, told

from next_penny.core.dates.writing import Notation, Writing, write_as
from next_penny.core.money import format_amount
from next_penny.core.problems import PlanError
from next_penny.core.saying.bill_line import bill_sentence, read_bill_line
from next_penny.core.saying.meaning import understand
from next_penny.core.saying.phrases import NotUnderstood, said

EXAMPLES = examples()


@pytest.mark.parametrize(("text", "reads"), EXAMPLES, ids=[text for text, _ in EXAMPLES])
def test_an_example_reads_as_it_says(text: str, reads: list[str]) -> None:
    assert told(text) == reads


def misspelt(word: str) -> list[str]:
    """A long word with a letter wrong, missing, added, and two changed round, in its middle."""
    at = len(word) // 2
    return [word[:at] + "x" + word[at + 1 :], word[:at] + word[at + 1 :], word[:at] + "x" + word[at:],
            word[: at - 1] + word[at] + word[at - 1] + word[at + 1 :]]  # fmt: skip


# Words of the household's names in the examples, where one letter more or less leaves them what they are.
NAMES = ("quayside", "savings", "electricity", "internet", "insurance", "hobbies", "groceries", "wharf", "heron")


@pytest.mark.parametrize("name", NAMES)
def test_a_misspelt_name_reads_the_same(name: str) -> None:
    said_of = [(text, reads) for text, reads in EXAMPLES if name in text.lower().split()]
    assert said_of
    for text, reads in said_of:
        for wrong in misspelt(name):
            words = [wrong if word.lower() == name else word for word in text.split()]
            assert told(" ".join(words)) == reads, words


def test_what_is_missing_is_asked_and_an_answer_is_taken() -> None:
    assert read("supper 23.40 by card").readings[0].missing == ["date", "account", "category"]
    (reading,) = read("supper 23.40 by card", {"date": "2027-02-28", "account": "wharf", "category": "out"}).readings
    assert reading.missing == []
    (change,) = reading.changes
    assert (change.op, change.value) == ("spent", {
        "date": "2027-02-28", "account": "wharf", "amount": 23_40, "payee": "Supper", "parts": [{"category": "out"}],
    })  # fmt: skip


@pytest.mark.parametrize(
    ("today", "text", "day"),
    [
        (date(2027, 3, 5), "haircut 38 on friday", "2027-03-05"),
        (date(2027, 3, 5), "haircut 38 next friday", "2027-03-12"),
        (date(2027, 3, 6), "haircut 38 next friday", "2027-03-12"),
        (date(2027, 3, 5), "paid gardener 38 last friday", "2027-02-26"),
        (date(2027, 3, 31), "dentist 18 on the 30th", "2027-04-30"),
        (date(2027, 1, 31), "dentist 18 on the 30th", "2027-03-30"),
        (date(2027, 3, 15), "paid gardener 38 on the 20th", "2027-02-20"),
        (date(2028, 2, 29), "haircut 38 on 29 february", "2028-02-29"),
        (date(2027, 12, 31), "haircut 38 in 2 months", "2028-02-29"),
    ],
)
def test_days_are_those_that_a_person_means(today: date, text: str, day: str) -> None:
    moment = type(MOMENT)(MOMENT.plan, today)
    (reading,) = understand(moment, text, PAYEES, {"category": "out"}, "new").readings
    value = reading.changes[0].value or {}
    assert (value["dates"][0] if "dates" in value else value["date"]) == day


def test_amounts_and_dates_are_as_the_household_writes_them() -> None:
    write_as(Writing("1.234,56", "day_first"))
    try:
        (reading,) = read("paint 1.018,75 on 26/2/2027 in hobbies").readings
        assert reading.sentence == "Record: spent $1.018,75 at “Paint” on Fri 26 Feb, from Joint checking, in Hobbies"
        write_as(Writing("1 234,56", "day_first"))
        assert (read("paint 1 018,75 today in hobbies").readings[0].changes[0].value or {})["amount"] == 1018_75
    finally:
        write_as(Writing())


@pytest.mark.parametrize(
    ("home", "text", "reads"),
    [
        ("CAD", "tea $12", "CA$12.00 Joint checking"), ("CAD", "tea CA$12", "CA$12.00 Joint checking"),
        ("CAD", "tea 12 usd", "$12.00 Euro tin"), ("CNY", "tea ¥12", "CN¥12.00 Joint checking"),
        ("CNY", "tea $12", "$12.00 Euro tin"), ("CNY", "tea 12 CAD", "CAD"), ("CNY", "CHF 12 tea", "CHF"),
        ("CAD", "tea ¥12", "¥12"), ("CAD", "all 12 for tea", "CA$12.00 Joint checking"),
    ],
)  # fmt: skip
def test_a_currency_is_that_of_an_account_or_told(home: str, text: str, reads: str) -> None:
    accounts = tuple(replace(each, currency="USD" if each.id == "abroad" else home) for each in MOMENT.plan.accounts)
    plan = replace(MOMENT.plan, accounts=accounts, household=replace(MOMENT.plan.household, currency=home))
    found = understand(replace(MOMENT, plan=plan), f"{text} today in hobbies", PAYEES, {}, "new")
    amounts = [
        re.sub(r"Record: spent (\S+) at .*, from (.*), in .*", r"\1 \2", each.sentence) for each in found.readings
    ]
    assert (amounts or [found.not_understood]) == [reads]


words = st.sampled_from([word for text, _ in EXAMPLES for word in text.split()])


@given(st.lists(words | st.text(max_size=8), max_size=30).map(" ".join))
def test_whatever_is_said_is_read_or_told_and_never_half_done(text: str) -> None:
    found = read(text)
    for reading in found.readings:
        assert bool(reading.changes or reading.question) == (not reading.missing)
    assert found.readings or found.not_understood is not None or not text.strip()


@pytest.mark.parametrize("part", ["every 0 weeks", "every 32nd", "32nd"])
def test_what_is_no_rhythm_is_told(part: str) -> None:
    found = read(f"choir 8 {part} from april")
    assert (found.readings, found.not_understood) == ([], part)


def test_more_than_anybody_says_is_told() -> None:
    with pytest.raises(NotUnderstood):
        said("supper 12 " * 400, [])
    assert read("a" * 1980 + " 12 today").readings


def test_payday_is_that_of_the_income_that_carries_the_household() -> None:
    stall = replace(PLAN.flow_by_id["kiln"], id="stall", name="Stall", amount=60_00, rules=("FREQ=WEEKLY",))
    both = replace(MOMENT, plan=replace(PLAN, flows=(stall, *PLAN.flows)))
    for text in ("move 200 to savings every payday", "haircut 38 on payday"):
        assert understand(both, text, PAYEES, {}, "new").readings[0].sentence == read(text).readings[0].sentence


ON_DAYS = {
    "1st": "MONTHLY;BYMONTHDAY=1", "on the 31st": "MONTHLY;BYMONTHDAY=31", "3.": "MONTHLY;BYMONTHDAY=3",
    "15": "MONTHLY;BYMONTHDAY=15", "the last day of the month": "MONTHLY;BYMONTHDAY=-1", "Fridays": "WEEKLY;BYDAY=FR",
    "every thu": "WEEKLY;BYDAY=TH",
}  # fmt: skip


@given(
    st.lists(st.text("abcDEé'&", min_size=1, max_size=9) | st.integers(1, 999).map(str), min_size=1, max_size=3),
    st.integers(1, 10**10),
    st.sampled_from(sorted(ON_DAYS)),
    st.sampled_from(["1,234.56", "1.234,56", "1 234,56"]),
    st.sampled_from(["USD", "EUR", "JPY", "KWD"]),
)
def test_a_bill_of_one_line_is_what_was_written(
    words: list[str], amount: int, day: str, notation: Notation, currency: str
) -> None:
    account = replace(PLAN.account_by_id["joint"], currency=currency)
    # A number before an amount in groups may be its first group: nobody can tell.
    name = " ".join(["Bill", *words, "for"])
    write_as(Writing(notation))
    bill = read_bill_line(MOMENT, "b", f"{name} {format_amount(amount, currency)} {day}", account)
    write_as(Writing())
    assert (bill.name, bill.amount, bill.from_account, bill.start) == (name, amount, "joint", TODAY)
    assert bill.rules == (f"FREQ={ON_DAYS[day]}",)


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("Rent", "how much"), ("Rent 1150", "which day"), ("Rent 1150 32nd", "which day"), ("1150 1st", "what it is"),
        ("Rent 11.555 1st", "no amount in USD"), ("Rent 0 1st", "above zero"), ("Rent 99999999999999 1st", "above zero"),
    ],
)  # fmt: skip
def test_a_line_that_says_too_little_asks_for_what_is_missing(line: str, words: str) -> None:
    with pytest.raises(PlanError, match=words):
        read_bill_line(MOMENT, "b", line, PLAN.account_by_id["joint"])


@pytest.mark.parametrize(
    ("line", "sentence"),
    [
        (
            "Insurance 600 every year on Feb 29",
            "Insurance: $600.00 every year on February 29 from Joint checking, first on February 29, 2028",
        ),
        (
            "Water 45 every 3 months on the 5th",
            "Water: $45.00 every 3 months on the 5th from Joint checking, first on March 5, 2027",
        ),
        (
            "Choir 12 every 2 weeks from March 12",
            "Choir: $12.00 every 2 weeks on Friday from Joint checking, first on March 12, 2027",
        ),
        ("Car tax 180 May 3", "Car tax: $180.00 on May 3, 2027 from Joint checking"),
        ("Flat 4b 250 3rd", "Flat 4b: $250.00 on the 3rd of every month from Joint checking, first on March 3, 2027"),
    ],
)
def test_a_line_says_also_how_often_or_on_which_one_day(line: str, sentence: str) -> None:
    joint = PLAN.account_by_id["joint"]
    assert bill_sentence(read_bill_line(MOMENT, "b", line, joint), joint, TODAY) == sentence
