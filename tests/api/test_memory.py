"""What was expected, lived through day by day, against a memory that this test keeps by itself (RULES, §14)."""

import copy
from calendar import monthrange
from datetime import date, timedelta
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import refused
from effort import examples
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_file, restore

BEGIN = date(2026, 11, 20)
Key = tuple[str, date]


class Life:
    """A household and its days: what the test expects of the memory beside what the app keeps."""

    def __init__(self) -> None:
        self.today, self.file = BEGIN, new_file()
        # Two servers have the file open; `at` answers.
        self.servers, self.at = [self._open(), self._open()], 0
        flows = [
            {"id": f"f{day}", "name": f"F{day}", "kind": "bill", "amount": 1000 * day, "category": "c", "from_account": "a",
             "rules": [f"FREQ=MONTHLY;BYMONTHDAY={day}"], "start": "2026-10-01"} for day in (3, 17, 31)
        ]  # fmt: skip
        self.send("PUT", "/api/plan", {
            "format": "next-penny-plan", "version": 1, "currency": "USD", "flows": flows,
            "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2026-10-01", "balance": 0}}],
            "categories": [{"id": "c", "name": "C", "kind": "expense"}],
        })  # fmt: skip
        self.flows: dict[str, Any] = {flow["id"]: (flow["amount"], frozenset[date]()) for flow in flows}
        self.settled: dict[Key, int] = {}
        self.memory: dict[Key, int] = {}
        self.until: date | None = None
        self.past: list[Any] = []
        self.future: list[Any] = []

    def _open(self) -> tuple[Store, TestClient]:
        store = Store(self.file)
        return store, TestClient(create_app(store, lambda: self.today), base_url="http://127.0.0.1:8765")

    @property
    def store(self) -> Store:
        return self.servers[self.at][0]

    def restart(self) -> None:
        self.store.close()
        self.servers[self.at] = self._open()

    def send(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.servers[self.at][1].request(method, path, json=body)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def occurrences(self, first: date, last: date) -> dict[Key, int]:
        """What the plan has in some days, what was left out apart."""
        found = {}
        for id, (amount, left_out) in self.flows.items():
            for number in range(first.toordinal(), last.toordinal() + 1):
                day = date.fromordinal(number)
                last_day = monthrange(day.year, day.month)[1]
                if day.day == min(int(id[1:]), last_day) and day not in left_out:
                    found[(id, day)] = amount
        return found

    def write_down(self) -> None:
        """Before every change."""
        yesterday = self.today - timedelta(days=1)
        first = date(2026, 10, 1) if self.until is None else self.until + timedelta(days=1)
        self.memory = {**self.occurrences(first, yesterday), **self.memory}
        self.until = yesterday

    def step(self, change: Any) -> None:
        """A change that undo takes back."""
        self.write_down()
        self.past.append((copy.deepcopy(self.flows), dict(self.settled)))
        self.future = []
        change()
        self._let_go()

    def _let_go(self) -> None:
        """What of days to come is not settled any more is no memory."""
        for key in list(self.memory):
            is_left_out = key[0] in self.flows and key[1] in self.flows[key[0]][1]
            if key[1] >= self.today and key not in self.settled and not is_left_out:
                del self.memory[key]

    def turn(self, back: bool) -> None:
        """Undo, or redo."""
        here, there = (self.past, self.future) if back else (self.future, self.past)
        self.send("POST", "/api/undo" if back else "/api/redo")
        self.write_down()
        before = (self.flows, self.settled)
        there.append((copy.deepcopy(self.flows), dict(self.settled)))
        self.flows, self.settled = here.pop()
        for key in self.settled.keys() - before[1].keys():
            if key[1] >= self.today:
                self.memory.setdefault(key, before[0].get(key[0], self.flows[key[0]])[0])
        for id, (amount, left_out) in self.flows.items():
            if id in before[0] and self.today in left_out - before[0][id][1]:
                self.memory.setdefault((id, self.today), amount)
        self._let_go()

    def edit(self, op: str, id: str, value: Any) -> None:
        self.send("POST", "/api/changes", {"changes": [{"op": op, "kind": "flow", "id": id, "value": value}]})

    def due(self, key: Key, do: str) -> None:
        self.send("POST", "/api/settle", {"lines": [{"flow": key[0], "nominal": key[1].isoformat(), "do": do}]})

    def check(self) -> None:
        plan = self.send("GET", "/api/plan")
        told = {
            (row["flow"], date.fromisoformat(row["nominal"])): -row["legs"][0]["amount"] for row in plan["expected"]
        }
        assert told == self.memory
        assert plan["expected_until"] == (self.until.isoformat() if self.until else None)
        for month in (self.today.replace(day=1) - timedelta(days=40), self.today):
            first = month.replace(day=1)
            last = first.replace(day=monthrange(first.year, first.month)[1])
            written = min(self.until or date(2026, 9, 30), self.today - timedelta(days=1))
            planned = self.occurrences(max(first, written + timedelta(days=1)), last)
            # A memory of a day that has not come is read where the occurrence is settled or left out.
            read = {
                key: amount for key, amount in self.memory.items()
                if key[1] < self.today or key in self.settled or key[1] in self.flows.get(key[0], (0, ()))[1]
            }  # fmt: skip
            expected = {key: amount for key, amount in {**planned, **read}.items() if first <= key[1] <= last}
            review = self.send("GET", f"/api/review?from={first}&to={last}")
            assert review["spending"]["expected"] == sum(expected.values())
            assert {(each["flow"], each["nominal"]) for each in review["occurrences"]} == {
                (id, day.isoformat()) for id, day in expected
            }


@settings(max_examples=examples(20), deadline=None)
@given(st.data())
def test_what_was_expected_is_what_the_plan_had_as_each_day_ended(data: st.DataObject) -> None:
    life = Life()
    for _ in range(data.draw(st.integers(1, 14))):
        what = data.draw(st.sampled_from(["pass", "pass", "amount", "settle", "leave_out", "remove", "undo", "redo",
                                          "again", "restart", "back", "other"]))  # fmt: skip
        id = data.draw(st.sampled_from(["f3", "f17", "f31"]))
        if what in ("pass", "back"):
            days = data.draw(st.integers(1, 40))
            life.today = max(BEGIN, life.today + timedelta(days=days if what == "pass" else -days))
        elif what in ("undo", "redo"):
            if life.past if what == "undo" else life.future:
                life.turn(what == "undo")
        elif what == "restart":
            life.restart()
        elif what == "other":
            life.at = 1 - life.at
        elif what == "again":
            # A document brings its memory; undo brings back the one before, which is the same.
            life.write_down()
            life.send("PUT", "/api/plan", life.send("GET", "/api/plan"))
            life.send("POST", "/api/undo")
            life.future = []
        elif id in life.flows:
            _change(life, what, id, data)
        life.check()


def _change(life: Life, what: str, id: str, data: st.DataObject) -> None:
    amount, left_out = life.flows[id]
    if what == "amount":
        new = data.draw(st.integers(1, 9_000))
        life.edit("update", id, {"amount": new})
        life.step(lambda: life.flows.update({id: (new, left_out)}))
    elif what == "remove" and not any(key[0] == id for key in life.settled):
        life.edit("remove", id, None)
        life.step(lambda: life.flows.pop(id))
    elif what in ("settle", "leave_out"):
        near = life.occurrences(
            max(date(2026, 10, 1), life.today - timedelta(days=35)), life.today + timedelta(days=35)
        )
        open_keys = [key for key in near if key[0] == id and key not in life.settled]
        if not open_keys:
            return
        key = data.draw(st.sampled_from(open_keys))
        life.due(key, what)
        if what == "settle":
            life.step(lambda: life.settled.update({key: amount}))
            if key[1] >= life.today:
                life.memory.setdefault(key, amount)
        else:
            life.step(lambda: life.flows.update({id: (amount, left_out | {key[1]})}))
            if key[1] == life.today:
                life.memory.setdefault(key, amount)


def test_a_restored_backup_brings_its_memory_and_what_was_written_since_stays() -> None:
    life = Life()
    life.today += timedelta(days=20)
    life.edit("update", "f3", {"amount": 7})
    backup = life.store.back_up("asked")
    at_backup = life.send("GET", "/api/plan")
    life.today += timedelta(days=40)
    life.edit("update", "f3", {"amount": 9})
    later = life.send("GET", "/api/plan")
    assert len(later["expected"]) > len(at_backup["expected"])
    restore(life.store, life.store.backups.folder / backup.name, life.today)
    restored = life.send("GET", "/api/plan")
    # The plan and the day up to which it was known are the backup's; no day is forgotten that was lived since.
    assert (restored["flows"], restored["expected_until"]) == (at_backup["flows"], at_backup["expected_until"])
    assert restored["expected"] == later["expected"]
    life.send("POST", "/api/undo")
    assert life.send("GET", "/api/plan") == later


def test_a_part_counts_for_its_occurrence_and_does_not_settle_it() -> None:
    life = Life()
    life.today = date(2026, 12, 3)
    line = {"flow": "f3", "nominal": "2026-12-03", "do": "settle", "part": True, "amount": 1200}
    life.send("POST", "/api/settle", {"lines": [line]})
    plan = life.send("GET", "/api/plan")
    assert [(entry["nominal"], entry["part"]) for entry in plan["entries"]] == [("2026-12-03", True)]
    # Settled in part on its day, the whole is written down.
    assert [row["legs"][0]["amount"] for row in plan["expected"] if row["nominal"] == "2026-12-03"] == [-3000]
    (found,) = life.send("GET", "/api/review?from=2026-12-03&to=2026-12-03")["occurrences"]
    assert (found["expected"], found["actual"], found["status"]) == (-3000, -1200, "expected")
    life.send("POST", "/api/settle", {"lines": [{"flow": "f3", "nominal": "2026-12-03", "do": "settle"}]})
    (found,) = life.send("GET", "/api/review?from=2026-12-03&to=2026-12-03")["occurrences"]
    assert (found["expected"], found["actual"], found["status"]) == (-3000, -3000, "settled")
    life.send("POST", "/api/undo")
    life.send("POST", "/api/undo")
    assert [row["nominal"] for row in life.send("GET", "/api/plan")["expected"] if row["nominal"] > "2026-12-02"] == []


def test_a_clock_that_cannot_be_right_is_told_and_one_set_right_forgets_what_it_wrote() -> None:
    life = Life()
    amounts = []
    for year in (1899, 2500, 2100, 2027):
        life.today = date(year, 3, 1)
        change = {"changes": [{"op": "update", "kind": "flow", "id": "f3", "value": {"amount": year}}]}
        answer = life.servers[0][1].post("/api/changes", json=change)
        if year in (2027, 2100):
            assert answer.status_code == 200, answer.text
            amounts.append(year)
        else:
            assert f"clock says March 1, {year}" in refused(answer)[1]
        if amounts:
            months = life.send("GET", f"/api/review/months?from={year}-04&count=2")["months"]
            assert [month["spending"]["expected"] for month in months] == [year + 17_000 + 31_000] * 2


def test_a_missing_rate_is_refused_where_it_is_needed_and_keeps_nobody_from_adding_it() -> None:
    today, file = date(2027, 3, 1), new_file()

    def opened(store: Store) -> TestClient:
        return TestClient(create_app(store, lambda: today), base_url="http://127.0.0.1:8765")

    client = opened(store := Store(file))

    def send(method: str, path: str, body: Any = None) -> Any:
        answer = client.request(method, path, json=body)
        assert answer.status_code == 200, answer.text
        return answer.json()

    opening = {"date": "2027-01-01", "balance": 100_00}
    accounts = [{"id": id, "name": id, "kind": "checking", "currency": currency, "opening": opening}
                for id, currency in (("here", "USD"), ("abroad", "EUR"))]  # fmt: skip
    pay = {"id": "pay", "name": "Pay", "kind": "income", "amount": 10_00, "to_account": "here", "dates": ["2027-03-03"],
           "splits": [{"amount": 5_00, "account": "abroad"}]}  # fmt: skip
    plan = {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": accounts, "flows": [pay]}
    field = ["body", "flows", 0, "splits", 0, "account"]
    assert refused(client.put("/api/plan", json=plan))[0] == field
    rate = {"date": "2027-01-01", "from": "USD", "to": "EUR", "rate": "0.8"}
    send("PUT", "/api/plan", {**plan, "rates": [rate]})
    # An older version let it go.
    with store.beside_the_plan() as connection:
        connection.execute("DELETE FROM rate")
    store.close()
    today, client = date(2027, 3, 10), opened(Store(file))
    change = {"op": "add", "kind": "rate", "id": "2027-01-01:USD:EUR", "value": {"rate": "0.8"}}
    send("POST", "/api/changes", {"changes": [change]})
    send("POST", "/api/changes", {"changes": [{"op": "remove", "kind": "flow", "id": "pay"}]})
    (expected,) = send("GET", "/api/plan")["expected"]
    legs = [(leg["account"], leg["amount"]) for leg in expected["legs"] if "account" in leg]
    assert sorted(legs) == [("abroad", 4_00), ("here", 5_00)]
