"""What things are called and said on sheets and screens."""
