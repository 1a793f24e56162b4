"""Households whose worked tables are kept: that of the demo, and one of two currencies with a little of everything."""

import random
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from functools import cache

from propcache.api import cached_property
from reviewed_households import Remembers
from seen import seen

from next_penny.core.ahead.stretch import Stretch, spendable, stretch
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import past_due
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow, Growth, Hourly, Revision, Split
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.starter import LENT_INTEREST, LOAN_INTEREST
from next_penny.core.plan.terms.cards import CardTerms, DueRule, Minimum, RateStep, StatementChange
from next_penny.core.plan.terms.lent import LentTerms, Repays
from next_penny.core.plan.terms.loans import Extra, LoanTerms
from next_penny.core.plan.terms.savings import CreditChange, SavingsTerms
from next_penny.core.plan.terms.sweeps import SweepTerms
from next_penny.core.review.remembering import landed
from next_penny.demo.household import demo_plan


@dataclass(frozen=True)
class House:
    """A household seen from a day, what it has recorded, and what it expected until the day before.

    main: the account that is looked at most; pot: one that earns; card: one that is owed on, `looked_at`: in a forecast.
    """

    plan: Plan
    entries: tuple[Entry, ...]
    today: date
    main: str
    pot: str
    card: str
    looked_at: tuple[str, ...]

    @cached_property
    def moment(self) -> Moment:
        return seen(self.plan, self.entries, self.today)

    @cached_property
    def sources(self) -> Remembers:
        remembered = Remembers(self.entries)
        remembered.until = self.today - timedelta(days=1)
        opened = min(account.opening.date for account in self.plan.accounts)
        remembered.rows = list(landed(self.moment, opened, remembered.until))
        return remembered

    def over(self, first: date, last: date, *named: str) -> Stretch:
        accounts = [self.plan.account_by_id[id] for id in named] or spendable(self.moment)
        return stretch(self.moment, accounts, first, last, self.between(first, last))

    def between(self, first: date, last: date) -> list[Entry]:
        return [entry for entry in self.entries if first <= entry.date <= last]

    @cached_property
    def month(self) -> int:
        return month_number(self.today)

    def months(self, first: int, last: int) -> tuple[date, date]:
        """The first and the last day of months counted from today's."""
        return date.fromordinal(month_start(self.month + first)), date.fromordinal(month_end(self.month + last))

    def day(self, days: int) -> date:
        return self.today + timedelta(days=days)


@cache
def demo() -> House:
    today = date(2027, 3, 1)
    return House(*demo_plan(today), today, "joint", "rainy-day", "heron", ("joint", "heron", "rainy-day", "escrow"))


TODAY, OPENED = date(2028, 2, 29), date(2027, 7, 5)
_EURO = LoanTerms(6_400_00, Decimal("5.2"), date(2027, 7, 5), date(2027, 7, 23), payments=44, payments_per_year=26,
                  interest="actual_365", from_account="euro", extras=(Extra(60_00, every=6, start=date(2028, 4, 1)),))  # fmt: skip


