"""What is aboard: the order applied to the boat, under its schools."""
