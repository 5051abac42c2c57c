"""How thick: gauge, protection, drop, shorts, and the arithmetic behind each."""