def _accounts() -> Iterator[Account]:
    first = Opening(OPENED, 380_000)
    yield Account("day", "Everyday", "checking", "JPY", first, 20_000, 30_000,
                  sweep=SweepTerms("pot", 90_000, 420_000, ("FREQ=WEEKLY;BYDAY=FR",), date(2028, 3, 1)))  # fmt: skip
    yield Account("pot", "Pot", "savings", "JPY", Opening(OPENED, 900_000), 100_000, 100_000, savings=SavingsTerms(
        rate=Decimal("1.85"), basis="360", compounding="none", rounding="daily", movements_earn="next_day",
        changes=(CreditChange(2028 * 12 + 3, moved_to=date(2028, 5, 2)), CreditChange(2028 * 12 + 4, amount=1_500))))  # fmt: skip
    yield Account("euro", "Euro account", "checking", "EUR", Opening(OPENED, 2_900_00), 150_00, 200_00)
    yield Account("nest", "Nest", "savings", "EUR", Opening(date(2027, 9, 30), 4_100_00),
                  savings=SavingsTerms(apy=Decimal("2.45"), basis="actual"))  # fmt: skip
    yield Account("reed", "Reed card", "credit_card", "EUR", Opening(OPENED, -1_150_00), card=CardTerms(
        2_500_00, 31, DueRule(days_after=15), (RateStep(OPENED, Decimal(0)), RateStep(date(2028, 4, 10), Decimal("17.5"))),
        Minimum(Decimal(4), floor=20_00), "minimum", from_account="euro",
        changes=(StatementChange(date(2028, 3, 31), amount=75_00), StatementChange(date(2028, 4, 30), moved_to=date(2028, 5, 18)))))  # fmt: skip
    yield Account("cover", "Cover", "credit_line", "JPY", Opening(OPENED, -12_000), card=CardTerms(
        150_000, 15, DueRule(day=28), (RateStep(OPENED, Decimal("13.8")),), Minimum(Decimal(5), plus_interest=True, floor=2_000),
        "fixed", 9_000, "day", is_line=True, covers="day"))  # fmt: skip
    yield Account("cart", "Cart loan", "loan", "EUR", Opening(OPENED, -6_400_00), loan=_EURO)
    yield Account("tarn", "Lent to Ms. Tarn", "owed_to_us", "JPY", Opening(OPENED, 120_000), lent=LentTerms(
        "Ms. Tarn", "day", Decimal(3), repays=Repays(11_000, ("FREQ=MONTHLY;BYMONTHDAY=31",), date(2027, 8, 31)), sure="doubtful"))  # fmt: skip
    yield Account(
        "gift", "Lent to Mr. Fell", "owed_to_us", "EUR", Opening(OPENED, 300_00), lent=LentTerms("Mr. Fell", "euro")
    )


def _flow(id: str, kind: str, account: str, amount: int, rule: str | tuple[str, ...], **more: object) -> Flow:
    side = {"to_account" if kind == "income" else "from_account": account}
    rules = (rule,) if isinstance(rule, str) else rule
    return Flow(id, id.title(), kind, amount, rules=rules, **{"start": OPENED, **side, **more})  # type: ignore[arg-type]


_FLOWS = (
    _flow("wages", "income", "day", 0, "FREQ=WEEKLY;BYDAY=TH", category="pay", roll="before",
          hourly=Hourly(1_450, Decimal("81.5"), Decimal(31)),
          revisions=(Revision(date(2028, 5, 1), hourly=Hourly(1_520, Decimal("81.5"), Decimal(28))),)),
    _flow("pension", "income", "euro", 610_00, "FREQ=MONTHLY;BYMONTHDAY=29", category="pay", roll="nearest",
          growth=Growth(Decimal("2.5"), date(2027, 7, 29)), changes=(Change(date(2028, 3, 29), amount=655_10),)),
    _flow("rent", "bill", "day", 78_000, "FREQ=MONTHLY;BYMONTHDAY=31", category="home", roll="after",
          revisions=(Revision(date(2028, 6, 1), amount=81_500),), changes=(Change(date(2028, 4, 30), moved_to=date(2028, 5, 9)),)),
    _flow("power", "bill", "day", 7_400, "FREQ=MONTHLY;INTERVAL=2;BYDAY=2TU", category="home", follows=3, estimate=True,
          seasonal=((1, 12_100), (5, 6_200), (9, 8_800)), late_days=9),
    _flow("ferry", "bill", "reed", 38_00, ("FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,SA",), category="out", exceptions=(date(2028, 3, 11),)),
    _flow("news", "bill", "reed", 11_99, "FREQ=MONTHLY;BYMONTHDAY=4", category="out", subscription=True, may_skip=True),
    _flow("mill", "bill", "euro", 240_00, "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29", category="home",
          splits=(Split(65_00, category="out"),)),
    _flow("pages", "bill", "day", 4_800, "FREQ=MONTHLY;BYDAY=-1FR", category="out", until=date(2028, 9, 1), may_pause=True,
          splits=(Split(1_300, account="pot"),)),
    _flow("home", "transfer", "euro", 220_00, "FREQ=MONTHLY;BYMONTHDAY=7,21", to_account="day", count=40),
    _flow("nest", "transfer", "euro", 45_00, "FREQ=MONTHLY;BYMONTHDAY=1", to_account="nest", start=date(2027, 10, 1),
          always_happens=True),
    _flow("tools", "bill", "day", 36_500, (), start=None, category="home", dates=(date(2027, 11, 3), date(2028, 3, 14))),
)  # fmt: skip
_ALLOWANCES = (
    Allowance("food", "Food", 9_500, "day", "week", 6, ("food",), "evenly", "forward", date(2027, 12, 4)),
    Allowance("treats", "Treats", 64_00, "reed", "two_weeks", 2, ("fun",), start=date(2028, 1, 4), until=date(2028, 8, 1)),
    Allowance("garden", "Garden", 6_000, "day", categories=("garden",), carry="forward", start=date(2028, 1, 10),
              revisions=(LimitRevision(date(2028, 4, 1), 9_000),)),
)  # fmt: skip
_CATEGORIES = (
    Category("pay", "Pay", "In", "income"), Category("home", "Home", "Fixed"), Category("out", "Out", "Free"),
    Category("food", "Food", "Living"), Category("fun", "Fun", "Free"), Category("garden", "Garden", "Free"),
    LOAN_INTEREST, LENT_INTEREST,
)  # fmt: skip
_RATES = (
    Rate(OPENED, "EUR", "JPY", Decimal("158.40")), Rate(date(2027, 12, 1), "EUR", "JPY", Decimal("161.25")),
    Rate(date(2028, 2, 10), "JPY", "EUR", Decimal("0.00615")), Rate(date(2028, 6, 1), "EUR", "JPY", Decimal("164")),
)  # fmt: skip
_GOALS = (
    Goal("save", "Put by", "save", "month", share=Decimal("7.5")),
    Goal("owe", "Owe less", "repay", start=date(2028, 1, 1), until=date(2028, 12, 31), amount=260_000, accounts=("cart", "reed")),
    Goal("free", "Free time", "spend_at_most", "year", amount=300_000, categories=("out", "fun")),
)  # fmt: skip


