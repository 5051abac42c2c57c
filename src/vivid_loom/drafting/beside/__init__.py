"""What lies beside the circuits: bonds, spares, recorded systems, what is already built in."""
