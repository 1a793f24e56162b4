"""A household that sentences are said in, and what they are read as, in one line each."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from importlib.resources import files

from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule
from next_penny.core.plan.terms.lent import LentTerms
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.saying.meaning import Understood, understand
from next_penny.core.saying.readings import Known

TODAY = date(2027, 3, 1)  # a Monday
_OPENED = Opening(date(2026, 1, 1), 2_000_00)


def _flow(id: str, name: str, kind: str, amount: int, rule: str, start: date, **more: object) -> Flow:
    side = {"to_account" if kind == "income" else "from_account": "joint"}
    return Flow(id, name, kind, amount, rules=(rule,), start=start, known_since=TODAY, **side, **more)  # type: ignore[arg-type]


BOAT = LoanTerms(5_000_00, Decimal(6), date(2026, 6, 1), date(2026, 7, 12), payments=60)
PLAN = Plan(
    accounts=(
        Account("joint", "Joint checking", "checking", "USD", _OPENED),
        Account("savings", "Rainy-day savings", "savings", "USD", _OPENED),
        Account("tin", "Cash tin", "cash", "USD", _OPENED),
        Account("heron", "Heron card", "credit_card", "USD", Opening(date(2027, 2, 25), -300_00),
                card=CardTerms(4_000_00, 20, DueRule(day=10), from_account="joint")),
        Account("abroad", "Euro tin", "cash", "EUR", _OPENED),
        Account("boat", "Boat loan", "loan", "USD", Opening(date(2026, 6, 1), -5_000_00), loan=BOAT),
        Account("quillon", "Lent to Mr. Quillon", "owed_to_us", "USD", Opening(date(2026, 12, 1), 200_00),
                lent=LentTerms("Mr. Quillon", "joint")),
        Account("wharf", "Wharf card", "credit_card", "USD", Opening(date(2026, 1, 1), 0)),
    ),
    categories=(
        Category("groceries", "Groceries"), Category("hobbies", "Hobbies"), Category("out", "Eating out"),
        Category("gifts", "Gifts", kind="income"), Category("wages", "Wages", kind="income"),
    ),
    allowances=(Allowance("food", "Food", 300_00, "joint", categories=("groceries",)),),
    flows=(
        _flow("rent", "Rent", "bill", 1_200_00, "FREQ=MONTHLY;BYMONTHDAY=1", date(2026, 1, 1), payee="Tarn Lettings"),
        _flow("kiln", "Pay, Harrow Kiln", "income", 2_315_40, "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", date(2027, 2, 19),
              payee="Harrow Kiln", category="wages"),
        _flow("fuel", "Fuel", "bill", 58_00, "FREQ=WEEKLY;BYDAY=MO", date(2026, 1, 5)),
        _flow("internet", "Internet", "bill", 42_00, "FREQ=MONTHLY;BYMONTHDAY=22", date(2026, 1, 22)),
        _flow("car", "Car insurance", "bill", 540_00, "FREQ=YEARLY", date(2026, 5, 3)),
        _flow("power", "Electricity", "bill", 80_00, "FREQ=MONTHLY;BYMONTHDAY=15", date(2026, 1, 15)),
        Flow("boat-payment", "Boat loan", "loan_payment", 0, from_account="joint", to_account="boat", known_since=TODAY),
    ),
)  # fmt: skip
PAYEES = [Known("Quayside Grocer", "joint", "groceries"), Known("Tollgate Larder", "heron", "groceries"),
          Known("Harrow Kiln", "joint", "wages")]  # fmt: skip
MOMENT = Moment(PLAN, TODAY)


def read(text: str, answers: Mapping[str, str] = {}) -> Understood:
    return understand(MOMENT, text, PAYEES, answers, "new")


def told(text: str) -> list[str]:
    """Each reading's sentence with what is missing; at last what is not understood."""
    found, lines = read(text), []
    for each in found.readings:
        choices = "".join(f" ({field}: {' or '.join(ids)})" for field, ids in each.choices.items())
        asked = f" — missing {', '.join(each.missing)}{choices}" if each.missing else ""
        lines.append(("what if: " if each.does == "what_if" else "") + each.sentence + asked)
    return [*lines, *([f"not understood: {found.not_understood}"] if found.not_understood else [])]


def examples() -> list[tuple[str, list[str]]]:
    """What may be said, as it stands beside the grammar, and what it is read as."""
    text = files("next_penny.core.saying").joinpath("english.examples").read_text(encoding="utf-8")
    found: list[tuple[str, list[str]]] = []
    for line in text.splitlines()[1:]:
        if line.startswith("    "):
            found[-1][1].append(line.strip())
        else:
            found.append((line, []))
    return found
