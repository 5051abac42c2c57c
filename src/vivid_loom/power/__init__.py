"""A draft powered up: states, faults and what comes of them, energy."""