def _entries(plan: Plan) -> Iterator[Entry]:
    """What was paid nearly as planned, but for the last two weeks and now and then one; and what nobody planned."""
    moment, chance = Moment(plan, TODAY), random.Random(11)
    for flow in plan.all_flows:
        maker, past = maker_of(moment, flow), past_due(moment, flow)
        for nominal, lands, amount in zip(
            past.nominal.tolist(), past.landing.tolist(), past.amount.tolist(), strict=True
        ):
            late, share = chance.choice((0, 0, 0, 1, 3, -1)), chance.choice((100, 100, 100, 96, 108))
            day = date.fromordinal(lands + late)
            if chance.random() < 0.06 or day > TODAY - timedelta(days=12) or flow.always_happens:
                continue
            asked = date.fromordinal(nominal)
            legs = tuple(maker.legs(asked, amount if flow.kind == "loan_payment" else amount * share // 100, day, None))
            yield Entry(f"{flow.id}-{asked}", day, flow.name, legs, flow.id, asked)
    for number in range(70):
        account, category = chance.choice(
            (("day", "food"), ("day", "food"), ("reed", "fun"), ("day", "garden"), ("euro", "out"))
        )
        amount = chance.randrange(300, 6_500)
        day = date(2027, 12, 6) + timedelta(days=chance.randrange(86))
        tags = ("journey",) if number % 9 == 0 else ()
        yield Entry(
            f"x{number}", day, f"Stall {number % 4}", (Leg(-amount, account), Leg(amount, category=category)), tags=tags
        )
    yield Entry("back", date(2028, 2, 3), "Stall 1", (Leg(2_100, "day"), Leg(-2_100, category="food")))
    yield Entry("fell", date(2028, 2, 8), "Mr. Fell", (Leg(90_00, "euro"), Leg(-90_00, "gift")))


@cache
def abroad() -> House:
    plan = Plan(
        Household("Of two coasts", "JPY", "US"),
        tuple(_accounts()),
        _CATEGORIES,
        _FLOWS,
        _ALLOWANCES,
        _RATES,
        goals=_GOALS,
    )
    entries = tuple(sorted(_entries(plan), key=lambda entry: (entry.date, entry.id)))
    return House(plan, entries, TODAY, "day", "pot", "reed", ("day", "euro", "pot", "nest", "reed", "cover"))
