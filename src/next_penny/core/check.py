"""What is wrong with a plan, each problem a sentence at the field that it is about.

Shapes (types, unknown fields) are checked where documents are read; this checks what the fields mean together.
"""

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from datetime import date
from fractions import Fraction
from functools import lru_cache

from next_penny.core.balances.check import account_problems
from next_penny.core.dates.business_days import known_countries
from next_penny.core.dates.calendar import LATEST, widening
from next_penny.core.dates.recurrence import RuleError, parse_rule, rule_days
from next_penny.core.dates.sentences import rule_sentence
from next_penny.core.loans.check import contradictions, shape_problems
from next_penny.core.money import DECIMALS, LARGEST_AMOUNT, convert, format_amount
from next_penny.core.plan import (
    MOST_ALLOWANCES,
    MOST_RATES,
    MOST_REVISIONS,
    MOST_RULES,
    Account,
    Entry,
    Flow,
    Plan,
    payment_id,
)
from next_penny.core.problems import Loc, Problem
from next_penny.core.saved_what_ifs import MOST_WHAT_IFS

# More hours than any payday covers.
MOST_HOURS = 2000
# An amount that grows yearly is looked at over so many years.
_GROWS_YEARS = 100
# A transfer to another currency arrives as no more than this.
_LARGEST_CONVERTED = 10**14


def check(plan: Plan) -> list[Problem]:
    """All problems of a plan, in document order; an empty list means that it can be projected."""
    too_many = [*_too_many(plan)]
    if too_many:
        return too_many  # what else is wrong with so much would take long to find
    return [*_household(plan), *_lists(plan), *_accounts(plan), *_flows(plan), *_allowances(plan), *_rates(plan),
            *_way_out(plan), *_statement_checks(plan), *_what_ifs(plan)]  # fmt: skip


def _no_account(id: str) -> str:
    return f"There is no account “{id}”."


def _too_many(plan: Plan) -> Iterator[Problem]:
    """Limits within which everything asked of a plan is answered at once."""
    counts: list[tuple[Loc, int, int, str]] = [
        (("allowances",), len(plan.allowances), MOST_ALLOWANCES, "allowances"),
        (("rates",), len(plan.rates), MOST_RATES, "exchange rates"),
    ]
    for number, allowance in enumerate(plan.allowances):
        counts.append((("allowances", number, "revisions"), len(allowance.revisions), MOST_REVISIONS, "revisions"))
    for number, flow in enumerate(plan.flows):
        loc: Loc = ("flows", number)
        counts.append(((*loc, "revisions"), len(flow.revisions), MOST_REVISIONS, "revisions of one flow"))
        counts.append(((*loc, "changes"), len(flow.changes), MOST_REVISIONS, "changes of one flow"))
        counts.append(((*loc, "rules"), len(flow.rules), MOST_RULES, "rules of one flow"))
        for at, revision in enumerate(flow.revisions):
            rules = len(revision.rules or ())
            counts.append(((*loc, "revisions", at, "rules"), rules, MOST_RULES, "rules of one flow"))
    for where, count, most, what in counts:
        if count > most:
            yield Problem(where, f"These are {count:,} {what}: at most {most:,} are possible.", "too_many")


def _household(plan: Plan) -> Iterator[Problem]:
    if plan.household.currency not in DECIMALS:
        yield Problem(("currency",), _unknown_currency(plan.household.currency), "unknown_currency")
    if plan.household.country is not None and plan.household.country not in known_countries():
        message = (
            f"Bank holidays of “{plan.household.country}” are not known: give a two-letter country code such as US, "
            "or leave it empty for weekends only."
        )
        yield Problem(("country",), message, "unknown_country")


def _lists(plan: Plan) -> Iterator[Problem]:
    lists: dict[str, Iterable[str]] = {
        "accounts": (account.id for account in plan.accounts),
        "categories": (category.id for category in plan.categories),
        "flows": (flow.id for flow in plan.flows),
        "allowances": (allowance.id for allowance in plan.allowances),
    }
    for name, ids in lists.items():
        yield from unique_ids(name, ids)


