"""Retake docs/screenshots from the demo household, with today pinned: `make screenshots`."""

import argparse
import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def why(page: Page) -> None:
    page.get_by_test_id("band").wait_for()
    page.get_by_role("button", name=re.compile("Health plan share")).first.click()


def said(page: Page) -> None:
    page.get_by_test_id("today").wait_for()
    page.keyboard.press("/")
    page.get_by_placeholder("Find something").fill("dentist 180 on the 14th")
    page.get_by_role("button", name="Do it").wait_for()
    page.get_by_test_id("effect").get_by_text("short").first.wait_for()


def with_extra(page: Page) -> None:
    page.get_by_label("Extra, variant 1", exact=True).fill("250")
    page.get_by_test_id("alternative").wait_for()
    page.locator("#page").evaluate("place => place.scrollTo(0, 0)")


def typed_off(page: Page) -> None:
    figures = {"Still owed": "235,577.40", "In escrow": "5,956.22", "Interest paid this year": "2,214.66"}
    for name, amount in figures.items():
        page.get_by_label(f"{name}, on the statement").fill(amount)
    page.get_by_role("region", name="What explains it").wait_for()


def says_otherwise(page: Page) -> None:
    page.get_by_label("Balance (USD)").fill("4,335.70")
    page.get_by_role("list", name="What would explain it").get_by_role("listitem").first.wait_for()


def which_is_off(page: Page) -> None:
    page.get_by_role("button", name="October 2026").click()
    page.get_by_role("status").wait_for()


def looked_at(page: Page) -> None:
    lines = (
        ("20270227", "-28.77", "FENWICK'S PASTRIES"),
        ("20270211", "-42.00", "FLUTE LESSONS"),
        ("20270228", "-418.00", "HEALTH PLAN SHARE"),
        ("20270226", "-12.80", "MILL LANE BAKERY"),
    )
    written = "".join(
        f"<STMTTRN><DTPOSTED>{day}<TRNAMT>{amount}<FITID>{name}<NAME>{name}</STMTTRN>" for day, amount, name in lines
    )
    of = "<OFX><STMTRS><CURDEF>USD<BANKACCTFROM><ACCTID>40071188</BANKACCTFROM><BANKTRANLIST>"
    file = f"{of}{written}</BANKTRANLIST></STMTRS></OFX>".encode()
    chosen = {"name": "february.ofx", "mimeType": "", "buffer": file}
    page.get_by_label("A file from a bank").set_input_files(chosen)  # type: ignore[arg-type]
    page.get_by_label("The account ending in 1188 goes to").press("Enter")
    page.get_by_role("option", name="Joint checking").click()
    page.get_by_text("Lowest ahead $").last.wait_for()


def three_ways(page: Page) -> None:
    for asked in (
        {"kind": "income_lost", "flow": "wren-pay", "from": "2027-05-01", "months": 1},
        {"kind": "group_changed", "group": "Home", "percent": "12", "from": "2027-07-01"},
    ):
        made = page.request.post(page.url.split("/ahead")[0] + "/api/ready-made", data=asked).json()
        page.request.post(page.url.split("/ahead")[0] + "/api/what-ifs", data=made)
    page.reload()
    page.get_by_role("table", name="Side by side").wait_for()


def taught(page: Page) -> None:
    for kind in ("A bank", "A mailbox"):
        page.get_by_role("button", name=kind, exact=True).click()
        page.get_by_role("button", name="Fill in the one to try").click()
        page.get_by_role("button", name="Connect", exact=True).click()
        page.get_by_role("listitem", name=f"{kind}, ").wait_for()
    page.get_by_role("button", name="Your morning notice").first.click()
    page.get_by_text("Balance on 28 February 2027:").get_by_role("button").click()
    page.get_by_text("is the balance of").scroll_into_view_if_needed()
    page.get_by_text("Connected.").first.wait_for(state="detached")


def half_done(page: Page) -> None:
    page.get_by_label("Balance at its end (USD)").fill("3,922.83")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("All up to").fill("2027-02-24")
    page.get_by_role("button", name="Tick them").click()
    page.get_by_text(re.compile("; [1-9][0-9]* ticked")).wait_for()
    page.get_by_text("Began the statement").first.wait_for(state="detached")


def spared(page: Page) -> None:
    page.get_by_role("button", name="Take it", exact=True).first.click()
    page.get_by_role("button", name="Take it", exact=True).first.wait_for(state="detached")


SHOTS: tuple[tuple[str, str, tuple[int, int], bool, Callable[[Page], None] | None], ...] = (
    ("ahead", "/ahead", DESK, False, why),
    ("ahead-dark-phone", "/ahead", PHONE, True, None),
    ("months", "/ahead/months", DESK, False, None),
    ("said", "/ahead", DESK, False, said),
    ("flows", "/flows", DESK, False, None),
    ("settle", "/settle", DESK, False, None),
    ("review", "/review?on=2027-02-10", DESK, False, None),
    ("goals", "/review/goals", DESK, False, None),
    ("year", "/review/year", DESK, False, None),
    ("debts", "/debts", DESK, False, None),
    ("way-out", "/debts/way-out", DESK, False, spared),
    ("loan", "/debts/house", DESK, False, with_extra),
    ("statement-check", "/debts/house/statement", DESK, False, typed_off),
    ("bank", "/accounts/joint", DESK, False, says_otherwise),
    ("reconciling", "/accounts/joint/statements", DESK, False, half_done),
    ("interest", "/accounts/rainy-day/interest", DESK, False, which_is_off),
    ("bank-file", "/accounts/your/bank-files", DESK, False, looked_at),
    ("connections", "/accounts/your/connections", DESK, False, taught),
    ("what-ifs", "/ahead/what-ifs?years=1", DESK, False, three_ways),
)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--today", required=True)
    today = parser.parse_args().today
    FOLDER.mkdir(parents=True, exist_ok=True)
    words = [sys.executable, "-m", "next_penny.cli", "demo", "--port", "0", "--today", today]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as server, sync_playwright() as playwright:
        assert server.stdout is not None
        address = server.stdout.readline().split()[-1]
        try:
            take(playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS), address)
        finally:
            server.terminate()


def take(browser: Browser, address: str) -> None:
    for name, path, (width, height), is_dark, prepare in SHOTS:
        page = browser.new_page(
            viewport={"width": width, "height": height}, color_scheme="dark" if is_dark else "light"
        )
        page.goto(address + path)
        page.wait_for_load_state("networkidle")
        page.get_by_role("link", name=re.compile("^Settle.*[0-9]")).first.wait_for()
        if prepare:
            prepare(page)
            page.wait_for_load_state("networkidle")
        page.screenshot(path=FOLDER / f"{name}.png")
        page.close()
    browser.close()


if __name__ == "__main__":
    main()
