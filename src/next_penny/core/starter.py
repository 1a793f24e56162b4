"""The categories that a new household may start from: few, of common names, to be renamed as it likes."""

from next_penny.core.plan import Category

_ROWS = """
wages|Wages|Money in|income|hand-coins
other-income|Other income|Money in|income|coins
housing|Housing|Home|expense|house
utilities|Heat, power and water|Home|expense|plug
phone|Phone and internet|Home|expense|phone
household|House and garden|Home|expense|sofa
groceries|Groceries|Living|expense|basket
transport|Getting about|Living|expense|car
health|Health|Living|expense|heart
clothing|Clothing|Living|expense|shirt
children|Children|Living|expense|child
insurance|Insurance|Living|expense|umbrella
leisure|Leisure|Pleasure|expense|cup
gifts|Gifts|Pleasure|expense|gift
interest|Interest and fees|Money matters|expense|percent
"""

STARTER_CATEGORIES = tuple(
    Category(id, name, group, "income" if kind == "income" else "expense", icon)
    for id, name, group, kind, icon in (row.split("|") for row in _ROWS.split("\n") if row)
)
