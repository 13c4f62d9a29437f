"""What playing comes to: what a file is, what a player takes, how the one becomes the other, and where one is. Pure."""
