"""What others made, brought in: files to areas by colour, with a report of what was taken, changed and left."""
