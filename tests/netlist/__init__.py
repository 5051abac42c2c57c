"""Tests of the net list."""
