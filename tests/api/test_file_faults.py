"""The household's file over HTTP: killed, overwritten, damaged; and doors that stay open to the right password."""

import json
import random
import shutil
import socket
import sqlite3
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from test_robustness import TODAY

from answers import Json, done, refused
from effort import examples
from next_penny.api.app import create_app
from next_penny.formats.workbooks.sheets import csv_text
from next_penny.store.store import Store
from servers import Server, serving
from stores import new_file, new_store

WORDS = "four words are enough"


def ask(server: Server, method: str, path: str, body: Any = None) -> Json:
    request = urllib.request.Request(server.address + path, json.dumps(body).encode() if body is not None else None,
                                     {"Content-Type": "application/json"}, method=method)  # fmt: skip
    with urllib.request.urlopen(request, timeout=30) as answer:
        found: Json = json.load(answer)
        return found


def category(id: str) -> Json:
    return {"changes": [{"op": "add", "kind": "category", "id": id, "value": {"name": id}}]}


def killed_often(kills: int) -> None:
    file, chance, known = new_file(), random.Random(21), set[str]()
    for number in range(kills):
        with serving("serve", "--file", str(file)) as server:
            held = {each["id"] for each in ask(server, "GET", "/api/plan")["categories"]}
            assert known <= held
            reader = sqlite3.connect(f"file:{file}?mode=ro", uri=True, isolation_level=None)
            reader.execute("BEGIN")
            reader.execute("SELECT count(*) FROM category").fetchone()
            with socket.create_connection(("127.0.0.1", server.port)) as slow:
                # Asked for and never read: another reader that lasts.
                slow.sendall(f"GET /api/plan HTTP/1.1\r\nHost: 127.0.0.1:{server.port}\r\n\r\n".encode())
                for count in range(chance.randrange(1, 8)):
                    ask(server, "POST", "/api/changes", category(f"c{number}-{count}"))
                    known.add(f"c{number}-{count}")
                server.process.kill()
            reader.close()
    assert len(known) > kills
    store = Store(file)
    assert store.file.notices == []
    assert store.undo(TODAY).label


def test_killed_over_http_with_readers_nothing_is_lost() -> None:
    killed_often(examples(4))


@pytest.mark.slow
def test_fifty_kills_over_http_lose_nothing_either() -> None:
    killed_often(50)


def test_an_overwritten_file_is_told_with_what_it_has_and_put_back(tmp_path: Path) -> None:
    file, elsewhere = tmp_path / "ours.sqlite3", tmp_path / "elsewhere.sqlite3"
    with serving("demo", "--file", str(file)) as server:
        ask(server, "POST", "/api/changes", category("ours"))
        ask(server, "POST", "/api/backups")
        backup = next((tmp_path / "ours-backups").glob("*-asked.sqlite3"))
        subprocess.run(["cp", str(backup), str(elsewhere)], check=True)
        other = Store(elsewhere)
        client = TestClient(create_app(other, lambda: TODAY), base_url="http://127.0.0.1:8765")
        done(client.post("/api/changes", json=category("theirs")))
        done(client.post("/api/undo"))
        done(client.post("/api/undo"))
        done(client.post("/api/changes", json=category("theirs")))
        other.close()
        subprocess.run(["cp", str(elsewhere), str(file)], check=True)
        number = ask(server, "GET", "/api/change-number")
        assert "was overwritten" in number["fault"]
        with pytest.raises(urllib.error.HTTPError) as refusal:
            ask(server, "POST", "/api/changes", category("lost"))
        assert refusal.value.code == 503
        there = ask(server, "GET", "/api/file/there")
        assert there["is_same_household"]
        (difference,) = there["differences"]
        assert (difference["kind"], difference["added"], difference["removed"]) == ("category", 1, 1)
        assert difference["names"] == ["ours", "theirs"]
        assert "ours" in {each["id"] for each in ask(server, "GET", "/api/plan")["categories"]}
        back = ask(server, "POST", "/api/file/put-back")
        assert (tmp_path / back["moved_to"]).read_bytes() == elsewhere.read_bytes()
        assert back["file"]["fault"] is None
        ask(server, "POST", "/api/changes", category("again"))


