"""Devices of the workshop: how they are talked to, and stand-ins for them."""
