"""Devices of the workshop, and stand-ins for them that ship with the application."""
