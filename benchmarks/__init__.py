"""Measurements, never tests."""
