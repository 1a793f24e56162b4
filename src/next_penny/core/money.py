"""Money as integers of minor units of an ISO 4217 currency; rates as exact decimals (docs/rules.md, Money).

Nothing here, or anywhere near an amount, is a float. Names, symbols and patterns of currencies are Babel's (CLDR).
"""

import re
from decimal import Decimal
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

from babel import Locale
from babel.core import get_global
from babel.numbers import NumberPattern, get_currency_name, parse_pattern

from next_penny.core.dates.writing import Notation, current
from next_penny.core.problems import PlanError, Problem

# ISO 4217 has minor units for these; CLDR, which says how cash is written, has none.
_ISO_4217_SAYS_OTHERWISE = {
    "AFN": 2, "ALL": 2, "IQD": 3, "IRR": 2, "KPW": 2, "LAK": 2, "LBP": 2, "MGA": 2, "MMK": 2, "RSD": 2, "SOS": 2,
    "SYP": 2, "YER": 2,
}  # fmt: skip
# In ISO 4217's list of active currencies, but no country's legal tender by itself.
_OF_NO_COUNTRY = {"CLF", "SVC", "UYI", "UYW", "VED"}

_ENGLISH = Locale.parse("en_US")

# Larger amounts than this are refused, so that sums of millions of them stay exact in 64 bits and in a browser.
LARGEST_AMOUNT = 10**12
# No sum of amounts that is told or forecast may leave the whole numbers that 64 bits and a browser hold exactly.
LARGEST_SUM = 2**53 - 1


def _active_currencies() -> set[str]:
    """The currencies that are legal tender in some country today, by CLDR's dated table."""
    table = get_global("territory_currencies")
    return {
        code for rows in table.values() for code, _start, end, is_tender in rows if end is None and is_tender
    } | _OF_NO_COUNTRY  # fmt: skip


def _decimals() -> dict[str, int]:
    fractions = get_global("currency_fractions")
    usual = fractions["DEFAULT"][0]
    return {
        code: _ISO_4217_SAYS_OTHERWISE.get(code, fractions.get(code, (usual,))[0])
        for code in sorted(_active_currencies())
    }


# The minor unit's decimals by ISO 4217 currency code.
DECIMALS: dict[str, int] = _decimals()


def round_half_up(value: Fraction | Decimal) -> int:
    """Round to a whole number of minor units, away from zero at the half."""
    exact = Fraction(value)
    magnitude = rounded_quotient(abs(exact.numerator), exact.denominator)
    return magnitude if exact >= 0 else -magnitude


def rounded_quotient(numerator: int, denominator: int) -> int:
    """A quotient of numbers that are not negative, rounded to a whole one, half up."""
    return (2 * numerator + denominator) // (2 * denominator)


def even_parts(total: int, count: int) -> tuple[int, ...]:
    """An amount that is not negative in so many parts, rounded as it accumulates so that they sum exactly."""
    upto = [rounded_quotient(total * number, count) for number in range(count + 1)]
    return tuple(after - before for before, after in pairwise(upto))


def whole_percent(part: int, whole: int) -> int:
    """A share in whole percent, from 0 to 100."""
    return max(0, min(100, rounded_quotient(100 * max(0, part), max(1, whole))))


def convert(amount: int, rate: Fraction, source: str, target: str) -> int:
    """An amount of `source` minor units in `target` minor units; `rate` is target units for one source unit."""
    scale = Fraction(10) ** (DECIMALS[target] - DECIMALS[source])
    return round_half_up(rate * amount * scale)


@lru_cache(maxsize=512)
def _pattern(currency: str) -> NumberPattern:
    decimals = DECIMALS[currency]
    # A symbol of letters stands apart from the digits: CHF 12.00.
    symbol = currency_sign(currency)
    gap = "\N{NO-BREAK SPACE}" if symbol[-1].isalpha() else ""
    return parse_pattern(f"¤{gap}#,##0{'.' if decimals else ''}{'0' * decimals}")


def format_amount(amount: int, currency: str) -> str:
    """An amount as people write it: `-$1,234.56`, `¥500`, `CHF 12.00`; with the household's separators."""
    return _formatted(amount, currency, current().notation)


_NARROW = "\N{NARROW NO-BREAK SPACE}"


@lru_cache(maxsize=65536)
def _formatted(amount: int, currency: str, notation: Notation) -> str:
    text = _in_english(amount, currency)
    if notation == "1,234.56":
        return text
    group = "." if notation == "1.234,56" else _NARROW
    # The symbol may have a point of its own: only the number is written otherwise.
    start = next(place for place, letter in enumerate(text) if letter.isdigit())
    return text[:start] + text[start:].translate({ord(","): group, ord("."): ","})


def _in_english(amount: int, currency: str) -> str:
    major = Decimal(amount).scaleb(-DECIMALS[currency])
    return str(_pattern(currency).apply(major, _ENGLISH, currency=currency, currency_digits=False))


def currency_sign(currency: str) -> str:
    """The sign of a currency: `$`, `€`; its code where it has none."""
    return str(_ENGLISH.currency_symbols.get(currency, currency))


def currency_words(currency: str) -> frozenset[str]:
    """How a currency is called in a sentence: `dollar`, `dollars`."""
    names = (get_currency_name(currency, count, locale=_ENGLISH) for count in (1, 2))
    return frozenset(name.split()[-1].lower() for name in names)


def percent_text(rate: Decimal) -> str:
    """A rate as people write it: `21.9%`."""
    text = f"{rate.normalize():f}%"
    return text if current().notation == "1,234.56" else text.replace(".", ",")


def read_amount(text: str, currency: str) -> int:
    """An amount above zero as the household writes amounts, with its currency's sign or without, in minor units.

    Raises PlanError at no field.
    """
    notation, decimals = current().notation, DECIMALS[currency]
    group, mark = {"1,234.56": (",", "."), "1.234,56": (".", ","), "1 234,56": (_NARROW, ",")}[notation]
    sign = re.escape(currency_sign(currency))
    whole = rf"\d{{1,3}}(?:{re.escape(group)}\d{{3}})+|\d+"
    part = rf"(?:{re.escape(mark)}(\d{{1,{decimals}}}))?" if decimals else "()"
    match = re.fullmatch(rf"(?:{sign}\u00a0?)?({whole}){part}(?:\u00a0?{sign})?", text.strip())
    if match is None:
        raise PlanError([Problem((), f"“{text.strip()}” is no amount in {currency}.", "amount")])
    return int(match[1].replace(group, "") + (match[2] or "").ljust(decimals, "0"))


def words_of(text: str) -> list[str]:
    """A text's words; the digits of an amount that a household writes in groups with gaps are one."""
    if current().notation == "1 234,56":
        text = re.sub(r"(?<=\d)[ \u00a0\u202f](?=\d{3}(?!\d))", _NARROW, text)
    return [word for word in re.split(r"[ \t]+", text) if word]


def amounts_of(text: str) -> list[int]:
    """What a text may mean as an amount, in minor units of currencies of 0, 2 or 3 decimals; none for other text."""
    plain = text.strip().replace(" ", "")
    mark = max(plain.rfind("."), plain.rfind(","))
    whole, part = (plain[:mark], plain[mark + 1 :]) if mark >= 0 and len(plain) - mark - 1 != 3 else (plain, "")
    digits = whole.replace(",", "").replace(".", "").lstrip("+-")
    if not digits.isascii() or not digits.isdigit() or len(digits) > 12 or (part and not part.isdigit()):
        return []
    return [int(digits + part.ljust(decimals, "0")) for decimals in (0, 2, 3) if len(part) <= decimals]
