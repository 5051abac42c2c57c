"""What the harness shop works out from a draft: bundle sections, bench hours."""
