"""A bank, a mailbox and rates to try, as the demo starts them: connected, asked, taught, and at a loss."""

import shutil
from collections.abc import Callable
from pathlib import Path

from hands import choose
from playwright.sync_api import Page, expect


def test_a_bank_is_connected_fetched_days_later_and_a_notice_is_taught(
    page: Page, served: Callable[..., str], demo_file: Path, tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    demo = served("demo", "--file", str(shutil.copy(demo_file, tmp_path / "demo.sqlite3")))
    page.goto(f"{demo}/accounts/your/connections")
    expect(page.get_by_text("Nothing is connected yet")).to_be_visible()
    for kind in ("A bank", "A mailbox"):
        page.get_by_role("button", name=kind, exact=True).click()
        page.get_by_role("button", name="Fill in the one to try").click()
        check_axe()
        page.get_by_role("button", name="Connect", exact=True).click()
        expect(page.get_by_role("listitem", name=f"{kind}, ")).to_be_visible()
    bank, mail = (page.get_by_role("listitem", name=f"{kind}, ") for kind in ("A bank", "A mailbox"))
    # What the household recorded is what the bank booked: known from then on.
    bank.get_by_role("button", name="Get what is new").click()
    for name in ("Joint checking", "Rainy-day savings", "Heron card", "Wharf card"):
        label = page.get_by_role("combobox", name=f"“{name}” (…")
        label.press("Enter")
        page.get_by_role("option", name=name, exact=True).click()
        region = page.get_by_role("region", name=f"“{name}” (…")
        expect(region.get_by_role("region", name="Found: ")).to_be_visible()
        expect(region.get_by_role("region", name="New: ")).to_have_count(0)
    page.get_by_role("button", name="Take in").click()
    expect(page.get_by_text("Took in 1").first).to_be_visible()
    # A bill is put off; three days later the bank has booked what was due.
    page.goto(f"{demo}/accounts/your/connections")
    for day in (2, 3, 4):
        page.get_by_role("button", name="Let a day pass").click()
        expect(page.get_by_text(f"Mar {day}.")).to_be_visible()
    bank.get_by_role("button", name="Get what is new").click()
    expect(page.get_by_text("What the bank has new")).to_be_visible()
    new = page.get_by_role("region", name="New: ").first
    expect(page.get_by_text("as expected").first).to_be_visible()
    label = new.get_by_role("combobox", name="Category: ").first.get_attribute("aria-label") or ""
    choose(page, label, "Outings and treats")
    new.get_by_role("button", name="Always so").click()
    expect(page.get_by_role("list", name="New rules")).to_contain_text("always to Outings and treats")
    check_axe()
    page.get_by_role("button", name="Take in").click()
    expect(page.get_by_text("Took in").first).to_be_visible()
    page.goto(f"{demo}/accounts/your/connections")
    bank.get_by_role("button", name="Get what is new").click()
    # What was left to decide waits; nothing comes twice.
    expect(page.get_by_text("Nothing new.").first).to_be_visible()
    # One number is pointed at, and read from this sender from then on.
    mail.get_by_role("button", name="Your morning notice").first.click()
    line = mail.get_by_text("Balance on 3 March 2027:")
    line.get_by_role("button").click()
    choose(page, f"{line.get_by_role('button').inner_text()} is the balance of", "Joint checking")
    mail.get_by_role("button", name="Read it from now on").click()
    expect(mail.get_by_text("Joint checking, from notices@bank.example")).to_be_visible()
    page.get_by_role("button", name="Let a day pass").click()
    expect(mail.get_by_text("not taken yet")).to_be_visible()
    mail.get_by_role("button", name="Get what is new").click()
    expect(page.get_by_text("1 balance from messages.").first).to_be_visible()
    expect(mail.get_by_text("not taken yet")).to_have_count(0)
    # A bank at a loss says so, at its place, and is still there.
    page.get_by_role("radio", name="talks nonsense").click()
    bank.get_by_role("button", name="Get what is new").click()
    expect(bank.get_by_role("alert")).to_contain_text("cannot be read as OFX")
    page.set_viewport_size({"width": 390, "height": 844})
    check_axe()
    bank.get_by_role("button", name="Disconnect").click()
    expect(bank).to_have_count(0)
