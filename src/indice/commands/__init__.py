"""The commands, by what they are for; each module hangs its own on the application when it is loaded."""
