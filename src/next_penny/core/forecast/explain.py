"""Why an event is what it is: rule, roll and amount in one sentence."""

from datetime import date

from next_penny.core.books import Books
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.dates.sentences import full_day, schedule_sentence, short_day
from next_penny.core.flows.occurrences import FlowAmounts, hourly_on, rules_on
from next_penny.core.forecast.projection import Event
from next_penny.core.loans.standing import standing
from next_penny.core.money import format_amount
from next_penny.core.plan import Flow, Plan


class Explainer:
    """Explains the events of one plan; what many events share is worded once."""

    def __init__(self, plan: Plan, books: Books) -> None:
        self._plan = plan
        self._books = books
        self._rules: dict[tuple[str, tuple[str, ...]], str] = {}
        self._amounts: dict[str, FlowAmounts] = {}

    def why(self, event: Event) -> str:
        """One sentence for one event of the plan's forecast."""
        flow = self._plan.flow_by_id.get(event.flow or "")
        if event.status == "settled":
            settles = (
                f" and settles “{flow.name}” of {full_day(date.fromordinal(event.nominal))}"
                if flow and event.nominal
                else ""
            )
            return f"Recorded on {full_day(event.date)}{settles}."
        if event.allowance is not None:
            return self._held_back(event)
        assert flow is not None
        if flow.kind == "loan_payment":
            return self._loan_payment(flow, event)
        parts = [self._rule(flow, event), self._date(flow, event), self._amount(flow, event)]
        sentence = "; ".join(part for part in parts if part)
        return f"{sentence[0].upper()}{sentence[1:]}."

    def _held_back(self, event: Event) -> str:
        allowance = self._plan.allowance_by_id[event.allowance or ""]
        currency = self._plan.account_by_id[event.account].currency
        limit = format_amount(allowance.limit, currency)
        name = {"week": "week", "two_weeks": "two weeks", "month": "month"}[allowance.period]
        when = "on the last day of the period" if allowance.timing == "at_end" else "evenly over the days left"
        return f"Held back for “{allowance.name}”: what is left of {limit} a {name}, taken {when}."

    def _loan_payment(self, flow: Flow, event: Event) -> str:
        assert event.nominal is not None
        stands = standing(self._plan, self._plan.account_by_id[flow.to_account or ""], self._books)
        currency, parts = stands.account.currency, stands.parts[event.nominal]
        row = stands.row_by_day.get(event.nominal)
        head = f"Payment {row.number}" if row is not None else "Extra principal"
        total = stands.agreed.terms.payments
        of = f" of {total}" if row is not None and total is not None else ""
        named = (("interest", parts.interest), ("principal", parts.principal), ("escrow", parts.escrow),
                 ("insurance", parts.insurance))  # fmt: skip
        told = ", ".join(f"{name} {format_amount(amount, currency)}" for name, amount in named if amount)
        moved = self._date(flow, event)
        return f"{head}{of} of “{stands.account.name}”: {told}{f'; {moved}' if moved else ''}."

    def _rule(self, flow: Flow, event: Event) -> str:
        assert event.nominal is not None
        rules = rules_on(flow, date.fromordinal(event.nominal)) if flow.revisions else flow.rules
        if (flow.id, rules) not in self._rules:
            opened = self._plan.flow_opened(flow)
            self._rules[flow.id, rules] = schedule_sentence(flow.schedule(opened, rules))
        return self._rules[flow.id, rules]

    def _date(self, flow: Flow, event: Event) -> str:
        assert event.nominal is not None
        nominal = date.fromordinal(event.nominal)
        change = next((change for change in flow.changes if change.nominal == nominal), None)
        calendar = business_calendar(self._plan.household.country)
        if change is not None and change.moved_to is not None:
            landed, moved = (
                change.moved_to,
                f"moved from {short_day(nominal)} to {short_day(change.moved_to)} just this once",
            )
        else:
            rolled = calendar.roll_one(event.nominal, flow.roll)
            landed, moved = date.fromordinal(rolled), ""
            if rolled != event.nominal:
                closed = calendar.why_closed(event.nominal)
                moved = f"{short_day(nominal)} is {closed}, so it lands on {short_day(landed)}"
        if event.status == "past_due":
            overdue = f"was due {short_day(landed)}, not settled, and is assumed to move today"
            return f"{moved}; {overdue}" if moved else overdue
        return moved

    def _amount(self, flow: Flow, event: Event) -> str:
        assert event.nominal is not None
        nominal = date.fromordinal(event.nominal)
        currency = self._plan.account_by_id[flow.main_account or event.account].currency
        if flow.id not in self._amounts:
            self._amounts[flow.id] = FlowAmounts(flow, tuple(self._books.paid.get(flow.id, ())))
        amount, source = self._amounts[flow.id].with_source(event.nominal)
        text = format_amount(amount, currency)
        if source == "this date":
            hours = next((change.hours for change in flow.changes if change.nominal == nominal), None)
            worked = f", {hours.normalize():f} hours worked" if hours is not None else ""
            return f"{text} just this once{worked}"
        if source == "average":
            return f"about {text}, the average of the last {flow.follows} settled"
        hourly = hourly_on(flow, nominal)
        if hourly is not None:
            rate = format_amount(hourly.rate, currency)
            text += f" for {hourly.hours.normalize():f} hours at {rate}, {hourly.share.normalize():f}% of it taken home"
        if source == "season":
            return f"{text} as set for {nominal:%B}"
        if source == "revision":
            start = max(r.start for r in flow.revisions if r.base is not None and r.start <= nominal)
            text += f" since {full_day(start)}"
        if flow.growth is not None and nominal >= flow.growth.start:
            text += f", growing {flow.growth.percent.normalize():f}% a year from {full_day(flow.growth.start)}"
        return f"about {text}" if flow.estimate else text
