"""Wire cut from spools and remnants: the least used up, by worth, with a bound that proves it."""
