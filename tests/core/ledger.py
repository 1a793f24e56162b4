"""The forecast as a person with paper would find it, from RULES alone: a walk over every day of a plan document.

It imports nothing of the product. Slow and plain on purpose.
"""

from calendar import monthrange
from collections.abc import Callable
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

import holidays

Document = dict[str, Any]
FAR = date(2028, 6, 30)


def last_of(day: date) -> int:
    return monthrange(day.year, day.month)[1]


def weeks_apart(day: date, start: date) -> int:
    return ((day - timedelta(day.weekday())) - (start - timedelta(start.weekday()))).days // 7


def months_apart(day: date, start: date) -> int:
    return (day.year - start.year) * 12 + day.month - start.month


RULES: dict[str, Callable[[date, date], bool]] = {
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR": lambda day, start: day.weekday() == 4 and weeks_apart(day, start) % 2 == 0,
    "FREQ=WEEKLY;BYDAY=MO,TH": lambda day, start: day.weekday() in (0, 3),
    "FREQ=MONTHLY;BYMONTHDAY=15,-1": lambda day, start: day.day in (15, last_of(day)),
    "FREQ=MONTHLY;BYDAY=2TU": lambda day, start: day.weekday() == 1 and 8 <= day.day <= 14,
    "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=31": lambda day, start: day.day == last_of(day) and months_apart(day, start) % 3 == 0,
    "FREQ=DAILY;INTERVAL=9": lambda day, start: (day - start).days % 9 == 0,
    "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29": lambda day, start: day.month == 2 and day.day == last_of(day),
}  # fmt: skip


