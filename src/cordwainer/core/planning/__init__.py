"""From a print and a crib to sequences of operations, ranked and explained."""