def unique_ids(name: str, ids: Iterable[str]) -> Iterator[Problem]:
    """A problem at every id that its list has already."""
    seen: set[str] = set()
    for number, id in enumerate(ids):
        if id in seen:
            yield Problem(
                (name, number, "id"), f"The id “{id}” is used twice in {name}: ids are unique.", "duplicate_id"
            )
        seen.add(id)


def _unknown_currency(code: str) -> str:
    return f"“{code}” is not a currency: give a code such as USD or EUR."


def _accounts(plan: Plan) -> Iterator[Problem]:
    for number, account in enumerate(plan.accounts):
        loc: Loc = ("accounts", number)
        if not account.name.strip():
            yield Problem((*loc, "name"), "Give the account a name.", "needed")
        if account.currency not in DECIMALS:
            yield Problem((*loc, "currency"), _unknown_currency(account.currency), "unknown_currency")
        elif account.cushion < account.floor:
            floor, cushion = (format_amount(amount, account.currency) for amount in (account.floor, account.cushion))
            yield Problem(
                (*loc, "cushion"), f"The cushion ({cushion}) is below the floor ({floor}): make it {floor} or more.",
                "cushion_below_floor",
            )  # fmt: skip

        yield from _loan_account(plan, number, account)
        for problem in account_problems(plan, account, rule_problem):
            yield problem.under(*loc)


def _loan_account(plan: Plan, number: int, account: Account) -> Iterator[Problem]:
    loc: Loc = ("accounts", number, "loan")
    if account.loan is None:
        if account.kind == "loan":
            yield Problem(loc, "Give the loan's terms.", "needed")
        return
    if account.kind != "loan":
        yield Problem(loc, "Only an account of the kind loan has a loan's terms.", "not_used")
    if account.currency not in DECIMALS:
        return
    problems = shape_problems(account.loan)
    # A loan that its payments do not pay off goes on, and says so: that is no error of the plan.
    for field, message, kind in problems or contradictions(account.loan, account.currency):
        yield Problem((*loc, *field), message, kind)
    if account.opening.date < account.loan.disbursed:
        message = f"The loan is paid out on {account.loan.disbursed}: what is owed is known from that day on."
        yield Problem(("accounts", number, "opening", "date"), message, "range")
    if account.opening.balance > 0:
        yield Problem(("accounts", number, "opening", "balance"), "What is owed is a negative balance.", "range")
    if (owned := account.loan.property) is not None:
        yield from _property(plan, owned, (*loc, "property"))
    for name in ("from_account", "escrow_account"):
        id = getattr(account.loan, name)
        named = plan.account_by_id.get(id or "")
        if id is not None and named is None:
            yield Problem((*loc, name), _no_account(id), "unknown_id")
        elif named is not None and (named.is_debt or named.currency != account.currency):
            message = f"Choose an account in {account.currency} that is not a debt."
            yield Problem((*loc, name), message, "other_currency")


def _flows(plan: Plan) -> Iterator[Problem]:
    categories = {category.id for category in plan.categories}
    made = {payment_id(account.id): account for account in plan.accounts if account.loan is not None}
    made |= plan.maker_accounts
    for number, flow in enumerate(plan.flows):
        paid = made.get(flow.id)
        if paid is not None and not (flow.kind == "loan_payment" and flow.to_account == paid.id):
            message = f"The id “{flow.id}” is that of what “{paid.name}” makes of itself: choose another."
            yield Problem(("flows", number, "id"), message, "duplicate_id")
        for problem in (*_flow_accounts(plan, flow), *_flow_dates(plan, flow), *_flow_amounts(flow)):
            yield problem.under("flows", number)
        if flow.property is not None:
            yield from _property(plan, flow.property, ("flows", number, "property"))
        if flow.saves_for is not None and flow.saves_for.flow not in (None, *plan.flow_by_id):
            message = f"There is no flow “{flow.saves_for.flow}”."
            yield Problem(("flows", number, "saves_for", "flow"), message, "unknown_id")
        named: list[tuple[Loc, str | None]] = [(("category",), flow.category)]
        named += [(("splits", n, "category"), split.category) for n, split in enumerate(flow.splits)]
        named += [(("revisions", n, "category"), revision.category) for n, revision in enumerate(flow.revisions)]
        for loc, category in named:
            if category is not None and category not in categories:
                yield Problem(("flows", number, *loc), f"There is no category “{category}”.", "unknown_id")


