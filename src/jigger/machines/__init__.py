"""Simulated machines: processes of their own that draw what they receive, and nothing else."""
