"""A bank's statement reconciled by keyboard alone, undone, opened again, and by phone."""

import re
from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def test_a_statement_is_reconciled_by_keyboard_undone_and_opened_again(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    rows = page.request.get(f"{demo}/api/register?account=joint&until=2027-02-28").json()["rows"]
    page.goto(f"{demo}/accounts/joint")
    # A check written in February, with the number after the last one, is not at the bank yet.
    for payee, number in (("Well digger", "0099"), ("Roofer", "0100")):
        page.get_by_role("button", name="Record an entry").press("Enter")
        fill(page, "Amount (USD)", "250")
        fill(page, "Payee", payee)
        choose(page, "Category", "Odds and ends")
        fill(page, "Day", "2027-02-27")
        if number == "0099":
            fill(page, "Check number", "0099")
        else:
            page.get_by_role("button", name="Take 0100").press("Enter")
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("button", name=re.compile(f"{payee}.*no. {number}"))).to_be_visible()
        page.keyboard.press("Escape")
    page.get_by_role("link", name="Statements").press("Enter")
    expect(page.get_by_label("From")).to_have_value("2027-02-01")
    fill(page, "Balance before (USD)", "1")
    fill(page, "Balance at its end (USD)", f"{rows[0]['balance'] / 100:.2f}")
    page.keyboard.press("Enter")
    status = page.get_by_role("main").get_by_role("status")
    expect(status).to_contain_text("Missing still:")
    expect(status).to_contain_text(re.compile(r"\d in|\d out"))
    # A wrong balance before is no way to even: deleted, and begun again as it is proposed.
    page.get_by_role("button", name="Delete").press("Enter")
    fill(page, "Balance at its end (USD)", f"{rows[0]['balance'] / 100:.2f}")
    page.keyboard.press("Enter")
    boxes = page.get_by_role("list", name="Entries").get_by_role("checkbox")
    boxes.first.focus()
    page.keyboard.press("Space")
    expect(boxes.first).to_be_checked()
    page.keyboard.press("End")
    expect(boxes.last).to_be_focused()
    page.keyboard.press("Shift+Space")
    expect(status).to_have_text("Missing still: $500.00 in")
    check_axe()
    for payee in ("Well digger", "Roofer"):
        page.get_by_role("checkbox", name=re.compile(payee)).press("Space")
    expect(status).to_have_text("Even")
    page.get_by_role("button", name="Finish it").press("Enter")
    expect(status).to_contain_text("Finished on")
    expect(page.get_by_text("2 outstanding, −$500.00 in all")).to_be_visible()
    # What it ticks is locked; the slip says so at its field, and nothing is lost.
    page.goto(f"{demo}/accounts/joint?slip=entry:{rows[0]['id']}")
    fill(page, "Amount (USD)", "99")
    page.keyboard.press("Control+Enter")
    expect(
        page.get_by_text("It stands on the finished statement of “Joint checking” to February 28, 2027").first
    ).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"{demo}/accounts")
    expect(page.get_by_text("reconciled to Sun Feb 28")).to_be_visible()
    # Undone it is open; done again and opened by hand, it can be changed.
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("reconciled to")).to_have_count(0)
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_text("reconciled to Sun Feb 28")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/accounts/joint/statements")
    page.get_by_role("link", name="Mon Feb 1 to Sun Feb 28").click()
    page.get_by_role("button", name="Open it again").click()
    page.get_by_role("button", name="Tick none").click()
    expect(status).to_contain_text("Missing still:")
    page.get_by_label("All up to").fill("2027-02-14")
    page.get_by_role("button", name="Tick them").click()
    expect(boxes.first).to_be_checked()
    check_axe()
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
