"""The doors of the app: a password, named hosts, limits, and refusals in one form, tried from outside."""

import csv
import json
import re
import socket
from datetime import date
from decimal import Decimal
from io import BytesIO
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from openpyxl import load_workbook

from answers import done, refused
from next_penny import cli
from next_penny.api.app import create_app
from next_penny.api.http import connections
from next_penny.api.http.limits import DEEPEST_JSON, depth
from next_penny.demo import fill_with_demo
from next_penny.store.store import Store
from servers import serving
from stores import new_file, new_store

TODAY = date(2027, 3, 1)
WORDS = "four words are enough"


def browser(store: Store, *hosts: str, base: str = "http://127.0.0.1:8765") -> TestClient:
    return TestClient(create_app(store, lambda: TODAY, hosts), base_url=base)


def test_a_second_browser_gets_in_only_with_the_password() -> None:
    store = new_store()
    app = create_app(store, lambda: TODAY)
    mine, other = (TestClient(app, base_url="http://127.0.0.1:8765") for _ in range(2))
    assert done(other.get("/api/door")) == {"has_password": False, "is_inside": True, "minutes": None}
    assert refused(mine.put("/api/password", json={"new": "short"}))[0] == ["body", "new"]
    set_ = mine.put("/api/password", json={"new": WORDS, "minutes": 60})
    cookie = set_.headers["set-cookie"].lower()
    assert all(part in cookie for part in ("httponly", "samesite=strict", "max-age=3600"))
    assert mine.get("/api/household").status_code == 200
    shut = other.get("/api/household")
    assert (shut.status_code, shut.json()["detail"][0]["type"]) == (401, "login")
    assert other.post("/api/undo").status_code == 401
    # Health and the page itself are for everybody; they tell nothing of the household.
    assert other.get("/api/health").status_code == 200
    assert other.get("/api/receipts/" + "0" * 64).status_code == 401
    assert refused(other.post("/api/login", json={"password": "guessed"}))[0] == ["body", "password"]
    assert other.post("/api/login", json={"password": WORDS}).status_code == 200
    assert other.get("/api/household").status_code == 200
    # Another password puts everybody else out; without the present one nothing is changed.
    assert refused(other.put("/api/password", json={"new": WORDS + "!"}))[0] == ["body", "current"]
    done(other.put("/api/password", json={"current": WORDS, "new": WORDS + "!"}))
    assert mine.get("/api/household").status_code == 401
    done(other.post("/api/logout"))
    assert other.get("/api/household").status_code == 401
    # It is proved, not kept: the file does not hold it.
    assert WORDS.encode() not in store.path.read_bytes()
    store.set_door(None)
    assert mine.get("/api/household").status_code == 200


def test_wrong_tries_are_slowed_down_and_a_stay_ends() -> None:
    store, now = new_store(), [0.0]
    app = create_app(store, lambda: TODAY)
    app.state.doorkeeper.clock = lambda: now[0]
    mine = TestClient(app, base_url="http://127.0.0.1:8765")
    done(mine.put("/api/password", json={"new": WORDS, "minutes": 60}))
    statuses = []
    for _ in range(40):
        statuses.append(mine.post("/api/login", json={"password": "guessed"}).status_code)
        now[0] += 1
    assert statuses[:4] == [422] * 4
    # In forty seconds, not more than a handful are looked at.
    assert statuses.count(422) < 10
    assert set(statuses) == {422, 429}
    now[0] += 61
    assert mine.post("/api/login", json={"password": WORDS}).status_code == 200
    now[0] += 3599
    assert mine.get("/api/household").status_code == 200
    now[0] += 2
    assert mine.get("/api/household").status_code == 401