def test_a_folder_that_goes_away_is_told_and_nothing_is_lost_when_it_comes_back(tmp_path: Path) -> None:
    folder, away = tmp_path / "stick", tmp_path / "in the pocket"
    folder.mkdir()
    with serving("demo", "--file", str(folder / "ours.sqlite3")) as server:
        ask(server, "POST", "/api/changes", category("before"))
        folder.rename(away)
        for _ in range(2):
            fault = ask(server, "GET", "/api/change-number")["fault"]
            assert "no longer at" in fault
            assert "cannot be kept" in fault
            assert "before" in {each["id"] for each in ask(server, "GET", "/api/plan")["categories"]}
            with pytest.raises(urllib.error.HTTPError) as refusal:
                ask(server, "POST", "/api/changes", category("lost"))
            assert refusal.value.code == 503
            assert json.load(refusal.value)["detail"][0]["msg"] == fault
        away.rename(folder)
        assert ask(server, "GET", "/api/change-number")["fault"] is None
        ask(server, "POST", "/api/changes", category("after"))
        shutil.rmtree(folder)
        assert "cannot be kept" in ask(server, "GET", "/api/file")["fault"]
        folder.mkdir()
        assert "kept as the backup" in ask(server, "GET", "/api/change-number")["fault"]
        ask(server, "POST", "/api/file/put-back")
        assert {"before", "after"} <= {each["id"] for each in ask(server, "GET", "/api/plan")["categories"]}


FLIP = "import sys; f = open(sys.argv[1], 'r+b'); [(f.seek(int(at)), f.write(b'\\xa5')) for at in sys.argv[2:]]"


def test_damaged_pages_under_the_running_app_are_a_sentence_and_no_fault(demo: TestClient, store: Store) -> None:
    chance = random.Random(292)
    addresses = ("plan", "forecast?until=2027-09-01", "months?from=2026-09&count=12", "debts", "accounts", "settle",
                 "register?account=joint", "review/recorded-whole", "backups", "history", "goals-not-there")  # fmt: skip
    assert store.file.rest()
    told = set[int]()
    for _ in range(12):
        places = [str(chance.randrange(4096, store.path.stat().st_size)) for _ in range(400)]
        subprocess.run([sys.executable, "-c", FLIP, str(store.path), *places], check=True)
        told |= {demo.get(f"/api/{address}").status_code for address in addresses}
    assert told <= {200, 404, 422, 503}
    assert demo.get("/api/file").json()["fault"]
    assert demo.post("/api/file/put-back").status_code == 200
    assert len(done(demo.get("/api/plan"))["entries"]) > 100


def test_wrong_tries_from_elsewhere_do_not_shut_out_the_right_password() -> None:
    store = new_store()
    app = create_app(store, lambda: TODAY)
    app.state.doorkeeper.change("", WORDS, 480, "here")
    guest, owner = (
        TestClient(app, base_url="http://127.0.0.1:8765", client=(host, 5)) for host in ("10.0.0.8", "10.0.0.9")
    )
    wrong = [guest.post("/api/login", json={"password": "guess"}).status_code for _ in range(6)]
    assert (wrong[:3], wrong[-1]) == ([422] * 3, 429)
    done(owner.post("/api/login", json={"password": WORDS}))
    assert guest.post("/api/login", json={"password": WORDS}).status_code == 429
    receipt = owner.post("/api/receipts", content=b"%PDF-1.4 x %%EOF")
    kept = owner.get(f"/api/receipts/{receipt.json()['file']}")
    assert kept.headers["cache-control"] == "no-store"
    dotted = TestClient(app, base_url="http://localhost.:8765")
    assert dotted.get("/api/health").status_code == 200