_NEEDED_ACCOUNTS = {
    "income": {"to_account": "Say which account the money arrives on."},
    "bill": {"from_account": "Say which account pays."},
    "transfer": {
        "from_account": "Say which account the money leaves.",
        "to_account": "Say which account the money arrives on.",
    },
    "loan_payment": {"from_account": "Say which account pays.", "to_account": "Say which loan is paid."},
}

_ONE_SIDED = {
    "income": "Income names only the account that the money arrives on.",
    "bill": "A bill names only the account that pays.",
}


def _flow_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    if not flow.name.strip():
        yield Problem(("name",), "Give it a name.", "needed")
    needed = _NEEDED_ACCOUNTS[flow.kind]
    for field, account in (("from_account", flow.from_account), ("to_account", flow.to_account)):
        if account is None and field in needed:
            yield Problem((field,), needed[field], "needed")
        elif account is not None and field not in needed:
            yield Problem((field,), _ONE_SIDED[flow.kind], "not_used")
        elif account is not None and account not in plan.account_by_id:
            yield Problem((field,), _no_account(account), "unknown_id")
    if flow.kind == "transfer" and flow.to_account is not None and flow.from_account == flow.to_account:
        yield Problem(("to_account",), "A transfer goes to another account: choose a different one.", "same_account")
    elif flow.kind == "transfer":
        yield from _transfer_rate(plan, flow)
    yield from _revised_accounts(plan, flow)
    yield from _loan_payment(plan, flow)
    if flow.saves_for is not None and flow.kind != "transfer":
        yield Problem(("saves_for",), "Only a transfer sets money aside.", "not_used")
    yield from _split_accounts(plan, flow)


def _split_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    for number, split in enumerate(flow.splits):
        loc: Loc = ("splits", number, "account")
        if (split.account is None) == (split.category is None):
            yield Problem(("splits", number), "A part goes to one category or to one account.", "needed")
        elif split.account is not None and split.account not in plan.account_by_id:
            yield Problem(loc, _no_account(split.account), "unknown_id")
        elif split.account is not None and split.account in (flow.from_account, flow.to_account):
            yield Problem(loc, "A part goes to another account than the flow's own.", "same_account")


def _loan_payment(plan: Plan, flow: Flow) -> Iterator[Problem]:
    """A loan's payment takes its dates and amounts from the loan, and there is one for each."""
    if flow.kind != "loan_payment":
        return
    loan = plan.account_by_id.get(flow.to_account or "")
    if loan is not None and loan.loan is None:
        yield Problem(("to_account",), "Choose a loan.", "not_possible")
    paying = [each for each in plan.flows if each.kind == "loan_payment" and each.to_account == flow.to_account]
    if loan is not None and paying[0] is not flow:
        yield Problem(("to_account",), f"“{paying[0].name}” pays this loan already.", "duplicate_id")
    for number, change in enumerate(flow.changes):
        if change.amount is not None:
            message = "A loan's payment is what its terms say: add an extra to the loan instead."
            yield Problem(("changes", number, "amount"), message, "not_possible")
    for name in ("rules", "dates", "splits", "seasonal", "growth", "revisions", "count", "until"):
        if getattr(flow, name):
            yield Problem((name,), "A loan's payment takes its dates and amounts from the loan.", "not_used")


