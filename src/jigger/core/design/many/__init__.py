"""Several parts at once: what they have in common, what is like them, how they are arranged, copied and edited."""
