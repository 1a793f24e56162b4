"""Cards, lines and savings as a household meets them."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect
from test_slips import choose, save

Json = dict[str, Any]


def events(page: Page, address: str, until: str, source: str) -> list[Json]:
    found = page.request.get(f"{address}/api/forecast?until={until}").json()["events"]
    return [event for event in found if event["source"] == source]


def test_a_card_is_added_used_and_paid(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/debts?span=6m")
    page.get_by_role("button", name="Add a card or line").click()
    page.get_by_label("Name", exact=True).fill("Fen card")
    page.get_by_label("Owed today").fill("200")
    page.get_by_label("Limit").fill("1500")
    page.get_by_label("The cycle closes on day").fill("32")
    page.get_by_label("Days from closing to due").fill("20")
    page.get_by_label("Rate 1, % a year").fill("0")
    page.get_by_role("button", name="Another rate from a day on").click()
    page.get_by_label("Rate 2, % a year").fill("22.9")
    page.get_by_label("Rate 2 holds from").fill("2027-08-02")
    check_axe()
    page.get_by_role("button", name="Add the account").click()
    expect(page.get_by_text("A closing day is from 1 to 31.").first).to_be_visible()
    page.get_by_label("The cycle closes on day").fill("12")
    save(page)
    expect(page.get_by_role("table", name="Cards and lines").get_by_role("link", name="Fen card")).to_be_visible()

    # A bill and the groceries go on it: the expense stays on its day, the money leaves when the card is paid.
    page.goto(f"{demo}/flows?slip=flow:phones")
    choose(page, "Paid from", "Fen card")
    save(page)
    page.goto(f"{demo}/flows?slip=allowance:groceries")
    choose(page, "Paid from", "Fen card")
    save(page)
    paid = [each for each in events(page, demo, "2027-05-03", "card_payment") if each["name"] == "Payment, Fen card"]
    amounts = [each["amount"] for each in paid if each["account"] == "joint"]
    spent = sum(each["amount"] for each in page.request.get(f"{demo}/api/forecast?until=2027-03-12").json()["events"]
                if each["account"] != "joint" and each["name"] in ("Two phones", "Groceries"))  # fmt: skip
    assert (paid[0]["date"], amounts[0]) == ("2027-04-01", spent - 200_00)
    page.goto(f"{demo}/ahead?span=6m&from=2027-03-31&until=2027-04-02")
    line = page.get_by_role("button", name=re.compile("Payment, Fen card")).first
    line.click()
    expect(page.get_by_text(re.compile("Statement of Fri Mar 12 over .* in full"))).to_be_visible()
    expect(page.get_by_test_id("mark").filter(has_text="Fen card: 22.9%")).to_be_visible()

    # A fixed payment is tried against the rate that rises, and taken.
    page.goto(f"{demo}/debts")
    page.get_by_role("link", name="Heron card").click()
    expect(page.get_by_text("the rate is 24.49% in place of 3.9%")).to_be_visible()
    page.get_by_label("A fixed amount each time").fill("150")
    expect(page.get_by_test_id("tried")).to_contain_text("Jun 2028")
    check_axe()
    page.get_by_role("button", name="Pay so from now on").click()
    expect(page.get_by_text("$150.00 is paid from Joint checking")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("$90.00 is paid from Joint checking")).to_be_visible()
    page.get_by_role("button", name="Record as payments of the card").click()
    expect(page.get_by_text("count twice")).to_have_count(0)


def test_a_line_bridges_the_short_day_and_is_told_not_to(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    expect(page.get_by_test_id("reading")).to_contain_text("below the floor")
    page.goto(f"{demo}/debts/cards/harbour?slip=account:harbour")
    choose(page, "Lends by itself to", "Joint checking")
    expect(page.get_by_role("complementary")).to_contain_text("$250.00")
    save(page)
    expect(page.get_by_text("It lends by itself to Joint checking.")).to_be_visible()
    expect(page.get_by_role("region", name="The next twelve months").get_by_text("Lent")).to_be_visible()
    drawn = [each for each in events(page, demo, "2027-05-01", "line_draw") if each["account"] == "joint"]
    assert [each["amount"] for each in drawn] == [86_35]
    page.goto(f"{demo}/ahead?from=2027-03-31&until=2027-04-02")
    expect(page.get_by_test_id("reading")).not_to_contain_text("below the floor")
    expect(page.get_by_role("button", name=re.compile("Drawn on Harbour credit line")).first).to_be_visible()
    page.goto(f"{demo}/debts/cards/harbour?slip=account:harbour")
    choose(page, "Lends by itself to", "no account")
    save(page)
    page.goto(f"{demo}/ahead")
    expect(page.get_by_test_id("reading")).to_contain_text("$86.35 below the floor")


def test_savings_are_given_a_yield_and_the_next_credit_appears(page: Page, demo: str) -> None:
    page.goto(f"{demo}/accounts?slip=account:new:savings")
    page.get_by_label("Name", exact=True).fill("Nest")
    page.get_by_label("Balance today").fill("5000")
    page.get_by_role("radio", name="A plain rate").click()
    page.get_by_label("Rate, % a year").fill("3.65")
    page.get_by_text("How the bank counts").click()
    choose(page, "Interest earns interest day by day", "Interest earns nothing until it is credited")
    save(page)
    credit = next(each for each in events(page, demo, "2027-04-01", "savings_interest") if "Nest" in each["name"])
    # 31 days at 50 cents.
    assert (credit["date"], credit["amount"]) == ("2027-03-31", 15_50)
    page.goto(f"{demo}/ahead?accounts={credit['account']}")
    page.get_by_role("button", name=re.compile("Interest, Nest")).first.click()
    expect(page.get_by_text("$5,000.00 on average, at 3.65% a year")).to_be_visible()
    page.get_by_role("button", name="Change just this once").click()
    page.get_by_label("Amount (USD)").fill("16")
    page.get_by_role("button", name="Just this once", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Interest, Nest")).first).to_contain_text("16.00")