def _revised_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    """A revision may move a flow to another account of the same currency, which is open by then."""
    for number, revision in enumerate(flow.revisions):
        for field in ("from_account", "to_account"):
            named = getattr(revision, field)
            if named is None:
                continue
            loc: Loc = ("revisions", number, field)
            held, account = (plan.account_by_id.get(id or "") for id in (getattr(flow, field), named))
            if account is None:
                yield Problem(loc, _no_account(named), "unknown_id")
            elif held is None:
                yield Problem(loc, _ONE_SIDED[flow.kind], "not_used")
            elif held.currency != account.currency:
                yield Problem(loc, f"Choose an account in {held.currency}, as it was before.", "other_currency")
            elif account.opening.date > revision.start:
                message = f"“{account.name}” opens on {account.opening.date}: choose that day or a later one."
                yield Problem(loc, message, "not_open")
        if flow.kind == "transfer" and revision.moves:
            then = flow.on(revision.start)  # by bisection
            if then.from_account == then.to_account:
                message = "A transfer goes to another account: choose a different one."
                yield Problem(("revisions", number, "to_account"), message, "same_account")


_TOO_LARGE = "The amount is too large to be counted: check it."


def _transfer_rate(plan: Plan, flow: Flow) -> Iterator[Problem]:
    source, target = (plan.account_by_id.get(id or "") for id in (flow.from_account, flow.to_account))
    if not source or not target or source.currency == target.currency:
        return
    if plan.rate(source.currency, target.currency, LATEST) is None:
        message = f"There is no exchange rate from {source.currency} to {target.currency} yet: add one."
        yield Problem(("to_account",), message, "no_rate")
        return
    amounts = [revision.base or 0 for revision in flow.revisions] + [change.amount or 0 for change in flow.changes]
    largest = max([flow.base_amount, *amounts, *(amount for _, amount in flow.seasonal)])
    if {source.currency, target.currency} <= DECIMALS.keys():
        best = plan.highest_rate(source.currency, target.currency)
        if convert(largest, best, source.currency, target.currency) > _LARGEST_CONVERTED:
            yield Problem(("amount",), "At the exchange rates given, too much to be counted would arrive.", "range")


def _flow_dates(plan: Plan, flow: Flow) -> Iterator[Problem]:
    if not flow.rules and not flow.dates and flow.kind != "loan_payment":
        yield Problem(("rules",), "Say when it happens: how it repeats, or on which dates.", "needed")
    if flow.until is not None and flow.start is not None and flow.until < flow.start:
        yield Problem(
            ("until",), "It ends before it starts: choose a later end or an earlier start.", "end_before_start"
        )
        return
    if flow.until is not None and flow.count is not None:
        yield Problem(("count",), "It ends on a date or after a number of times, not both.", "two_ends")
    known = [account for account in flow.first_account_ids if account in plan.account_by_id]
    start = flow.start or (plan.opened(known) if known else None)
    rule_sets: list[tuple[Loc, Sequence[str], date | None]] = [((), flow.rules, start)]
    rule_sets += [(("revisions", n), revision.rules or (), revision.start) for n, revision in enumerate(flow.revisions)]
    for loc, rules, begin in rule_sets:
        for number, text in enumerate(rules):
            message = rule_problem(text, begin, flow.until if not loc else None)
            if message:
                yield Problem((*loc, "rules", number), message, "rule")
    for name, nominals in (
        ("changes", [change.nominal for change in flow.changes]),
        ("revisions", [revision.start for revision in flow.revisions]),
    ):
        for day, times in Counter(nominals).items():
            if times > 1:
                yield Problem((name,), f"There are two {name} for {day}: one date has one.", "duplicate_date")


@lru_cache(maxsize=1024)  # asked again for every flow at each change, most of them untouched
def rule_problem(text: str, start: date | None, until: date | None = None) -> str | None:
    """Why a rule cannot be used: it cannot be read, or it gives no date from `start` on; None when it can."""
    try:
        rule = parse_rule(text)
    except RuleError as error:
        return str(error)
    if start is None:
        return None
    first, last = start.toordinal(), min(until or LATEST, LATEST).toordinal()
    for end_of_look in widening(first, last):
        if rule_days(rule, start, first, end_of_look):
            return None
    end = " before its end" if until is not None or rule.until is not None else ""
    return f"“{rule_sentence(rule, start)}” never gives a date{end}: choose a day that exists."


