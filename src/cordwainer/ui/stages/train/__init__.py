"""Train: a hole with something hidden wrong with it, minutes to spend, an opinion, and then it is cut open."""
