"""A drawing's text read for holes: pieces joined to lines, lines to callouts, understood or doubted."""
