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
    assert larder["legs"][0]["amount"] == -49_95
    turned = [{**leg, "amount": 94_95 if leg["amount"] > 0 else -94_95} for leg in larder["legs"]]
    ferry = entry(rows()[0]["id"])
    planted = (
        (
            {"op": "add", "id": "twice", "value": {key: larder[key] for key in ("date", "payee", "legs")}},
            "stands twice",
        ),
        ({"op": "update", "id": larder["id"], "value": {"legs": turned}}, "was $49.95, not $94.95."),
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
    choose(page, "Account", "Cash tin")
    counted = page.get_by_role("region", name="Counted")
    fill(page, "Balance (USD)", "5,417.60")
    expect(counted.get_by_role("status")).to_contain_text("The books say $541.76: $4,875.84 too little.")
    check_axe()
    fill(page, "Balance (USD)", "541.00")
    counted.get_by_role("button", name="Leave it for later").press("Enter")
    expect(counted.get_by_text("the books have $0.76 too much")).to_be_visible()
    page.goto(f"{demo}/accounts")
    expect(page.get_by_text("the books have $0.76 too much")).to_be_visible()
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    page.goto(f"{demo}/accounts/tin")
    fill(page, "Balance (USD)", "541")
    page.get_by_role("button", name="Book the difference").click()
    expect(counted.get_by_text("the books agree")).to_be_visible()
    expect(page.get_by_role("region", name="Entries").get_by_text("Difference to the bank").first).to_be_visible()
    counted.get_by_role("button", name=re.compile("^Take away")).click()
    expect(counted.get_by_text("the books agree")).to_have_count(0)
    page.goto(f"{demo}/accounts")
    expect(page.get_by_text("true on")).to_have_count(0)
