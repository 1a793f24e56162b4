"""The calendar feed, read by a reader of the standard's own: every occurrence once, under names that stay."""

from datetime import date, timedelta
from typing import Any

from fastapi.testclient import TestClient
from icalendar import Calendar

from next_penny.api.http.passwords import lock
from next_penny.store.store import Store


def events(client: TestClient, path: str) -> dict[str, Any]:
    answer = client.get(path)
    assert answer.headers["content-type"].startswith("text/calendar")
    assert all(len(line) <= 75 for line in answer.content.split(b"\r\n"))
    return {str(each["uid"]): each for each in Calendar.from_ical(answer.text).walk("VEVENT")}


def test_what_is_expected_is_in_the_calendar_and_rings_as_each_flow_says(demo: TestClient, store: Store) -> None:
    assert demo.get("/api/calendar/feed").json() == {"path": None}
    path = demo.post("/api/calendar").json()["path"]
    feed = events(demo, path)
    forecast = demo.get("/api/forecast?until=2028-03-01").json()["events"]
    told = {(each["flow"], each["nominal"]) for each in forecast
            if each["source"] in ("flow", "loan", "card_payment") and each["status"] != "settled"}  # fmt: skip
    low = [each for each in feed.values() if str(each["summary"]).endswith("short")]
    assert low
    assert len(feed) - len(low) == len(told)
    demo.post("/api/changes", json={"changes": [
        {"op": "update", "kind": "flow", "id": "internet", "value": {"alarm_days": 2}},
        {"op": "once", "kind": "flow", "id": "internet", "nominal": "2027-03-22", "value": {"moved_to": "2027-03-25"}}]})  # fmt: skip
    after = events(demo, path)
    internet = {uid: each for uid, each in after.items() if str(each["summary"]).startswith("Internet")}
    # Moved, it is the same event on another day.
    assert internet.keys() <= feed.keys()
    assert date(2027, 3, 25) in {each["dtstart"].dt for each in internet.values()}
    assert {each.walk("VALARM")[0]["trigger"].dt for each in internet.values()} == {timedelta(hours=-39)}
    assert not any(each.walk("VALARM") for uid, each in after.items() if uid not in internet)
    # A password does not shut it out; another address, or none, does.
    store.set_door(lock("a few long words", 60))
    assert demo.get("/api/household").status_code == 401
    assert events(demo, path)
    store.set_door(None)
    assert path.split("/")[2].encode() not in demo.get("/api/export/all.json").content
    other = demo.post("/api/calendar").json()["path"]
    assert (demo.get(path).status_code, demo.get(other).status_code) == (404, 200)
    assert demo.delete("/api/calendar").status_code == 204
    assert demo.get(other).status_code == 404
