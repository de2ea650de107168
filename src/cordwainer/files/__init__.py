"""Open formats at the edge: job, shop, readings, scale and case files, read with care."""
