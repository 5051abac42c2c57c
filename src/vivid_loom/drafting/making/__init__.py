"""How it is made: colours, cables, switches, plugs, both ends of every wire."""
