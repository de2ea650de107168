"""What the print asks: holes and their tolerances."""
