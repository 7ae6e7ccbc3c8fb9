"""Bridges and ties: strips that hold what would come away."""
