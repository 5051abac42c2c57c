"""Wire cut from spools and remnants: least waste, with a bound that proves it."""
