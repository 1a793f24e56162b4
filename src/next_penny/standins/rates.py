"""Simulated exchange rates: a table by day, which wanders a little around where it began."""

from datetime import date, timedelta
from decimal import Decimal
from random import Random

_BEGAN = {"EUR": Decimal("1.10"), "GBP": Decimal("1.28"), "CHF": Decimal("1.13"), "JPY": Decimal("0.0067"),
          "CAD": Decimal("0.73")}  # fmt: skip
_PLACES = Decimal("0.000001")


def rates_table(source: str, target: str, first: date, last: date) -> str:
    """Rates of the weekdays of some days, as CSV; only its header where a currency is not known."""
    lines = ["date,from,to,rate"]
    if {source, target} <= {"USD", *_BEGAN}:
        for number in range((last - first).days + 1):
            day = first + timedelta(days=number)
            if day.weekday() < 5:
                rate = _in_dollars(source, day) / _in_dollars(target, day)
                lines.append(f"{day},{source},{target},{rate.quantize(_PLACES).normalize():f}")
    return "\n".join(lines) + "\n"


def _in_dollars(currency: str, day: date) -> Decimal:
    if currency == "USD":
        return Decimal(1)
    permille = sum(Random(f"{currency} {day - timedelta(days=back)}").randint(-4, 4) for back in range(20))
    return _BEGAN[currency] * (1000 + Decimal(permille)) / 1000
