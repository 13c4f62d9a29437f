"""What Indice says and asks of the network at home: it announces itself, and has the router
open a port, where the owner wants it."""