@pytest.mark.parametrize(
    ("method", "path", "headers", "status"),
    [
        ("GET", "/api/health", {"host": "evil.example"}, 403),
        ("POST", "/api/undo", {"origin": "http://evil.example"}, 403),
        ("POST", "/api/undo", {"origin": "http://[bad"}, 400),
        ("POST", "/api/undo", {"origin": "null"}, 403),
        ("GET", "/%00", {}, 400),
        ("GET", "/api/%00", {}, 400),
        ("GET", "/" + "a" * 6000, {}, 404),
        ("GET", "/assets/none.js", {}, 404),
        ("GET", "/api/none", {}, 404),
        ("PATCH", "/api/undo", {}, 404),
        ("DELETE", "/assets/none.js", {}, 405),
        ("POST", "/api/plan/check", {"content-type": "application/json"}, 413),
    ],
)  # fmt: skip
def test_every_refusal_has_one_form_and_the_same_headers(
    method: str, path: str, headers: dict[str, str], status: int
) -> None:
    body = b"[" * 200 + b"]" * 200 if status == 413 else None
    answer = browser(new_store()).request(method, path, headers=headers, content=body)
    assert answer.status_code == status
    (problem,) = answer.json()["detail"]
    assert problem.keys() == {"loc", "msg", "type"}
    assert problem["msg"][0].isupper()
    assert problem["msg"].endswith(".")
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert "default-src 'none'" in answer.headers["content-security-policy"]


def test_a_request_may_be_so_large_and_so_deep() -> None:
    client = browser(new_store())
    too_large = client.post("/api/plan/check", content=b'"' + b"a" * (20 * 2**20) + b'"')
    assert too_large.status_code == 413
    for levels in (DEEPEST_JSON, DEEPEST_JSON + 1):
        answer = client.post("/api/plan/check", content=b"[" * levels + b'"[[[\\"["' + b"]" * levels)
        assert answer.status_code == (200 if levels == DEEPEST_JSON else 413)
    assert depth(json.dumps({"a": [1, {"b": "]}{["}]}).encode()) == 3


def test_beyond_this_computer_only_with_a_password_and_named_hosts(capsys: pytest.CaptureFixture[str]) -> None:
    file = new_file()
    serve = ["serve", "--file", str(file), "--port", "0", "--host"]
    for host, words in (("", "needs an address"), ("0.0.0.0", "set a password first"), ("::", "set a password first")):
        assert cli.main([*serve, host]) == 2
        assert words in capsys.readouterr().err
    store = Store(file)
    keeper = create_app(store, lambda: TODAY).state.doorkeeper
    keeper.change("", WORDS, 480, "here")
    store.close()
    assert cli.main([*serve, "0.0.0.0"]) == 2
    assert "--allow-host NAME" in capsys.readouterr().err
    store = Store(file)
    named = browser(store, "0.0.0.0", "Kitchen.local", base="http://kitchen.local:8765")
    assert named.get("/api/health").status_code == 200
    assert browser(store, "kitchen.local", base="http://other.local").get("/api/health").status_code == 403


def test_what_a_household_typed_becomes_no_formula_and_no_control_character() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    client = browser(store)
    plan = done(client.get("/api/plan"))
    plan["accounts"][0]["name"] = '=HYPERLINK("http://evil.example")'
    plan["flows"][0]["name"] = "+1+1\x07"
    plan["entries"][0]["payee"] = "@SUM(A1)\x1b"
    done(client.put("/api/plan", json=plan))
    book = load_workbook(BytesIO(client.get("/api/export/all.xlsx").content))
    assert book.sheetnames == ["Accounts", "Entries", "Flows", "Loans", "Months", "Expected"]
    cells = [cell for sheet in book for row in sheet.iter_rows() for cell in row]
    assert not [cell.value for cell in cells if cell.data_type == "f"]
    assert {'=HYPERLINK("http://evil.example")', "+1+1", "@SUM(A1)"} <= {cell.value for cell in cells}
    loan = load_workbook(BytesIO(client.get("/api/debts/schedule.xlsx?account=house").content)).active
    assert loan is not None
    assert loan["A1"].data_type == "s"
    # Every entry's lines sum to zero.
    rows = list(csv.DictReader(client.get("/api/export/all.csv").text.splitlines()))
    sums: dict[tuple[str, str], Decimal] = {}
    for row in rows:
        of = row["entry"], row["currency"]
        sums[of] = sums.get(of, Decimal(0)) + Decimal(row["amount"])
    assert set(sums.values()) == {0}
    assert {row["entry"] for row in rows} == {entry["id"] for entry in plan["entries"]}


