"""A bank's file, from the window to Settle: dropped, looked at, corrected, taken in, undone, taken in again."""

import base64
from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def bank_file(*lines: tuple[str, str, str, str]) -> str:
    written = "".join(
        f"<STMTTRN><DTPOSTED>{day}<TRNAMT>{amount}<FITID>{id}<NAME>{name}</STMTTRN>" for day, amount, id, name in lines
    )
    head = "<OFX><STMTRS><CURDEF>USD<BANKACCTFROM><ACCTID>40071188</BANKACCTFROM><BANKTRANLIST>"
    return f"OFXHEADER:100\n\n{head}{written}</BANKTRANLIST></STMTRS></OFX>"


FILE = bank_file(
    ("20270228", "-28.77", "a", "FENWICK'S PASTRIES"),  # recorded on that day
    ("20270211", "-42.00", "b", "FLUTE LESSONS"),  # put off: due on the 9th, paid late
    ("20270224", "-71.90", "c", "INTERNET"),  # more than was expected
    ("20270227", "-31.40", "d", "MILL LANE BAKERY"),
    ("20270226", "-12.80", "e", "MILL LANE BAKERY 2"),
)


def drop(page: Page, name: str, text: str) -> None:
    content = base64.b64encode(text.encode()).decode()
    page.evaluate(
        """([name, content]) => {
            const carried = new DataTransfer();
            carried.items.add(new File([atob(content)], name));
            for (const type of ["dragover", "drop"])
                document.body.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: carried }));
        }""",
        [name, content],
    )


def test_a_file_is_dropped_looked_at_corrected_taken_in_undone_and_taken_in_again(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/settle")
    expect(page.get_by_role("heading", name="Settle")).to_be_visible()
    drop(page, "february.ofx", FILE)
    expect(page.get_by_text("Choose the account that these lines are of")).to_be_visible()
    # What comes to the page above an open list, and goes again, leaves the list where it can be reached.
    field = page.get_by_label("The account ending in 1188 goes to")
    field.press("Enter")
    page.locator("#page").evaluate("(page) => { page.style.paddingTop = '900px' }")
    expect(page.get_by_role("option", name="Cash tin")).to_be_in_viewport()
    page.locator("#page").evaluate("(page) => { page.style.paddingTop = '' }")
    page.get_by_role("option", name="Joint checking", exact=True).click()
    found, fresh = (page.get_by_role("region", name=name, exact=True) for name in ("Found", "New"))
    expect(found.get_by_role("listitem")).to_have_count(2)
    expect(found).to_contain_text("Fenwick's Pastries, recorded already")
    expect(found).to_contain_text("Flute lessons, as expected, Tue Feb 9")
    expect(page.get_by_role("region", name="To decide", exact=True)).to_contain_text("Perhaps Internet, as expected")
    # One new line is sorted, and by a rule the other like it too.
    choose(page, "Category: MILL LANE BAKERY, −$31.40", "Groceries")
    fresh.get_by_role("button", name="Always so").click()
    expect(page.get_by_role("list", name="New rules")).to_contain_text("“MILL LANE BAKERY” always to Groceries")
    expect(page.get_by_label("Category: MILL LANE BAKERY 2, −$12.80")).to_contain_text("Groceries")
    check_axe()
    page.set_viewport_size({"width": 390, "height": 844})
    check_axe()
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("button", name="Take in 4 lines").click()
    expect(page.get_by_text("1 line waits in Settle").first).to_be_visible()
    expect(page.get_by_text("contains “MILL LANE BAKERY”")).to_be_visible()
    page.locator("body").press("Control+z")
    expect(page.get_by_text("Undone: took in 4 lines").first).to_be_visible()
    expect(page.get_by_text("No rules yet.")).to_be_visible()
    # Its account is to be named again; then all of it is there once, and known from then on.
    page.get_by_label("A file from a bank").set_input_files({"name": "f.ofx", "mimeType": "", "buffer": FILE.encode()})
    choose(page, "The account ending in 1188 goes to", "Joint checking")
    page.get_by_role("button", name="Take in 4 lines").click()
    expect(page.get_by_role("region", name="Where what is new belongs")).to_be_visible()
    page.get_by_label("A file from a bank").set_input_files({"name": "f.ofx", "mimeType": "", "buffer": FILE.encode()})
    expect(page.get_by_role("region", name="Taken in before").get_by_role("listitem")).to_have_count(5)
    entries = page.request.get(f"{demo}/api/plan").json()["entries"]
    assert sum(each["payee"].startswith("MILL LANE") for each in entries) == 2
    # What nobody decided is worked off by key.
    page.goto(f"{demo}/accounts")
    page.get_by_role("link", name="1 line of the bank waits").click()
    row = page.get_by_role("group", name="INTERNET, −$71.90")
    expect(row).to_contain_text("Internet, as expected")
    check_axe()
    row.press("Enter")
    expect(row).to_have_count(0)
    expect(page.get_by_role("region", name="Settled today")).to_contain_text("−$71.90")


def test_a_table_without_headers_is_told_its_columns(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts/your/bank-files")
    chooser = page.get_by_label("A file from a bank")
    chooser.set_input_files({"name": "x.txt", "mimeType": "", "buffer": b"nothing of the kind"})
    expect(page.get_by_role("alert")).to_contain_text("were looked for")
    table = b"02/03/2027;Ink and Paper;Note;4,50\n13/02/2027;Ink and Paper;Note;1.004,50\n"
    chooser.set_input_files({"name": "t.csv", "mimeType": "", "buffer": table})
    choose(page, "This file goes to", "Cash tin")
    lines = page.get_by_role("region", name="New", exact=True).get_by_role("listitem")
    expect(lines.first).to_contain_text("Tue Mar 2")
    page.get_by_text("Which column is what").click()
    choose(page, "Column 3", "who")
    choose(page, "Days are written", "month, day, year")
    expect(lines).to_have_count(1)
    expect(lines.first).to_contain_text("Wed Feb 3")
    expect(page.get_by_role("region", name="Not read")).to_contain_text("Line 2")
    choose(page, "Days are written", "day, month, year")
    expect(lines).to_have_count(2)
    check_axe()


def test_a_rule_is_written_by_hand_and_the_calendar_has_an_address(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/accounts/your/bank-files")
    fill(page, "Payee contains", "Larder")
    choose(page, "Its category", "Groceries")
    page.get_by_role("button", name="Keep the rule").click()
    expect(page.get_by_text("of the last year")).to_contain_text("fits")
    check_axe()
    page.get_by_role("button", name="Delete the rule for Larder").click()
    expect(page.get_by_text("No rules yet.")).to_be_visible()
    page.goto(f"{demo}/accounts/your/data")
    page.get_by_role("button", name="Make an address").click()
    shown = page.get_by_text("/calendar/")
    expect(shown).to_be_visible()
    address = shown.inner_text()
    assert page.request.get(address).text().startswith("BEGIN:VCALENDAR")
    check_axe()
    page.get_by_role("button", name="End it").click()
    expect(page.get_by_role("button", name="Make an address")).to_be_visible()
    assert page.request.get(address).status == 404
