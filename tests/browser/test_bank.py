"""The bank says another balance: what would explain it is found, and mended with one press."""

import re
from collections.abc import Callable
from typing import Any

from hands import choose, fill
from playwright.sync_api import Page, expect


def test_a_difference_to_the_bank_is_found_and_mended(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    def rows() -> list[dict[str, Any]]:
        return list(page.request.get(f"{demo}/api/register?account=joint").json()["rows"])

    def entry(id: str) -> dict[str, Any]:
        return next(each for each in page.request.get(f"{demo}/api/plan").json()["entries"] if each["id"] == id)

    def change(**what: Any) -> None:
        assert page.request.post(f"{demo}/api/changes", data={"changes": [{"kind": "entry", **what}]}).ok

    true = rows()[0]["balance"]
    larder = entry(next(row["id"] for row in rows() if row["payee"] == "Tollgate Larder"))
    assert larder["legs"][0]["amount"] == -105_88
    turned = [{**leg, "amount": 150_88 if leg["amount"] > 0 else -150_88} for leg in larder["legs"]]
    ferry = entry(rows()[0]["id"])
    planted = (
        (
            {"op": "add", "id": "twice", "value": {key: larder[key] for key in ("date", "payee", "legs")}},
            "stands twice",
        ),
        ({"op": "update", "id": larder["id"], "value": {"legs": turned}}, "was $105.88, not $150.88."),
        ({"op": "update", "id": ferry["id"], "value": {"date": "2027-03-02"}}, "is of Mon Mar 1 at the bank."),
    )
    for mistake, says in planted:
        change(**mistake)
        page.goto(f"{demo}/accounts/joint")
        bank = page.get_by_role("region", name="The bank says")
        bank.get_by_label("Balance (USD)").fill(f"{true / 100:.2f}")
        expect(bank.get_by_role("status")).to_contain_text("What would explain it:")
        check_axe()
        bank.get_by_role("button", name=re.compile(re.escape(says))).first.press("Enter")
        expect(bank.get_by_role("list", name="What the bank said before")).to_contain_text("the books agree")
        assert sum(row["amount"] for row in rows() if row["date"] <= "2027-03-01") == sum(
            row["amount"] for row in rows()
        )
        # One press, one step: what was mended and what the bank said go together.
        page.get_by_role("button", name="Undo").click()
        expect(bank.get_by_role("list", name="What the bank said before")).to_have_count(0)
        page.request.post(f"{demo}/api/undo")

    # In Settle, and from the phone: what nobody can explain is left for later, told meanwhile, then booked.
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/settle")
    page.get_by_text("Does the bank say the same?").press("Enter")
    choose(page, "Of which account", "Cash tin")
    counted = page.get_by_role("region", name="Counted")
    fill(page, "Balance (USD)", "5,417.60")
    expect(counted.get_by_role("status")).to_contain_text("The books say $540.76: $4,876.84 too little.")
    check_axe()
    fill(page, "Balance (USD)", "540.00")
    counted.get_by_role("button", name="Leave it for later").press("Enter")
    expect(counted.get_by_text("the books have $0.76 too much")).to_be_visible()
    page.goto(f"{demo}/accounts")
    expect(page.get_by_text("the books have $0.76 too much")).to_be_visible()
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    page.goto(f"{demo}/accounts/tin")
    fill(page, "Balance (USD)", "540.00")
    page.get_by_role("button", name="Book the difference").click()
    expect(counted.get_by_text("the books agree")).to_be_visible()
    expect(page.get_by_role("region", name="Entries").get_by_text("Difference to the bank").first).to_be_visible()
    counted.get_by_role("button", name=re.compile("^Take away")).click()
    expect(counted.get_by_text("the books agree")).to_have_count(0)
    page.goto(f"{demo}/accounts")
    expect(page.get_by_text("true on")).to_have_count(0)


def test_the_banks_interest_is_held_against_every_way_of_counting(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/accounts/rainy-day")
    page.get_by_role("link", name="Interest", exact=True).click()
    expect(page.get_by_text("the bank paid $272.08; as the account counts it is $272.44.")).to_be_visible()
    months = page.get_by_role("main").get_by_role("listitem")
    off = months.filter(has_text="October 2026").first
    expect(off).to_contain_text("$25.10$0.37 less than $25.47, as the account counts")
    off.get_by_role("button", name="October 2026").press("Enter")
    expect(off.get_by_role("status")).to_contain_text("No way of counting gives $25.10")
    off.get_by_text("Day by day").press("Enter")
    expect(off.get_by_role("row")).to_have_count(32)
    check_axe()
    # Another way that gives the same is kept as the account's own, and taken back.
    right = months.filter(has_text="February 2027").first
    right.get_by_role("button", name="February 2027").press("Enter")
    right.get_by_text("The nearest ways of counting").press("Enter")
    right.get_by_role("button", name=re.compile("^Count so: the days of the year")).press("Enter")
    own = right.get_by_role("listitem").filter(has_text="the account's own")
    expect(own).to_contain_text("the days of the year")
    page.get_by_role("button", name="Undo").click()
    expect(own).to_contain_text("a year of 365 days")

    # On typed figures, by phone, in no particular order; a zero too many is another sentence.
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/accounts/your/interest")
    fill(page, "Percent a year", "4")
    fill(page, "Interest paid (USD)", "326.60")
    page.get_by_role("radio", name="a rate").click()
    page.get_by_role("button", name="A deposit or withdrawal").click()
    fill(page, "Last day", "2027-01-31")
    fill(page, "First day", "2027-01-01")
    fill(page, "At the start (USD)", "10,000")
    fill(page, "Day 1", "2027-01-31")
    fill(page, "In, or out with a minus", "-1,200")
    verdict = page.get_by_role("status")
    expect(verdict).to_contain_text("No way of counting gives $326.60")
    fill(page, "Interest paid (USD)", "33.84")
    expect(verdict).to_contain_text("$33.84 is right, counted by a year of 365 days, no interest on interest")
    check_axe()
    fill(page, "Day 1", "2027-02-01")
    expect(page.get_by_role("alert")).to_contain_text("This day is not within the statement.")
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
