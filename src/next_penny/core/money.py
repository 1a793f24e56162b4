"""Money as integers of minor units of an ISO 4217 currency; rates as exact decimals (docs/rules.md, Money).

Nothing here, or anywhere near an amount, is a float.
"""

from decimal import Decimal
from fractions import Fraction

# ISO 4217 active currencies by their number of decimals; those not listed as 0, 3 or 4 have 2.
_NO_DECIMALS = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF"
_THREE_DECIMALS = "BHD IQD JOD KWD LYD OMR TND"
_FOUR_DECIMALS = "CLF UYW"
_TWO_DECIMALS = """
AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY COP CRC CUP
CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES
KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK
NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB
TJS TMT TOP TRY TTD TWD TZS UAH USD UYU UZS VED VES WST XCD XCG YER ZAR ZMW ZWG
"""

DECIMALS: dict[str, int] = {
    code: decimals
    for codes, decimals in ((_NO_DECIMALS, 0), (_TWO_DECIMALS, 2), (_THREE_DECIMALS, 3), (_FOUR_DECIMALS, 4))
    for code in codes.split()
}

_SYMBOLS = {"USD": "$", "EUR": "€", "GBP": "£", "JPY": "¥", "INR": "₹", "CAD": "CA$", "AUD": "A$", "NZD": "NZ$"}

# Larger amounts than this are refused, so that sums of millions of them stay exact in 64 bits and in a browser.
LARGEST_AMOUNT = 10**12


def round_half_up(value: Fraction | Decimal) -> int:
    """Round to a whole number of minor units, away from zero at the half."""
    exact = Fraction(value)
    doubled = 2 * abs(exact.numerator) + exact.denominator
    magnitude = doubled // (2 * exact.denominator)
    return magnitude if exact >= 0 else -magnitude


def convert(amount: int, rate: Fraction, source: str, target: str) -> int:
    """An amount of `source` minor units in `target` minor units; `rate` is target units for one source unit."""
    scale = Fraction(10) ** (DECIMALS[target] - DECIMALS[source])
    return round_half_up(rate * amount * scale)


def format_amount(amount: int, currency: str) -> str:
    """An amount as people write it: `-$1,234.56`, `¥500`, `CHF 12.00`."""
    decimals = DECIMALS[currency]
    whole, part = divmod(abs(amount), 10**decimals)
    digits = f"{whole:,}" + (f".{part:0{decimals}d}" if decimals else "")
    symbol = _SYMBOLS.get(currency, f"{currency}\N{NO-BREAK SPACE}")
    return f"{'-' if amount < 0 else ''}{symbol}{digits}"
