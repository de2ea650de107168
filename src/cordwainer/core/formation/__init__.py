"""How a hole comes to be: the one model that planning, diagnosis and practice all ask."""
