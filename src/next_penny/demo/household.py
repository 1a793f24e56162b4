"""The demo household's plan, and how it is set afloat: a year that holds, but for one month that breaks the floor."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

from next_penny.core.books.books import books_from_entries
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number
from next_penny.core.flows.assumed import moment_of
from next_penny.core.flows.setting_aside import SavingWish, propose
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, FlowKind, Growth, Hourly, Revision
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.plan import Plan
from next_penny.demo.balances import (
    SAVINGS_YIELD,
    card_slip_up,
    demo_cards,
    recorded_acts,
    repaid_by_the_neighbour,
)
from next_penny.demo.history import outings_begin, recorded_history
from next_penny.demo.loans import demo_loans, lender_slip_ups, loan_flows
from next_penny.demo.what_ifs import demo_what_ifs

HISTORY_MONTHS = 18
_FLOOR, _CUSHION = 250_00, 600_00
# The lowest headroom of the year without the boathouse, and how far the boathouse takes the worst month below.
_TIGHTEST, _SHORT_BY = 328_40, 86_35

_CATEGORIES = (
    ("wages", "Wages", "Earned", "income", "hand-coins"),
    ("other-income", "Other income", "Earned", "income", "coins"),
    ("home", "House and mortgage", "Home", "expense", "house"),
    ("power", "Power and water", "Home", "expense", "plug"),
    ("phone", "Phone and internet", "Home", "expense", "phone"),
    ("groceries", "Groceries", "Living", "expense", "basket"),
    ("getting-about", "Getting about", "Living", "expense", "car"),
    ("health", "Health", "Living", "expense", "heart"),
    ("child", "Juniper's things", "Living", "expense", "child"),
    ("insurance", "Insurance", "Living", "expense", "umbrella"),
    ("boat", "The boat", "Pleasure", "expense", "boat"),
    ("reading", "Films and reading", "Pleasure", "expense", "book"),
    ("outings", "Outings and treats", "Pleasure", "expense", "cup"),
    ("interest", "Interest on loans", "Debt", "expense", "percent"),
    ("card-interest", "Interest on cards", "Debt", "expense", "landmark"),
    ("savings-interest", "Interest earned", "Earned", "income", "coins"),
    ("sundries", "Odds and ends", "Living", "expense", "box"),
)  # fmt: skip


def demo_plan(today: date) -> tuple[Plan, tuple[Entry, ...]]:
    """The household as it stands on a day, with its history."""
    opened = add_months(today.replace(day=1), -HISTORY_MONTHS)
    plan = Plan(
        household=Household("The Thornquills of Sandry Quay", "USD", "US", "carry"),
        accounts=(
            Account("joint", "Joint checking", "checking", "USD", Opening(opened, 0), _FLOOR, _CUSHION),
            Account(
                "rainy-day",
                "Rainy-day savings",
                "savings",
                "USD",
                Opening(opened, 1_340_00),
                1_000_00,
                1_000_00,
                savings=SAVINGS_YIELD,
            ),
            Account("tin", "Cash tin", "cash", "USD", Opening(opened, 85_00)),
            *demo_loans(opened, today),
            *demo_cards(opened, today),
        ),
        categories=tuple(Category(*row) for row in _CATEGORIES),  # type: ignore[arg-type]
        flows=_flows(opened, today),
        allowances=(
            Allowance(
                "groceries", "Groceries", 880_00, "joint", categories=("groceries",), timing="evenly", start=opened
            ),
            Allowance(
                "pleasure",
                "Out and about",
                60_00,
                "joint",
                "week",
                5,
                ("outings",),
                carry="forward",
                start=outings_begin(today),
            ),
        ),
        what_ifs=demo_what_ifs(today),
        goals=_GOALS,
    )
    plan = _setting_aside(plan, today)
    entries = recorded_history(plan, today)
    entries = (*entries, *recorded_acts(plan, entries, opened, today), card_slip_up(today))
    entries = tuple(
        sorted((*entries, *repaid_by_the_neighbour(opened, today)), key=lambda entry: (entry.date, entry.id))
    )
    plan, entries = lender_slip_ups(plan, entries)
    plan = _afloat(plan, entries, today)
    return _with_boathouse(plan, entries, today), entries


_GOALS = (
    Goal("put-by", "A tenth put by", "save", "month", share=Decimal(10)),
    Goal("owe-less", "Owe less at the end of the year", "repay", "year", amount=16_500_00),
    Goal("treats", "Treats", "spend_at_most", "month", amount=250_00, categories=("outings", "reading")),
)


def _setting_aside(plan: Plan, today: date) -> Plan:
    """Two things saved for since some weeks ago: new tyres out of each paycheck, and the yearly mooring."""
    begun = today - timedelta(days=80)
    winter = date(today.year if today.month < 9 else today.year + 1, 10, 1)
    wishes = (
        SavingWish("tyres", "joint", "rainy-day", None, "Winter tyres", 460_00, winter, with_income="wren-pay"),
        SavingWish("mooring-aside", "joint", "rainy-day", "mooring", month_day=11),
    )
    flows = [flow for wish in wishes for flow in propose(Moment(plan, begun), wish).flows]
    return replace(plan, flows=(*plan.flows, *flows))


def _flow(
    id: str, name: str, kind: FlowKind, amount: int, rule: str, category: str | None, start: date, **more: object
) -> Flow:
    side: dict[str, str] = {} if kind == "transfer" else {"to_account" if kind == "income" else "from_account": "joint"}
    return Flow(id, name, kind, amount, rules=(rule,), category=category, start=start, **{**side, **more})  # type: ignore[arg-type]


def _flows(opened: date, today: date) -> tuple[Flow, ...]:
    friday = opened + timedelta(days=(4 - opened.weekday()) % 7)
    spring = date(opened.year, 4, 15)
    electricity = ((1, 186_00), (2, 179_00), (3, 151_00), (6, 118_00), (7, 142_00), (8, 148_00), (12, 174_00))
    lean_winter = ((1, 318_00), (2, 318_00), (12, 352_00))
    insured = add_months(opened, 8)
    return (
        *loan_flows(),
        _flow("property-tax", "Property tax", "bill", 2_046_00, "FREQ=MONTHLY;INTERVAL=6;BYMONTHDAY=10", "home",
              add_months(opened, 3), payee="Sandry Quay Rates Office", from_account="escrow",
              property="quay-row", purpose="tax"),
        _flow("home-insurance", "Home insurance", "bill", 1_418_00,
              f"FREQ=YEARLY;BYMONTH={insured.month};BYMONTHDAY=21", "insurance", insured, payee="Oakhelm Mutual",
              from_account="escrow", property="quay-row", purpose="insurance"),
        _flow("wren-pay", "Wren's pay, Harrow Kiln", "income", 2_315_40, "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", "wages",
              friday, payee="Harrow Kiln", roll="before"),
        _flow("odell-pay", "Odell's hours, Ferry Nursery", "income", 412_28, "FREQ=WEEKLY;BYDAY=TH", "wages", friday,
              payee="Ferry Nursery", roll="before", seasonal=lean_winter, estimate=True,
              hourly=Hourly(21_50, Decimal("79.9"), Decimal(24))),
        _flow("lodger", "Storage let, Mr. Quillon", "income", 95_00, "FREQ=MONTHLY;BYMONTHDAY=10", "other-income",
              opened, payee="A. Quillon", roll="after"),
        _flow("electricity", "Electricity", "bill", 127_00, "FREQ=MONTHLY;BYMONTHDAY=14", "power", opened,
              payee="Saltmarsh Power", roll="after", seasonal=electricity, estimate=True),
        _flow("water", "Water and drains", "bill", 143_20, "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=20", "power", opened,
              payee="Sandry Quay Waterworks", roll="after"),
        _flow("phones", "Two phones", "bill", 78_00, "FREQ=MONTHLY;BYMONTHDAY=9", "phone", opened, payee="Gullwire"),
        _flow("internet", "Internet", "bill", 64_90, "FREQ=MONTHLY;BYMONTHDAY=22", "phone", opened, payee="Gullwire",
              always_happens=True, growth=Growth(percent=Decimal(4), start=add_months(opened, 12))),
        _flow("car-insurance", "Car insurance", "bill", 596_00, "FREQ=MONTHLY;INTERVAL=6;BYMONTHDAY=3", "insurance",
              opened, payee="Oakhelm Mutual", remind_days=14),
        _flow("health", "Health plan share", "bill", 412_00, "FREQ=MONTHLY;BYMONTHDAY=2", "health", opened,
              payee="Oakhelm Mutual", roll="after"),
        _flow("after-school", "After-school club", "bill", 285_00, "FREQ=MONTHLY;BYMONTHDAY=15,-1", "child", opened,
              payee="Little Lanterns", roll="before", until=date.fromordinal(month_end(month_number(today) + 5))),
        _flow("flute", "Flute lessons", "bill", 42_00, "FREQ=MONTHLY;BYDAY=2TU", "child", opened, payee="P. Ashgrove"),
        _flow("mooring", "Mooring, the Periwinkle", "bill", 685_00, "FREQ=YEARLY;BYMONTH=4;BYMONTHDAY=15", "boat",
              spring, payee="Sandry Quay Harbour", remind_days=30),
        _flow("fuel", "Fuel", "bill", 58_00, "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO", "getting-about", opened, estimate=True,
              follows=4),
        _flow("house", "House and garden", "bill", 120_00, "FREQ=WEEKLY;INTERVAL=2;BYDAY=SU", "sundries", opened,
              estimate=True, from_account="wharf"),
        _flow("ferry", "Ferry passes", "bill", 138_00, "FREQ=MONTHLY;BYMONTHDAY=26", "getting-about", opened,
              payee="Sandry Ferries", from_account="wharf"),
        _flow("gran", "For Gran's helper", "bill", 390_00, "FREQ=MONTHLY;BYMONTHDAY=28", "sundries", opened,
              payee="M. Larkspur"),
        _flow("films", "Lantern Reels", "bill", 10_49, "FREQ=MONTHLY;BYMONTHDAY=7", "reading", opened,
              payee="Lantern Reels", from_account="wharf", subscription=True,
              revisions=(Revision(add_months(opened, 13), 12_99),)),
        _flow("paper", "The Quay Courier", "bill", 94_00, "FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=12", "reading",
              date(opened.year, 9, 12), payee="The Quay Courier", subscription=True, remind_days=14),
        _flow("to-savings", "To the rainy-day savings", "transfer", 235_00, "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", None,
              friday, from_account="joint", to_account="rainy-day", roll="before"),
        _flow("to-tin", "Market money", "transfer", 40_00, "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA", None, friday,
              from_account="joint", to_account="tin"),
        _flow("market", "Saturday market", "bill", 38_00, "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA", "sundries", friday,
              from_account="tin", estimate=True),
    )  # fmt: skip


def _afloat(plan: Plan, entries: tuple[Entry, ...], today: date) -> Plan:
    """Open the joint account with what makes the tightest day of the coming year have its headroom."""
    moment = moment_of(plan, books_from_entries(entries, today), today)
    run = project(moment, add_months(today, 12), ["joint"]).runs[0]
    opening = _FLOOR + _TIGHTEST - min(balance for _, balance in run.levels)
    accounts = tuple(
        replace(account, opening=replace(account.opening, balance=opening)) if account.id == "joint" else account
        for account in plan.accounts
    )
    return replace(plan, accounts=accounts)


def _with_boathouse(plan: Plan, entries: tuple[Entry, ...], today: date) -> Plan:
    """Add the share of a new boathouse roof four to five weeks ahead, which the insurer pays back after next payday."""
    moment = moment_of(plan, books_from_entries(entries, today), today)
    run = project(moment, add_months(today, 6), ["joint"]).runs[0]
    begin, end = (today + timedelta(days=24)).toordinal(), (today + timedelta(days=38)).toordinal()
    day, _ = min((level for level in run.levels if begin <= level[0] <= end), key=lambda level: level[1])
    billed, refunded = date.fromordinal(day) - timedelta(days=3), date.fromordinal(day) + timedelta(days=9)
    # The lowest while the share is out, wherever that falls.
    balances = [balance for number, balance in run.levels if number < billed.toordinal()][-1:]
    meanwhile = [balance for number, balance in run.levels if billed.toordinal() <= number < refunded.toordinal()]
    share = min(balances + meanwhile) - _FLOOR + _SHORT_BY
    boathouse = Flow(
        "boathouse", "Boathouse roof, our share", "bill", share, from_account="joint", category="boat",
        payee="Periwinkle Sailing Club", dates=(billed,), remind_days=14,
    )  # fmt: skip
    refund = Flow(
        "refund", "Insurer's share of the roof", "income", share, to_account="joint", category="other-income",
        payee="Oakhelm Mutual", dates=(refunded,),
    )  # fmt: skip
    return replace(plan, flows=(*plan.flows, boathouse, refund))
