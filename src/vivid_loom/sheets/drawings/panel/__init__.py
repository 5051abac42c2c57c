"""A switch panel to scale: its plate, its face, its back."""