def _flow_amounts(flow: Flow) -> Iterator[Problem]:
    amounts: list[tuple[Loc, int | None]] = [(("amount",), flow.amount)]
    amounts += [(("seasonal", str(month)), amount) for month, amount in flow.seasonal]
    amounts += [(("revisions", n, "amount"), revision.amount) for n, revision in enumerate(flow.revisions)]
    amounts += [(("changes", n, "amount"), change.amount) for n, change in enumerate(flow.changes)]
    amounts += [(("splits", n, "amount"), split.amount) for n, split in enumerate(flow.splits)]
    for loc, amount in amounts:
        if amount is not None and amount < 0:
            yield Problem(loc, "Give the amount without a sign: the kind says which way the money moves.", "negative")
    if flow.splits and sum(split.amount for split in flow.splits) > flow.base_amount:
        yield Problem(("splits",), "The parts are more than the whole amount.", "parts_over_whole")
    yield from _hourly(flow)
    if flow.follows and not flow.estimate:
        yield Problem(("follows",), "Only an estimate follows what was settled.", "not_used")
    yield from _growth(flow)


def _growth(flow: Flow) -> Iterator[Problem]:
    growth = flow.growth
    if growth is None:
        return
    if not -100 < growth.percent <= 1000:
        yield Problem(("growth", "percent"), "Yearly growth is between -100 and 1000 percent.", "range")
        return
    largest = max([flow.base_amount, *(revision.base or 0 for revision in flow.revisions)])
    ends = min(flow.until or LATEST, LATEST).year
    factor = (1 + Fraction(growth.percent) / 100) ** max(0, min(_GROWS_YEARS, ends - growth.start.year))
    if largest * factor > LARGEST_AMOUNT:
        message = f"At {growth.percent.normalize():f}% a year this grows beyond all that can be counted: lower it."
        yield Problem(("growth", "percent"), message, "range")


def _hourly(flow: Flow) -> Iterator[Problem]:
    pays = [(("hourly",), flow.hourly), *((("revisions", n, "hourly"), r.hourly) for n, r in enumerate(flow.revisions))]
    for loc, pay in pays:
        if pay is None:
            continue
        if flow.kind != "income":
            yield Problem(loc, "Only income is paid by the hour.", "not_used")
        if pay.rate < 0:
            yield Problem((*loc, "rate"), "A rate is zero or more.", "negative")
        if not 0 <= pay.hours <= MOST_HOURS:
            yield Problem((*loc, "hours"), f"Hours are from 0 to {MOST_HOURS}.", "range")
        if not 0 < pay.share <= 100:
            yield Problem((*loc, "share"), "The share taken home is above 0 and at most 100 percent.", "range")
        elif 0 <= pay.hours <= MOST_HOURS and pay.pay() > LARGEST_AMOUNT:
            yield Problem((*loc, "rate"), _TOO_LARGE, "range")
    for number, change in enumerate(flow.changes):
        if change.hours is not None and not 0 <= change.hours <= MOST_HOURS:
            yield Problem(("changes", number, "hours"), f"Hours are from 0 to {MOST_HOURS}.", "range")
        if change.hours is not None and flow.hourly is None:
            yield Problem(("changes", number, "hours"), "This is not paid by the hour.", "not_used")


