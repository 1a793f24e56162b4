"""Money lent: made in the slip, received in two presses with its interest, and what is late can be sent as a sentence."""

import re
from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def test_money_is_lent_comes_back_and_is_reminded_of(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts")
    page.get_by_role("link", name="Money lent").click()
    lent = page.get_by_role("list", name="Money lent").get_by_role("listitem")
    expect(lent.first).to_contain_text("$200.00 late since Sat Jun 20, 2026. $400.00 of $600.00 came back.")
    check_axe()
    # More than is owed is a question; nothing is recorded before it is answered.
    lent.first.get_by_role("button", name="Received from Mr. Quillon").press("Enter")
    form = page.get_by_role("form", name="Received from Mr. Quillon")
    expect(form.get_by_label("Received (USD)")).to_have_value("200.00")
    form.get_by_label("Received (USD)").fill("2,000")
    expect(form.get_by_role("status")).to_contain_text("and $1,800.00 more than is owed")
    form.get_by_role("button", name="Record it").press("Enter")
    expect(form.get_by_text("is the rest interest, a gift, or owed back?")).to_be_visible()
    check_axe()
    form.get_by_label("Received (USD)").fill("50")
    form.get_by_role("button", name="Record it").press("Enter")
    expect(lent.first).to_contain_text("$150.00 late since Mon Jul 20, 2026. $450.00 of $600.00 came back.")
    expect(lent.first).to_contain_text("Dear Mr. Quillon, $150.00 has been due since July 20, 2026: could you send it?")

    # Lent today from the joint account, with interest, in amounts: the effect is shown, and all is one step.
    page.get_by_role("button", name="Lend money").press("Enter")
    fill(page, "Name", "Boat shed")
    fill(page, "Lent to", "Ada Fenn")
    fill(page, "Owed to us today", "300")
    fill(page, "As of", "2027-01-30")
    choose(page, "Taken from", "Joint checking")
    choose(page, "Comes back into", "Cash tin")
    page.get_by_role("radio", name="An amount on days").press("Space")
    fill(page, "Each time", "100")
    fill(page, "Interest, % a year", "12")
    expect(page.get_by_text("The new account:")).to_be_visible()
    check_axe()
    page.keyboard.press("Control+Enter")
    ada = lent.filter(has_text="Ada Fenn")
    expect(ada).to_contain_text("$302.96 owed")
    expect(ada).to_contain_text("$2.96 of it interest")
    page.keyboard.press("Escape")
    page.set_viewport_size({"width": 390, "height": 844})
    ada.get_by_role("button", name="Received from Ada Fenn").click()
    form = page.get_by_role("form", name="Received from Ada Fenn")
    expect(form.get_by_role("status")).to_contain_text("$97.04 principal, $2.96 interest.")
    form.get_by_role("button", name="Record it").click()
    expect(ada).to_contain_text("$202.96 owed")
    expect(ada).to_contain_text("$97.04 of $300.00 came back, with $2.96 interest.")
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    page.goto(f"{demo}/accounts/tin")
    expect(page.get_by_role("button", name=re.compile("Ada Fenn")).first).to_be_visible()
    # What is in no balance stands in the run of days all the same.
    page.goto(f"{demo}/ahead?accounts=tin")
    run = page.get_by_role("region", name="Run of days")
    expect(run.get_by_text("not counted")).to_have_count(3)
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
    expect(run.get_by_text("not counted")).to_have_count(4)
