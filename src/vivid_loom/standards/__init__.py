"""Tables and formulas of the trade, each with its source. Nothing else knows a table value."""