def _allowances(plan: Plan) -> Iterator[Problem]:
    categories = {category.id: category.name for category in plan.categories}
    for number, allowance in enumerate(plan.allowances):
        loc: Loc = ("allowances", number)
        if not allowance.name.strip():
            yield Problem((*loc, "name"), "Give it a name.", "needed")
        if allowance.account not in plan.account_by_id:
            yield Problem((*loc, "account"), _no_account(allowance.account), "unknown_id")
        if allowance.limit < 0 or any(revision.limit < 0 for revision in allowance.revisions):
            yield Problem((*loc, "limit"), "A limit is zero or more.", "negative")
        if not allowance.categories:
            yield Problem((*loc, "categories"), "Choose at least one category.", "needed")
        if allowance.until is not None and allowance.start is not None and allowance.until < allowance.start:
            yield Problem((*loc, "until"), "It ends before it starts: choose a later end.", "end_before_start")
        for at, category in enumerate(allowance.categories):
            if category not in categories:
                yield Problem((*loc, "categories", at), f"There is no category “{category}”.", "unknown_id")
    yield from _shared_categories(plan, categories)


def _shared_categories(plan: Plan, names: dict[str, str]) -> Iterator[Problem]:
    """A category that two allowances limit on some day together: by when each begins, only neighbours can meet."""
    by_category: defaultdict[str, list[tuple[date, date, int]]] = defaultdict(list)
    for number, allowance in enumerate(plan.allowances):
        for category in dict.fromkeys(allowance.categories):
            by_category[category].append((allowance.start or date.min, allowance.until or date.max, number))
    for category, lives in by_category.items():
        longest: tuple[date, int] | None = None
        for begin, end, number in sorted(lives):
            if longest is not None and begin <= longest[0]:
                later, earlier = max(number, longest[1]), min(number, longest[1])
                at = plan.allowances[later].categories.index(category)
                other = plan.allowances[earlier].name
                message = f"“{names.get(category, category)}” is in the allowance “{other}” already."
                yield Problem(("allowances", later, "categories", at), message, "category_in_two")
            if longest is None or end > longest[0]:
                longest = (end, number)


def _rates(plan: Plan) -> Iterator[Problem]:
    for number, rate in enumerate(plan.rates):
        for field, code in (("from", rate.source), ("to", rate.target)):
            if code not in DECIMALS:
                yield Problem(("rates", number, field), _unknown_currency(code), "unknown_currency")
        if rate.source == rate.target:
            yield Problem(("rates", number, "to"), "A rate is between two different currencies.", "same_currency")
        if not 0 < rate.rate <= LARGEST_AMOUNT:
            yield Problem(("rates", number, "rate"), "A rate is above zero.", "range")


def check_entry(plan: Plan, entry: Entry) -> list[Problem]:
    """The problems of one recorded entry: legs that name nothing known, or that do not sum to zero."""
    problems: list[Problem] = []
    categories = plan.category_by_id
    sums: defaultdict[str | None, int] = defaultdict(int)
    for number, leg in enumerate(entry.legs):
        if (leg.account is None) == (leg.category is None):
            problems.append(Problem(("legs", number), "A leg is on one account or on one category.", "needed"))
        elif leg.account is not None and leg.account not in plan.account_by_id:
            problems.append(Problem(("legs", number, "account"), _no_account(leg.account), "unknown_id"))
        elif leg.category is not None and leg.category not in categories:
            problems.append(
                Problem(("legs", number, "category"), f"There is no category “{leg.category}”.", "unknown_id")
            )
        if abs(leg.amount) > LARGEST_AMOUNT:
            problems.append(Problem(("legs", number, "amount"), _TOO_LARGE, "range"))
        account = plan.account_by_id.get(leg.account or "")
        sums[account.currency if account else None] += leg.amount
    if entry.flow is not None and entry.flow not in plan.flow_by_id:
        problems.append(Problem(("flow",), f"There is no flow “{entry.flow}”.", "unknown_id"))
    if not any(leg.account for leg in entry.legs):
        problems.append(Problem(("legs",), "An entry moves money on at least one account.", "needed"))
    currencies = {currency for currency in sums if currency is not None}
    if len(currencies) <= 1 and (left := sum(sums.values())):
        currency = next(iter(currencies), plan.household.currency)
        problems.append(
            Problem(
                ("legs",), f"The legs must sum to zero; they leave {format_amount(left, currency)} over.", "unbalanced"
            )
        )
    return problems