@given(
    st.text(st.characters(codec="utf-8", exclude_categories=["Cc"])) | st.sampled_from(["'", "''=1", "=1", "-5", "\tx"])
)
def test_a_text_comes_out_of_a_csv_as_it_went_in_and_runs_nowhere(text: str) -> None:
    plain, written = text.replace("￾", "").replace("￿", ""), csv_text(text)
    is_guarded = plain.startswith(("=", "+", "-", "@", "\t", "'"))
    assert written == (f"'{plain}" if is_guarded else plain)
    assert not written.startswith(("=", "+", "-", "@", "\t"))


def test_what_no_household_asks_is_refused_in_a_sentence(demo: TestClient) -> None:
    for ids in (["nobody", "house"], ["house", "nobody"]):
        for path in ("/api/payoff", "/api/payoff/adopt"):
            loc, said = refused(demo.post(path, json={"debts": ids, "strategy": "smallest_balance"}))
            assert (loc, said) == (["body", "debts", ids.index("nobody")], "Choose a loan, a card or a line.")
    far = "2077-03-02"
    for answer in (
        demo.get(f"/api/forecast?until={far}"),
        demo.post("/api/forecast/preview", json={"until": far, "changes": []}),
        demo.get(f"/api/remedies?account=joint&from=2027-03-01&until={far}"),
        demo.post("/api/afford", json={"account": "joint", "amount": 1, "on": "2027-03-02", "until": far}),
        demo.post("/api/payoff", json={"until": far, "strategy": "minimums"}),
    ):
        assert "at most 50 years ahead" in refused(answer)[1]
    assert demo.get("/api/forecast?until=2077-03-01&accounts=joint").status_code == 200


def test_nulls_and_unknown_ids_in_a_change_are_answers_and_no_faults(demo: TestClient) -> None:
    plan = done(demo.get("/api/plan"))
    things = [(kind, each) for kind, name in (("account", "accounts"), ("flow", "flows"), ("allowance", "allowances"),
              ("category", "categories"), ("entry", "entries")) for each in plan[name][: examples(12)]]  # fmt: skip
    changes: list[Json] = []
    for kind, thing in things:
        for name in thing.keys() - {"id"}:
            changes += [
                {"op": "update", "kind": kind, "id": id, "value": {name: None}} for id in (thing["id"], "nobody")
            ]
            changes.append(
                {"op": "revise", "kind": kind, "id": thing["id"], "from": "2027-04-01", "value": {name: None}}
            )
            changes.append({"op": "add", "kind": kind, "id": "new", "value": {**thing, "id": "new", name: None}})
        changes.append(
            {"op": "once", "kind": kind, "id": thing["id"], "nominal": "2027-04-01", "value": {"amount": None}}
        )
    for change in changes:
        answer = demo.post("/api/forecast/preview", json={"until": "2027-06-01", "changes": [change]})
        assert answer.status_code in (200, 422), (change, answer.text)
        for problem in answer.json().get("detail", []):
            assert "Input should" not in problem["msg"], (change, problem)


def test_two_servers_with_large_receipts_are_not_alarmed_by_each_other() -> None:
    file = new_file()
    with serving("serve", "--file", str(file)) as first, serving("serve", "--file", str(file)) as second:
        for number in range(4):
            server = (first, second)[number % 2]
            content = b"%PDF-1.4 " + random.Random(number).randbytes(8 * 2**20) + b" %%EOF"
            request = urllib.request.Request(f"{server.address}/api/receipts", content, method="POST")
            with urllib.request.urlopen(request, timeout=60) as answer:
                assert answer.status == 200
            for each in (first, second):
                ask(each, "POST", "/api/changes", category(f"c{number}-{each.port}"))
                assert ask(each, "GET", "/api/change-number")["fault"] is None
        assert len(ask(first, "GET", "/api/plan")["categories"]) == 8
