"""An account abroad: its rate is typed where it lacks, money moves between currencies, and rates alone are told."""

from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def test_an_account_abroad_from_its_first_rate_on(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts")
    page.get_by_role("button", name="Add an account").click()
    fill(page, "Name", "Abroad")
    fill(page, "Balance today", "1,000")
    fill(page, "As of", "2027-01-15")
    fill(page, "Currency", "EUR")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("row", name="Abroad")).to_be_visible()
    page.keyboard.press("Escape")
    # What cannot be added up says which rate it needs, and takes it there.
    page.goto(f"{demo}/ahead/worth")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("There is no exchange rate from EUR to USD for")
    check_axe()
    alert.get_by_role("button", name="Type the rate").press("Enter")
    expect(page.get_by_label("One unit of")).to_have_value("EUR")
    fill(page, "From day", "2027-01-01")
    fill(page, "Is worth", "0")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Not saved yet. Is worth: A rate is above zero")).to_be_visible()
    check_axe()
    fill(page, "Is worth", "1.10")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("table", name="Net worth by kind")).to_be_visible()
    expect(page.get_by_text("Exchange rates alone added $0.00 by today.")).to_be_visible()

    # A second rate; on the page of rates, by phone; it is corrected, and what the rates did follows.
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/accounts/your/rates")
    expect(page.get_by_text("1 EUR = 1.1 USD since Fri Jan 1.")).to_be_visible()
    page.get_by_role("button", name="Add a rate").click()
    fill(page, "From day", "2027-02-20")
    fill(page, "Is worth", "12")
    page.keyboard.press("Control+Enter")
    page.get_by_role("button", name="1 EUR = 12 USD").click()
    fill(page, "Is worth", "1.2")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("1 EUR = 1.2 USD since Sat Feb 20.")).to_be_visible()
    check_axe()
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{demo}/ahead/worth")
    expect(page.get_by_text("Exchange rates alone added $100.00 by today.")).to_be_visible()
    page.goto(f"{demo}/review?on=2027-02-10")
    expect(page.get_by_text("Exchange rates alone")).to_be_visible()

    # Money moves home: what arrives is by the day's rate, or as it was said.
    page.goto(f"{demo}/accounts/joint")
    for arrives, wanted in (("", "+120.00"), ("118", "+118.00")):
        page.get_by_role("button", name="Record an entry").press("Enter")
        fill(page, "Amount (USD)", "100")
        page.get_by_role("radio", name="Moved").press("Space")
        choose(page, "From", "Abroad")
        choose(page, "To", "Joint checking")
        if arrives:
            fill(page, "Arrives (USD)", arrives)
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("button", name="Abroad to Joint checking").filter(has_text=wanted)).to_be_visible()
        page.keyboard.press("Escape")

    # What is due in dollars is paid in euros, as expected or in part; the rest stays due in dollars.
    page.goto(f"{demo}/settle")
    page.locator("li", has_text="Car insurance").get_by_role("button", name="Otherwise…").click()
    choose(page, "Account", "Abroad")
    expect(page.get_by_label("Amount in EUR")).to_have_value("")
    expect(page.get_by_text("$596.00, at the rate of the day")).to_be_visible()
    check_axe()
    fill(page, "Amount in EUR", "80")
    page.get_by_role("button", name="A part: the rest stays due").click()
    expect(page.get_by_role("group", name="Car insurance, $500.00")).to_be_visible()
    page.locator("li", has_text="Fuel").get_by_role("button", name="Otherwise…").click()
    choose(page, "Account", "Abroad")
    page.get_by_role("form", name="Settle Fuel otherwise").get_by_role("button", name="Settle").click()
    expect(page.locator("#page")).to_contain_text("−€42.68")
