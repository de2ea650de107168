"""One module a stage: print, plan, measure, explain, and the first start."""
