"""Your data in the browser: backups, restoring and undoing it, a file that was replaced, a plan document, a password."""

import json
import os
import re
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

WORDS = "four words are enough"


def test_a_backup_is_made_looked_at_restored_and_that_is_undone(
    page: Page, served: Callable[..., str], tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    address = served("demo", "--file", str(tmp_path / "home.sqlite3"))
    page.goto(f"{address}/accounts")
    page.get_by_role("link", name="Your data").click()
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_text(re.compile("Backed up, and checked")).first).to_be_visible()
    page.goto(f"{address}/accounts/your/data?slip=entry:new")
    page.get_by_label("Amount (USD)").fill("12.34")
    page.get_by_label("Payee").fill("Ferry kiosk")
    page.get_by_role("button", name="as last time").click()
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("complementary")).to_have_count(0)

    def entries() -> int:
        return len(page.request.get(f"{address}/api/plan").json()["entries"])

    count = entries()
    asked = page.get_by_role("row", name=re.compile("asked for"))
    asked.get_by_role("button", name=re.compile("^Look at the backup")).click()
    holds = page.get_by_role("region", name="What it holds")
    expect(holds).to_contain_text(f"{count - 1:,} entries, the last of Sun Feb 28")
    expect(holds.get_by_role("listitem").filter(has_text="Joint checking")).to_contain_text("$3,922.83")
    check_axe()
    holds.get_by_role("button", name="Restore this one").click()
    expect(page.get_by_text(re.compile("^Restored the backup of")).first).to_be_visible()
    assert entries() == count - 1
    with page.expect_response(re.compile("/api/undo")) as undone:
        page.get_by_role("button", name="Undo").click()
    assert undone.value.json()["done"].startswith("Undone: restored"), undone.value.text()
    assert entries() == count
    expect(page.get_by_role("row", name=re.compile("what was there before a restoring"))).to_be_visible()
    # The same from a file that was downloaded.
    with page.expect_download() as download:
        page.get_by_role("link", name="Download a copy").click()
    page.get_by_label("A backup from elsewhere").set_input_files(download.value.path())
    expect(page.get_by_role("row", name=re.compile("brought from elsewhere"))).to_be_visible()
    page.get_by_label("A backup from elsewhere").set_input_files(
        {"name": "x", "mimeType": "text/plain", "buffer": b"no"}
    )
    expect(page.get_by_role("alert")).to_contain_text(re.compile("damaged|no Next Penny household"))


@pytest.mark.file_fault
def test_a_file_replaced_under_the_app_is_said_and_nothing_is_lost(
    page: Page, served: Callable[..., str], tmp_path: Path
) -> None:
    file = tmp_path / "home.sqlite3"
    address = served("demo", "--file", str(file))
    page.goto(f"{address}/accounts/your/data")
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_role("row", name=re.compile("asked for"))).to_be_visible()
    change = {"op": "update", "kind": "household", "id": "household", "value": {"name": "The Others"}}
    assert page.request.post(f"{address}/api/changes", data={"changes": [change]}).ok
    (backup,) = (tmp_path / "home-backups").glob("*-asked.sqlite3")
    shutil.copy(backup, tmp_path / "aside")
    os.replace(tmp_path / "aside", file)
    refused = page.request.post(f"{address}/api/changes", data={"changes": [change]})
    assert refused.status == 503
    assert refused.json()["detail"][0]["type"] == "other_file"
    page.goto(f"{address}/flows")
    expect(page.get_by_role("alert")).to_contain_text("Another file was put in the place")
    page.get_by_role("link", name="What can be done").click()
    page.get_by_role("button", name="Keep what was open as a backup").click()
    kept = page.get_by_role("row", name=re.compile("what was open when the file became another"))
    expect(kept).to_be_visible()
    page.get_by_role("button", name="Open the file that is there now").click()
    expect(page.get_by_role("button", name="Open the file that is there now")).to_have_count(0)
    expect(page.get_by_text("The Thornquills of Sandry Quay").first).to_be_visible()
    # All is read anew of the other file, before one looks further.
    page.wait_for_load_state("networkidle")
    kept.get_by_role("button", name=re.compile("^Look at the backup")).click()
    page.get_by_role("button", name="Restore this one").click()
    expect(page.get_by_text("The Others").first).to_be_visible()


def test_a_plan_document_shows_what_it_would_change_first(
    page: Page, demo: str, tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/accounts/your/data")
    with page.expect_download() as download:
        page.get_by_role("link", name="The whole plan").click()
    plan = json.loads(Path(download.value.path()).read_text())
    plan["flows"][0]["name"], plan["entries"] = "Another name", plan["entries"][:-2]
    changed = tmp_path / "changed.json"
    changed.write_text(json.dumps(plan))
    page.get_by_label("A whole plan").set_input_files(changed)
    would = page.get_by_role("region", name="What it would change")
    expect(would).to_contain_text("1 flow changed")
    expect(would).to_contain_text("2 entries gone")
    check_axe()
    would.get_by_role("button", name="Replace the household by it").click()
    expect(page.get_by_text("The household is as that plan has it.").first).to_be_visible()
    assert len(page.request.get(f"{demo}/api/plan").json()["entries"]) == len(plan["entries"])
    changed.write_text("{")
    page.get_by_label("A whole plan").set_input_files(changed)
    expect(page.get_by_role("alert")).to_contain_text("it cannot be read")


def test_with_a_password_a_second_browser_gets_in_only_with_it(
    page: Page, browser: Browser, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/accounts/your/data")
    page.get_by_label("New password").fill("short")
    page.get_by_role("button", name="Set a password").click()
    expect(page.get_by_text("Choose at least 8 characters")).to_be_visible()
    page.get_by_label("New password").fill(WORDS)
    page.get_by_role("button", name="Set a password").click()
    expect(page.get_by_role("button", name="Change it")).to_be_visible()
    context = browser.new_context()
    other = context.new_page()
    other.goto(f"{demo}/debts")
    password = other.get_by_label("Password")
    password.fill("a guess of mine")
    password.press("Enter")
    expect(other.get_by_text("This is not the password.")).to_be_visible()
    expect(other.get_by_text("Mortgage")).to_have_count(0)
    password.fill(WORDS)
    password.press("Enter")
    expect(other.get_by_role("heading", name="Debts")).to_be_visible()
    context.close()
    page.get_by_role("button", name="Log out here").click()
    expect(page.get_by_role("button", name="Go in")).to_be_visible()
    check_axe()
    page.get_by_label("Password").fill(WORDS)
    page.keyboard.press("Enter")
    page.get_by_label("Password now").fill(WORDS)
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_role("button", name="Set a password")).to_be_visible()
