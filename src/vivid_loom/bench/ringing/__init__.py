"""Ringing a harness out: its pins and nets, limits, the plan, results and what they mean."""
