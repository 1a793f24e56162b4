"""How long a sentence takes to read among thousands of payees, as a share of listing dates with dateutil."""

from datetime import date, datetime, timedelta
from statistics import median
from time import perf_counter
from typing import Any

from dateutil.rrule import DAILY, rrule

from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.plan import Plan
from next_penny.core.saying.meaning import understand
from next_penny.core.saying.readings import Known

TODAY = date(2027, 3, 1)
SENTENCES = ("supper 23.40 yesterday in food", "paid millrow 412 31.20 on friday", "move 20 to purse tomorrow")
PLAN = Plan(
    accounts=tuple(
        Account(name.lower(), name, "checking", "USD", Opening(TODAY - timedelta(days=99), 900_00))
        for name in ("Joint", "Purse")
    ),
    categories=(Category("food", "Food"),),
)


def payees(count: int) -> list[Known]:
    syllables = ("mill", "row", "tarn", "oak", "hel", "wick", "fen", "dale", "brook", "sand")
    return [
        Known(f"{syllables[n % 10]}{syllables[n // 10 % 10]} {n}".capitalize(), "joint", "food") for n in range(count)
    ]


def timed(act: Any, times: int = 9) -> float:
    taken = []
    for _ in range(times):
        begun = perf_counter()
        act()
        taken.append(perf_counter() - begun)
    return median(taken)


if __name__ == "__main__":
    moment = Moment(PLAN, TODAY)
    listing = timed(lambda: list(rrule(DAILY, dtstart=datetime(2027, 3, 1), count=7753)))
    for count in (50, 500, 5_000):
        known = payees(count)

        def read(known: list[Known] = known) -> None:
            for text in SENTENCES:
                understand(moment, text, known, {}, "new")

        print(f"{count:5} payees: three sentences read in {timed(read) / listing:.2f} of listing 7,753 dates")
