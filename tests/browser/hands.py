"""What a person does on any page: choose from a list, type into a field."""

from playwright.sync_api import Page


def choose(page: Page, label: str, option: str) -> None:
    # By key: a field may still move under the mouse while what an edit does is worked out.
    page.get_by_label(label, exact=True).press("Enter")
    page.get_by_role("option", name=option, exact=True).click()


def fill(page: Page, label: str, text: str) -> None:
    page.get_by_label(label, exact=True).fill(text)
