"""The back of a switch panel: where its tabs are, and the wires between them."""
