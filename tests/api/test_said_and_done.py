"""What a sentence is read as can be done: every example's changes are laid over and made, and each is undone."""

from typing import Any

import pytest
from fastapi.testclient import TestClient
from said import PLAN, TODAY, examples

from answers import Json, done, plan_alone
from next_penny.api.app import create_app
from next_penny.formats.documents.plan import plan_document
from stores import new_store

_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


def read(text: str) -> list[Json]:
    readings: list[Json] = done(_CLIENT.post("/api/understand", json={"text": text}))["readings"]
    return [reading for reading in readings if reading["changes"]]


@pytest.fixture(scope="module", autouse=True)
def household() -> None:
    document = plan_document(PLAN, ()).model_dump(mode="json", by_alias=True)
    done(_CLIENT.put("/api/plan", json=document))


def test_every_reading_of_every_example_can_be_done_and_undone() -> None:
    before = plan_alone(done(_CLIENT.get("/api/plan")))
    refused: dict[str, Any] = {}
    for text, _ in examples():
        for reading in read(text):
            changes = {"changes": reading["changes"]}
            looked = _CLIENT.post("/api/forecast/preview", json={"until": "2027-12-31", **changes})
            made = _CLIENT.post("/api/changes", json=changes)
            if (looked.status_code, made.status_code) != (200, 200):
                refused[reading["sentence"]] = made.json()
                continue
            done(_CLIENT.post("/api/undo"))
    assert refused == {}
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == before


def expected_from(text: str) -> list[tuple[str, int]]:
    """What is expected of the joint account with a sentence done, by day."""
    (reading, *_) = read(text)
    asked = {"until": "2027-12-31", "changes": reading["changes"]}
    events = done(_CLIENT.post("/api/forecast/preview", json=asked))["events"]
    return [(event["date"], event["amount"]) for event in events if event["account"] == "joint"]


def test_what_is_said_comes_true_on_its_days_and_no_others() -> None:
    plain = expected_from("haircut 1 tomorrow")

    def differs(text: str) -> tuple[set[tuple[str, int]], set[tuple[str, int]]]:
        rows = expected_from(text)
        return set(plain) - set(rows) - {("2027-03-02", -1_00)}, set(rows) - set(plain)

    assert differs("no internet from may until july") == (
        {("2027-05-22", -42_00), ("2027-06-22", -42_00), ("2027-07-22", -42_00)}, set(),
    )  # fmt: skip
    assert differs("rent is 1,300 from june until august") == (
        {(f"2027-0{month}-01", -1_200_00) for month in (6, 7, 8)},
        {(f"2027-0{month}-01", -1_300_00) for month in (6, 7, 8)},
    )
    assert differs("move internet to the 24th") == ({("2027-03-22", -42_00)}, {("2027-03-24", -42_00)})
    gone, come = differs("extra 1,000 on the boat loan in april")
    assert ("2027-04-12", -96_66) in gone
    assert ("2027-04-12", -1_096_66) in come
    assert differs("lend 30 to sam on friday") == (set(), {("2027-03-05", -30_00)})
