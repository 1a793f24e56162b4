"""The way out of debt in the browser: planned, ordered, turned, adopted, followed, and dropped."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect


def asked(page: Page, demo: str, **wish: Any) -> dict[str, Any]:
    """What the API says of the same wish."""
    answer = page.request.post(f"{demo}/api/payoff", data={"want": ["affordable", "cheapest"], **wish})
    assert answer.ok
    return answer.json()


def dollars(amount: int) -> str:
    return f"${amount / 100:,.2f}"


def month_name(month: str) -> str:
    names = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
    return f"{names[int(month[5:]) - 1]} {month[:4]}"


def open_way_out(page: Page, demo: str) -> None:
    page.goto(f"{demo}/debts/way-out")
    expect(page.get_by_test_id("whole")).to_be_visible()


def test_a_way_out_is_planned_adopted_and_followed(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/debts")
    page.get_by_role("link", name="The way out").click()
    whole = page.get_by_test_id("whole")
    # One begins with what is paid now.
    paid_now = page.request.get(f"{demo}/api/payoff/progress").json()["paid_now"]
    assert paid_now > 0
    plain = asked(page, demo, extra_monthly=paid_now)
    expect(whole).to_contain_text(f"Debt-free in {month_name(plain['debt_free'])}")
    # The short month bears nothing; from May on the forecast bears an extra, and that is taken.
    later = plain["affordable"]["later"]
    page.get_by_role("button", name="Take it", exact=True).first.click()
    expect(page.get_by_label("Extra each month", exact=True)).to_have_value(f"{later['amount'] / 100:.2f}")
    wish = {"start": later["month"], "extra_monthly": later["amount"]}
    planned = asked(page, demo, **wish)
    expect(whole).to_contain_text(dollars(planned["total_interest"]))
    # What is tried stays while one looks elsewhere.
    page.get_by_role("link", name="Settle").click()
    page.goto(f"{demo}/debts")
    page.get_by_role("link", name="The way out").click()
    expect(page.get_by_label("Extra each month", exact=True)).to_have_value(f"{later['amount'] / 100:.2f}")
    expect(whole).to_contain_text(dollars(planned["total_interest"]))
    assert planned["affordable"]["even"] == later["amount"]

    # A debt is dragged to the front: the order is the household's own.
    debts = page.get_by_role("region", name="In paying order").get_by_role("listitem")
    last = debts.filter(has_text="Solar loan")
    last.drag_to(debts.first)
    expect(debts.first).to_contain_text("Solar loan")
    expect(page.get_by_role("radio", name="My own order")).to_be_checked()
    # By keys it goes back down a place.
    page.get_by_role("button", name="Solar loan: later").press("ArrowDown")
    expect(debts.nth(1)).to_contain_text("Solar loan")
    # In whatever order they stand now: where a drag lets go is the mouse's.
    named = {row["account"]["name"]: row["account"]["id"] for row in
             page.request.get(f"{demo}/api/accounts").json()["accounts"] if row["is_debt"]}  # fmt: skip
    order = [next(id for name, id in named.items() if name in text) for text in debts.all_text_contents()]
    own = asked(page, demo, **wish, strategy="custom", order=order)
    expect(whole).to_contain_text(dollars(own["total_interest"]))

    # A sum is placed in a month.
    page.get_by_role("button", name="A sum in one month").click()
    page.get_by_label("How much").fill("1,5")
    page.get_by_role("button", name="Place it").click()
    expect(page.get_by_text("Is 1.50 meant?")).to_be_visible()
    page.get_by_label("How much").fill("1500")
    page.get_by_role("button", name="Place it").click()
    expect(page.get_by_text("$1,500.00 once, in May 2027")).to_be_visible()
    wish |= {"strategy": "custom", "order": order, "one_time": [{"month": "2027-05", "amount": 1_500_00}]}
    planned = asked(page, demo, **wish)
    expect(whole).to_contain_text(dollars(planned["total_interest"]))
    first = planned["months"][0]["debts"]["harbour"]
    months = page.get_by_role("region", name="Month by month")
    expect(months.get_by_role("row", name=re.compile("^May 2027"))).to_contain_text(f"+ {first['extra'] / 100:,.2f}")
    expect(page.get_by_role("row", name=re.compile("^Cheapest"))).to_contain_text(
        dollars(planned["cheapest"]["total_interest"])
    )

    # It is looked at, and made the plan.
    page.get_by_role("button", name="Make this the plan").click()
    expect(page.get_by_test_id("effect")).to_contain_text("Lowest on Joint checking")
    page.get_by_role("button", name="Make this the plan").click()
    progress = page.get_by_test_id("progress")
    expect(progress).to_contain_text(f"begins in May 2027; debt-free in {month_name(planned['debt_free'])}")
    page.goto(f"{demo}/debts")
    expect(page.get_by_text(f"debt-free in {month_name(planned['debt_free'])}")).to_be_visible()

    page.goto(f"{demo}/debts/way-out")
    expect(progress).to_be_visible()
    check_axe()

    # Dropped, and back with undo.
    page.get_by_role("button", name="Drop the plan").click()
    expect(progress).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(progress).to_be_visible()


def test_a_month_paid_with_less_than_planned_is_read_off(page: Page, demo: str) -> None:
    wish = {"extra_monthly": 200_00, "debts": ["house", "engine"]}
    assert page.request.post(f"{demo}/api/payoff/adopt", data=wish).ok
    page.goto(f"{demo}/settle")
    due = page.get_by_role("group", name=re.compile("Mortgage")).first
    due.focus()
    page.keyboard.press("a")
    amount = page.get_by_label("Amount", exact=True)
    told = float(amount.input_value().replace(",", ""))
    amount.fill(f"{told - 900:.2f}")
    # The line goes at once; what it does is asked for when it is saved.
    with page.expect_response(lambda said: said.url.endswith("/api/settle") and said.request.method == "POST"):
        amount.press("Enter")
    expect(due).to_have_count(0)
    got = page.request.get(f"{demo}/api/payoff/progress").json()["progress"]
    assert got["ahead"] == -900_00
    open_way_out(page, demo)
    expect(page.get_by_test_id("progress")).to_contain_text("$900.00 behind")
    expect(page.get_by_test_id("progress")).to_contain_text(month_name(got["debt_free"]))


def test_questions_and_one_debt_for_several(page: Page, demo: str) -> None:
    open_way_out(page, demo)
    worth = page.get_by_role("region", name="Asked the other way round")
    worth.get_by_label("A sum", exact=True).fill("2000")
    worth.get_by_role("button", name="Work it out").nth(1).click()
    expect(page.get_by_test_id("worth").get_by_role("listitem")).to_have_count(5)
    worth.get_by_label("From savings").fill("1000")
    worth.get_by_role("button", name="Work it out").nth(2).click()
    expect(worth.get_by_text(re.compile("better by"))).to_be_visible()
    into_one = page.get_by_role("region", name="Several debts into one")
    into_one.get_by_role("button", name="Heron card").click()
    into_one.get_by_role("button", name="Boat engine loan").click()
    into_one.get_by_label("Rate, %").fill("6,x")
    into_one.get_by_label("Monthly payments").fill("0")
    expect(into_one.get_by_text("Write a rate such as 5.85.")).to_be_visible()
    expect(into_one.get_by_text("Write a number of payments.")).to_be_visible()
    into_one.get_by_label("Monthly payments").fill("36")
    into_one.get_by_label("Rate, %").fill("6")
    expect(page.get_by_test_id("consolidated")).to_contain_text("Costs $888.01 more than the plan")
    # Left out of the plan and taken in again.
    page.get_by_role("button", name="Leave Mortgage, 4 Quay Row out of this plan").click()
    expect(page.get_by_test_id("whole")).not_to_contain_text("2043")
    # The address keeps what is asked; what was asked a moment ago, and is not in it yet, is not lost either.
    expect(page).to_have_url(re.compile("way="))
    page.get_by_role("button", name="Take it in: Mortgage, 4 Quay Row").click()
    page.reload()
    expect(page.get_by_test_id("whole")).to_contain_text("2043")
