"""What several rooms draw with."""