def _way_out(plan: Plan) -> Iterator[Problem]:
    adopted = plan.way_out
    if adopted is None:
        return
    for place, expected in enumerate(adopted.expected):
        if expected.account not in plan.account_by_id:
            yield Problem(("way_out", "expected", place, "account"), _no_account(expected.account), "unknown_id")
    for place, id in enumerate(adopted.asked.debts or ()):
        if id not in plan.account_by_id:
            yield Problem(("way_out", "debts", place), _no_account(id), "unknown_id")
    payer = adopted.asked.from_account
    if payer is not None and payer not in plan.account_by_id:
        yield Problem(("way_out", "from_account"), _no_account(payer), "unknown_id")


def _property(plan: Plan, id: str, loc: Loc) -> Iterator[Problem]:
    named = plan.account_by_id.get(id)
    if named is None:
        yield Problem(loc, _no_account(id), "unknown_id")
    elif named.kind != "asset":
        yield Problem(loc, "Choose an account of something that is owned.", "not_possible")


def _statement_checks(plan: Plan) -> Iterator[Problem]:
    seen: set[str] = set()
    for place, held in enumerate(plan.statement_checks):
        account = plan.account_by_id.get(held.account)
        if account is None or account.loan is None:
            message = f"There is no loan “{held.account}”."
            yield Problem(("statement_checks", place, "account"), message, "unknown_id")
        if held.id in seen:
            message = f"There is a statement of {held.statement.date} of this loan already."
            yield Problem(("statement_checks", place, "date"), message, "duplicate_id")
        seen.add(held.id)


def _what_ifs(plan: Plan) -> Iterator[Problem]:
    if len(plan.what_ifs) > MOST_WHAT_IFS:
        message = f"These are {len(plan.what_ifs):,} what-ifs: at most {MOST_WHAT_IFS} are possible."
        yield Problem(("what_ifs",), message, "too_many")
    names: set[str] = set()
    for place, held in enumerate(plan.what_ifs):
        name = " ".join(held.name.lower().split())
        if not name:
            yield Problem(("what_ifs", place, "name"), "Give the what-if a name.", "needed")
        elif name in names:
            message = f"There is a what-if “{held.name}” already: choose another name."
            yield Problem(("what_ifs", place, "name"), message, "duplicate_name")
        names.add(name)
    yield from unique_ids("what_ifs", (held.id for held in plan.what_ifs))


def why_in_use(plan: Plan, kind: str, id: str) -> str | None:
    """Why an account or category cannot be taken out: what uses it; None when nothing of the plan does."""
    if kind == "account":
        users = [flow.name for flow in plan.flows if id in flow.account_ids]
        users += [a.name for a in plan.accounts if a.loan and id in (a.loan.from_account, a.loan.escrow_account)]
        users += [allowance.name for allowance in plan.allowances if allowance.account == id]
        users += [a.name for a in plan.accounts if a.card and id in (a.card.from_account, a.card.covers)]
        users += [a.name for a in plan.accounts if a.sweep and a.sweep.partner == id]
        users += [flow.name for flow in plan.flows if flow.property == id]
        users += [a.name for a in plan.accounts if a.loan and a.loan.property == id]
        users += ["its statement checks"] if any(each.account == id for each in plan.statement_checks) else []
        users += ["the way out of debt"] if plan.way_out is not None and id in plan.way_out.account_ids else []
    elif kind == "category":
        users = [flow.name for flow in plan.flows if id in flow.category_ids]
        users += [allowance.name for allowance in plan.allowances if id in allowance.categories]
    else:
        users = [flow.name for flow in plan.flows if flow.id != id and flow.saves_for and flow.saves_for.flow == id]
    if not users:
        return None
    named = ", ".join(f"“{name}”" for name in users[:3]) + (f" and {len(users) - 3} more" if len(users) > 3 else "")
    return f"This {kind} is used by {named}: move or delete {'it' if len(users) == 1 else 'these'} first."
