"""Drawings as display lists: threads, runs, supply, panels, boards, plugs, curves."""
