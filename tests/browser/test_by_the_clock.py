"""The first hour and the day's round by keys alone, timed by the keystroke-level model.

S. K. Card, T. P. Moran and A. Newell, "The keystroke-level model for user performance time with interactive systems",
Communications of the ACM 23 (7), 1980: 0.2 s a key for a good typist; a thought before each field and each choice,
which are 1.2 s here, as for one who knows what is to be written.
"""

from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

KEY_SECONDS, THOUGHT_SECONDS = 0.2, 1.2
FOCUSED = """() => {
  const one = document.activeElement;
  const labels = [...(one.labels ?? [])].map((label) => label.innerText).join(" ");
  return (one.getAttribute("aria-label") || labels || one.innerText || "").trim();
}"""


class Hands:
    """Hands on a keyboard, and how long they take; what the app takes is not theirs."""

    def __init__(self, page: Page) -> None:
        self._page, self._keys, self._thoughts = page, 0, 0

    @property
    def seconds(self) -> float:
        return self._keys * KEY_SECONDS + self._thoughts * THOUGHT_SECONDS

    def press(self, key: str) -> None:
        self._page.keyboard.press(key)
        self._keys += 1

    def write(self, text: str, *, then: str | None = None) -> None:
        self._thoughts += 1
        self._page.keyboard.type(text)
        self._keys += len(text)
        if then is not None:
            self.press(then)

    def reach(self, label: str) -> None:
        """Go on from where the focus is to a field or button, as Tab does."""
        for _ in range(20):
            if str(self._page.evaluate(FOCUSED)).startswith(label):
                return
            self.press("Tab")
        raise AssertionError(f"{label} is not reached; the focus is on {self._page.evaluate(FOCUSED)!r}")

    def fill(self, label: str, text: str) -> None:
        self.reach(label)
        self.write(text)

    def open(self, button: str) -> None:
        self._thoughts += 1
        self.reach(button)
        self.press("Enter")
        expect(self._page.locator("[data-slip]")).to_be_visible()
        expect(self._page.get_by_label("Name", exact=True).first).to_be_focused()

    def save(self, leads_to: str) -> None:
        """Enter saves, and leads on to the next step."""
        self.press("Enter")
        expect(self._page.locator("[data-slip]")).to_have_count(0)
        expect(self._page.get_by_role("button", name=leads_to)).to_be_focused()


def test_the_first_hour_by_keys_is_a_minute_and_a_half(page: Page, served: Callable[..., str], tmp_path: Path) -> None:
    address = served("serve", "--file", str(tmp_path / "new.sqlite3"))
    page.goto(f"{address}/ahead")
    guide = page.get_by_role("region", name="Getting started")
    expect(guide).to_be_visible()
    hands = Hands(page)
    hands.open("Add your first account")
    hands.write("Checking")
    hands.fill("Balance today", "1000")
    hands.save("Add a payday")
    hands.open("Add a payday")
    hands.write("Pay")
    hands.fill("Amount", "1900")
    hands.fill("When", "every 2")
    hands.fill("First on", "03052027")
    hands.save("Add a bill")
    hands.reach("Or one a line")
    for bill in ("Rent 850 1st", "Power 80 15th", "Phone 40 20th", "Water 35 7th", "Choir 12 Friday"):
        hands.write(bill, then="Enter")
        expect(guide).to_contain_text(f"Added {bill.split()[0]}")
    hands.open("Add an allowance")
    hands.write("Groceries")
    hands.fill("Limit", "110")
    hands.save("Add a loan")
    # A loan that began last year is proposed as paid as agreed until now; the day it was paid out need not be known.
    hands.open("Add a loan")
    hands.write("Car")
    hands.fill("Borrowed", "12000")
    hands.fill("Rate", "5")
    hands.fill("Number of payments", "48")
    hands.fill("First payment", "06102026")
    expect(page.get_by_label("It was paid as agreed until now: $9,928.56 owed")).to_be_checked()
    hands.save("Add a savings account")
    hands.press("Shift+Tab")
    hands.open("Add a card")
    hands.write("Heron card")
    hands.fill("Owed today", "240")
    hands.fill("Limit", "2000")
    hands.fill("The cycle closes on day", "12")
    hands.fill("Rate 1, % a year", "21.9")
    # Its step was done before it: another card may follow.
    hands.save("Add a card")
    hands.reach("That is all of it")
    hands.press("Enter")
    expect(guide).to_have_count(0)
    assert hands.seconds <= 90

    plan = page.request.get(f"{address}/api/plan").json()
    assert [(each["name"], each["opening"]["balance"]) for each in plan["accounts"]] == [
        ("Checking", 1_000_00), ("Car", -9_928_56), ("Heron card", -240_00)]  # fmt: skip
    assert [(each["name"], each["rules"][0]) for each in plan["flows"][:3]] == [
        ("Pay", "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR"), ("Rent", "FREQ=MONTHLY;BYMONTHDAY=1"),
        ("Power", "FREQ=MONTHLY;BYMONTHDAY=15")]  # fmt: skip
    page.reload()
    expect(page.get_by_test_id("reading")).to_be_visible()
    expect(guide).to_have_count(0)


def test_the_days_eight_lines_and_three_expenses_are_forty_seconds(
    page: Page, served: Callable[..., str], tmp_path: Path
) -> None:
    address = served("serve", "--file", str(tmp_path / "new.sqlite3"))
    opening = {"date": "2027-01-01", "balance": 2_000_00}
    purse = {"name": "Purse", "kind": "checking", "currency": "USD", "opening": opening}
    bills = [
        {"name": f"Bill {number}", "kind": "bill", "amount": 10_00 + number, "from_account": "purse",
         "rules": ["FREQ=MONTHLY;BYMONTHDAY=1"], "start": "2027-03-01"}
        for number in range(8)
    ]  # fmt: skip
    changes = [{"op": "add", "kind": "account", "id": "purse", "value": purse},
               {"op": "add", "kind": "category", "id": "food", "value": {"name": "Food"}},
               *({"op": "add", "kind": "flow", "id": f"b{place}", "value": bill} for place, bill in enumerate(bills))]  # fmt: skip
    assert page.request.post(f"{address}/api/changes", data={"changes": changes}).ok
    page.goto(f"{address}/ahead")
    expect(page.get_by_test_id("reading")).to_be_visible()
    hands = Hands(page)
    hands.press("2")
    expect(page.get_by_role("heading", name="Settle")).to_be_visible()
    expect(page.locator("[data-due]")).to_have_count(8)
    hands.press("ArrowDown")
    for left in range(8, 0, -1):
        expect(page.locator("[data-due]")).to_have_count(left)
        expect(page.locator("[data-due]").first).to_be_focused()
        hands.write("", then="Enter")
    expect(page.locator("[data-due]")).to_have_count(0)
    for said in ("bread 4.20 today in food", "cheese 11.75 today in food", "apples 3.40 yesterday in food"):
        hands.press("/")
        expect(page.get_by_role("dialog", name="Find or do")).to_be_visible()
        hands.write(said)
        expect(page.get_by_role("option", name="Record: spent")).to_have_attribute("aria-selected", "true")
        hands.press("Enter")
        expect(page.get_by_role("dialog", name="Find or do")).to_have_count(0)
    assert hands.seconds <= 40
    entries = page.request.get(f"{address}/api/plan").json()["entries"]
    assert sorted(-each["legs"][0]["amount"] for each in entries) == [3_40, 4_20, *range(10_00, 10_08), 11_75]
