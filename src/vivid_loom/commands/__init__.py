"""What the commands do. Loaded when one runs, so that asking for help costs nothing."""
