"""The categories that a new household may start from: few, of common names, to be renamed as it likes."""

from next_penny.core.plan import Category

_ROWS = """
wages|Wages|Money in|income
other-income|Other income|Money in|income
housing|Housing|Home|expense
utilities|Heat, power and water|Home|expense
phone|Phone and internet|Home|expense
household|House and garden|Home|expense
groceries|Groceries|Living|expense
transport|Getting about|Living|expense
health|Health|Living|expense
clothing|Clothing|Living|expense
children|Children|Living|expense
insurance|Insurance|Living|expense
leisure|Leisure|Pleasure|expense
gifts|Gifts|Pleasure|expense
interest|Interest and fees|Money matters|expense
"""

STARTER_CATEGORIES = tuple(
    Category(id, name, group, "income" if kind == "income" else "expense")
    for id, name, group, kind in (row.split("|") for row in _ROWS.split("\n") if row)
)