def on(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None


def half_up(value: Fraction) -> int:
    exact = Fraction(value)
    return int(abs(exact) + Fraction(1, 2)) * (1 if exact > 0 else -1)


def pay_of(hourly: Document) -> int:
    return half_up(Fraction(hourly["rate"]) * Fraction(hourly["hours"]) * Fraction(hourly["share"]) / 100)


def base_of(source: Document) -> int | None:
    return pay_of(source["hourly"]) if source.get("hourly") else source.get("amount")


class Ledger:
    """One plan document seen from a day."""

    def __init__(self, document: Document, today: date) -> None:
        self.plan, self.today = document, today
        self.accounts = {account["id"]: account for account in document["accounts"]}
        self.opened = {id: date.fromisoformat(each["opening"]["date"]) for id, each in self.accounts.items()}
        country = document["country"]
        self.closed = holidays.country_holidays(country, years=range(2020, 2030)) if country else {}
        self.entries = [*document["entries"]]
        for flow in document["flows"]:
            if flow["always_happens"]:
                self.entries += [self.assumed(flow, each) for each in self.unsettled(flow) if each[1] < today]

    def is_open(self, day: date) -> bool:
        return day.weekday() < 5 and day not in self.closed

    def lands(self, flow: Document, nominal: date) -> date:
        back = forth = nominal
        while not self.is_open(back):
            back -= timedelta(1)
        while not self.is_open(forth):
            forth += timedelta(1)
        nearest = back if nominal - back <= forth - nominal else forth
        return {"none": nominal, "before": back, "after": forth, "nearest": nearest}[flow["roll"]]

    def flow_opened(self, flow: Document, nominal: date | None = None) -> date:
        then = flow if nominal is None else self.sides(flow, nominal)
        named = [
            flow["from_account"],
            flow["to_account"],
            then["from_account"],
            then["to_account"],
            *(split.get("account") for split in flow["splits"]),
        ]
        return max(self.opened[id] for id in named if id)

    def revised(self, flow: Document, nominal: date) -> list[Document]:
        """The revisions in force on a day, the latest last."""
        return sorted((r for r in flow["revisions"] if r["from"] <= nominal.isoformat()), key=lambda r: r["from"])

    def nominal_days(self, flow: Document) -> list[date]:
        start = on(flow["start"]) or self.flow_opened(flow)
        days, day = [], min([start, *map(date.fromisoformat, flow["dates"])])
        while day <= FAR and not (flow["until"] and day > date.fromisoformat(flow["until"])):
            rules, anchor = flow["rules"], start
            for revision in self.revised(flow, day):
                if revision["rules"] is not None:
                    rules, anchor = revision["rules"], max(start, date.fromisoformat(revision["from"]))
            by_rule = day >= start and any(RULES[rule](day, anchor) for rule in rules)
            if by_rule or day.isoformat() in flow["dates"]:
                days.append(day)
            day += timedelta(1)
        counted = days if flow["count"] is None else days[: flow["count"]]
        return [day for day in counted if day.isoformat() not in flow["except"]]

    def amount(self, flow: Document, nominal: date) -> int:
        change = next((c for c in flow["changes"] if c["nominal"] == nominal.isoformat()), None)
        if change and change["amount"] is not None:
            return change["amount"]
        if str(nominal.month) in flow["seasonal"]:
            return flow["seasonal"][str(nominal.month)]
        priced = [r for r in self.revised(flow, nominal) if base_of(r) is not None]
        since = date.fromisoformat(priced[-1]["from"]) if priced else None
        average = self.average(flow, nominal, since)
        if average is not None:
            return average
        base, growth = base_of(priced[-1] if priced else flow), flow["growth"]
        if growth is None:
            return base
        begin, years = date.fromisoformat(growth["from"]), 0
        for year in range(begin.year + 1, nominal.year + 1):
            day = min(begin.day, monthrange(year, begin.month)[1])
            anniversary = date(year, begin.month, day)
            years += anniversary <= nominal and (since is None or anniversary > since)
        return half_up(base * (1 + Fraction(growth["percent"]) / 100) ** years)

    def average(self, flow: Document, nominal: date, since: date | None) -> int | None:
        once = {change["nominal"] for change in flow["changes"] if change["amount"] is not None}
        main = flow["from_account"] or flow["to_account"]
        settled = sorted(
            (
                entry["nominal"],
                sum(
                    self.converted(leg["account"], main, -leg["amount"], on(entry["date"]))
                    for leg in entry["legs"]
                    if "account" in leg and leg["amount"] < 0
                ),
            )
            for entry in self.plan["entries"]
            if entry["flow"] == flow["id"] and entry["nominal"] < nominal.isoformat() and entry["nominal"] not in once
        )[-flow.get("follows", 0) or len(self.plan["entries"]) :]
        counted = [amount for day, amount in settled if since is None or day >= since.isoformat()]
        return half_up(Fraction(sum(counted), len(counted))) if counted and flow.get("follows") else None

    def unsettled(self, flow: Document) -> list[tuple[date, date, int]]:
        settled = {entry["nominal"] for entry in getattr(self, "entries", ()) if entry["flow"] == flow["id"]}
        rows = []
        for nominal in self.nominal_days(flow):
            change = next((c for c in flow["changes"] if c["nominal"] == nominal.isoformat()), {})
            landing = on(change.get("moved_to")) or self.lands(flow, nominal)
            if (
                not change.get("left_out")
                and nominal.isoformat() not in settled
                and landing >= self.flow_opened(flow, nominal)
            ):
                rows.append((nominal, landing, self.amount(flow, nominal)))
        return rows

    def sides(self, flow: Document, nominal: date) -> Document:
        then = {name: flow[name] for name in ("from_account", "to_account", "category")}
        for revision in self.revised(flow, nominal):
            then |= {name: revision[name] for name in then if revision.get(name)}
        return then

    def legs(self, flow: Document, nominal: date, amount: int, day: date) -> list[Document]:
        then, rest, legs = self.sides(flow, nominal), amount, []
        sign = -1 if flow["kind"] == "income" else 1
        arriving, main = amount, then["to_account" if flow["kind"] == "income" else "from_account"]
        for split in flow["splits"]:
            part = min(split["amount"], rest)
            rest -= part
            if "account" in split:
                arriving -= part
                legs.append({"account": split["account"], "amount": self.converted(main, split["account"], part, day)})
            else:
                legs.append({"category": split["category"], "amount": sign * part})
        if flow["kind"] == "income":
            return [{"account": main, "amount": arriving}, *legs]
        legs.insert(0, {"account": main, "amount": -amount})
        if flow["kind"] == "bill" and then["category"]:
            legs.append({"category": then["category"], "amount": rest})
        if flow["kind"] == "transfer":
            legs.append(
                {"account": then["to_account"], "amount": self.converted(main, then["to_account"], arriving, day)}
            )
        return legs

    def converted(self, source: str, target: str, amount: int, day: date) -> int:
        """An amount of one account as one of another."""
        have, want = (self.accounts[id]["currency"] for id in (source, target))
        if have == want:
            return amount
        # The first of a day stands; the latest by the day, else the first of all.
        rates = sorted(self.plan["rates"], key=lambda rate: rate["date"])
        by_day = [rate for rate in rates if rate["date"] <= day.isoformat()] or rates[:1]
        rate = next(each for each in rates if each["date"] == by_day[-1]["date"])
        factor = Fraction(rate["rate"]) if rate["from"] == have else 1 / Fraction(rate["rate"])
        return half_up(amount * factor * (Fraction(1, 100) if want == "JPY" else 100))

    def assumed(self, flow: Document, row: tuple[date, date, int]) -> Document:
        nominal, landing, amount = row
        legs = self.legs(flow, nominal, amount, landing)
        return {"flow": flow["id"], "nominal": nominal.isoformat(), "date": landing.isoformat(), "legs": legs}

    def expected(self) -> list[tuple[date, list[Document]]]:
        """What is to come: the day on which it moves, and its legs."""
        coming = []
        for flow in self.plan["flows"]:
            for nominal, landing, amount in self.unsettled(flow):
                if landing < self.today and self.plan["past_due"] == "ignore":
                    continue
                day = max(landing, self.today)
                coming.append((day, self.legs(flow, nominal, amount, day)))
        return coming

    def held_back(self, until: date) -> list[tuple[str, date, int]]:
        """What allowances take: account, day, amount."""
        coming = self.expected()
        return [row for allowance in self.plan["allowances"] for row in self.allowance(allowance, coming, until)]

    def allowance(self, allowance: Document, coming: list[Any], until: date) -> list[tuple[str, date, int]]:
        opened, now = self.opened[allowance["account"]], self.today
        counted_from = on(allowance["from"]) or opened
        start, ends = max(opened, counted_from), on(allowance["until"]) or FAR
        forward = allowance["carry"] == "forward"
        day = start if forward and allowance["from"] else max(start, now)
        moves = [row for e in self.entries for row in self.of_food(allowance, on(e["date"]), e["legs"])]
        planned = [row for when, legs in coming for row in self.of_food(allowance, when, legs)]
        carried, taken = 0, []
        while day <= min(until, ends):
            whole_first, whole_last = self.period(allowance, counted_from, day)
            first, last = max(whole_first, start), min(whole_last, ends)
            revised = [
                r["limit"]
                for r in sorted(allowance["revisions"], key=lambda r: r["from"])
                if r["from"] <= first.isoformat()
            ]
            limit = [allowance["limit"], *revised][-1]
            days, whole = (last - first).days + 1, (whole_last - whole_first).days + 1
            limit = half_up(Fraction(limit * days, whole)) + carried
            used = sum(amount for when, amount in moves if first <= when <= min(last, now))
            later = sum(amount for when, amount in moves if max(first, now + timedelta(1)) <= when <= last)
            later += sum(amount for when, amount in planned if max(first, now) <= when <= last)
            left = limit - used - later
            if last >= now:
                taken += self.take(allowance, first, last, max(0, left))
            carried = (min(0, left) if last >= now else limit - used) if forward else 0
            day = last + timedelta(1)
        return taken

    def of_food(self, allowance: Document, when: date, legs: list[Document]) -> list[tuple[date, int]]:
        """What legs spend in the allowance's category, in its currency."""
        account = next(leg["account"] for leg in legs if leg.get("account"))
        return [(when, self.converted(account, allowance["account"], leg["amount"], when))
                for leg in legs if leg.get("category") == "food"]  # fmt: skip

    def period(self, allowance: Document, counted_from: date, day: date) -> tuple[date, date]:
        if allowance["period"] == "month":
            return day.replace(day=1), day.replace(day=last_of(day))
        length = 7 if allowance["period"] == "week" else 14
        begins = {"MO": 0, "SU": 6}[allowance["week_starts"]]
        anchor = counted_from
        while anchor.weekday() != begins:
            anchor -= timedelta(1)
        first = anchor + timedelta((day - anchor).days // length * length)
        return first, first + timedelta(length - 1)

    def take(self, allowance: Document, first: date, last: date, amount: int) -> list[tuple[str, date, int]]:
        if allowance["timing"] == "at_end":
            return [(allowance["account"], last, amount)]
        begin = min(max(first, self.today + timedelta(1)), last)
        days = (last - begin).days + 1
        upto = [half_up(Fraction(amount * part, days)) for part in range(days + 1)]
        return [(allowance["account"], begin + timedelta(n), upto[n + 1] - upto[n]) for n in range(days)]

    def balances(self, account: str, until: date) -> dict[date, int]:
        """The end-of-day balances of an account from today (or its opening) on."""
        moves: dict[date, int] = {}
        for entry in self.entries:
            for leg in entry["legs"]:
                if leg.get("account") == account:
                    day = date.fromisoformat(entry["date"])
                    moves[day] = moves.get(day, 0) + leg["amount"]
        for day, legs in self.expected():
            for leg in legs:
                if leg.get("account") == account:
                    moves[day] = moves.get(day, 0) + leg["amount"]
        for where, day, amount in self.held_back(until):
            if where == account:
                moves[day] = moves.get(day, 0) - amount
        balance = self.accounts[account]["opening"]["balance"] + sum(m for day, m in moves.items() if day < self.today)
        day, found = self.today, {}
        while day <= until:
            balance += moves.get(day, 0)
            if day >= self.opened[account]:
                found[day] = balance
            day += timedelta(1)
        return found
