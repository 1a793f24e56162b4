"""A loan on other terms: variants, compared, adopted, paid off early."""
