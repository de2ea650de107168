"""What the shop has: tools, machines, materials, gauges."""
