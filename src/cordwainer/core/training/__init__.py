"""Learning to judge holes without scrap: a hidden cause, a hole cut by the forward model, an honest score."""