def test_a_document_is_looked_at_before_it_takes_the_households_place() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    client = browser(store)
    plan = done(client.get("/api/plan"))
    assert done(client.post("/api/plan/look", json=plan))["differences"] == []
    plan["flows"][0]["name"] = "Another"
    gone = plan["entries"].pop()
    plan["allowances"].append({**plan["allowances"][0], "id": "new", "name": "New", "categories": []})
    refused(client.post("/api/plan/look", json=plan))
    plan["allowances"].pop()
    told = {each["kind"]: each for each in done(client.post("/api/plan/look", json=plan))["differences"]}
    assert (told["flow"]["changed"], told["flow"]["names"]) == (1, ["Another"])
    assert (told["entry"]["removed"], told.keys()) == (1, {"flow", "entry"})
    assert gone["payee"] in told["entry"]["names"][0]


@pytest.mark.parametrize("ending", ["json", "csv", "xlsx", "zip"])
def test_commands_back_up_restore_export_and_import(
    ending: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = new_file()
    store = Store(file)
    fill_with_demo(store, TODAY)
    # The app is open meanwhile.
    client = browser(store)
    before = done(client.get("/api/plan"))

    def run(*words: str, code: int = 0) -> str:
        assert cli.main([*words, "--file", str(file), "--today", "2027-03-01"]) == code
        out, err = capsys.readouterr()
        told = err if code else out
        assert told.count("\n") == 1
        return told

    backup, exported = tmp_path / "backup.sqlite3", tmp_path / f"all.{ending}"
    assert "checked" in run("backup", str(backup))
    assert str(exported) in run("export", str(exported))
    assert exported.stat().st_mode & 0o077 == 0
    if ending != "json":
        # It is no plan, and so is taken for a bank's file, which it is not either.
        assert re.search("--account|looked for", run("import", str(exported), code=2))
        return
    changed = {**before, "name": "Others", "entries": before["entries"][1:]}
    exported.write_text(json.dumps(changed))
    assert "entry: 1 gone" in run("import", str(exported), "--dry-run")
    assert done(client.get("/api/plan")) == before
    run("import", str(exported))
    assert done(client.get("/api/plan"))["name"] == "Others"
    assert "undo takes it back" in run("restore", str(backup))
    assert done(client.get("/api/plan")) == before
    done(client.post("/api/undo"))
    assert done(client.get("/api/plan"))["name"] == "Others"
    assert "no file" in run("restore", str(tmp_path / "none"), code=2)
    exported.write_text(json.dumps({**changed, "version": 9}))
    assert "Update the app" in run("import", str(exported), code=2)


def test_what_is_no_http_and_too_many_connections() -> None:
    with serving("demo") as server:
        port = server.port
        with socket.create_connection(("127.0.0.1", port)) as odd:
            odd.sendall(b"NONSENSE\r\n\r\n")
            assert b"400 Bad Request" in odd.recv(100)
        # As many as may be connected, each in the middle of a request: they give way, the oldest first.
        held = [socket.create_connection(("127.0.0.1", port)) for _ in range(connections.MOST_CONNECTIONS)]
        for number, each in enumerate(held):
            head = f"POST /api/undo HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Length: 9\r\n"
            each.sendall((head + ("\r\n{" if number % 2 else "")).encode())
        for _ in range(3):
            with socket.create_connection(("127.0.0.1", port)) as late:
                late.sendall(f"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode())
                assert b"200 OK" in late.recv(100)
        for each in held:
            each.close()
