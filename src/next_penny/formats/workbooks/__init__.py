"""Tables that leave the house: workbooks and CSV."""
