"""The coming days as days, months, years and the tideline; running short."""
