"""Path → Reading: facts, each with the letters of the name that it came from, and why."""
