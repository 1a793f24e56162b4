"""What a person does on any page: choose from a list, type into a field."""

from playwright.sync_api import Page


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_label(label, exact=True).click()
    page.get_by_role("option", name=option, exact=True).click()


def fill(page: Page, label: str, text: str) -> None:
    page.get_by_label(label, exact=True).fill(text)
