"""Links to readouts over a serial line, and the stand-in that ships for them."""
