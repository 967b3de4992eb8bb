"""Parts, joints and sockets as a graph, and what follows from it: facts, mesh, chain, marks, pictures."""
