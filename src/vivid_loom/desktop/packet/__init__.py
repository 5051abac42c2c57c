"""Stage Packet."""
