"""Where everything is: way, switch position, bus, strip and the route of every leg."""
