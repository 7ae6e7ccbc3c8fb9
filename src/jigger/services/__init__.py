"""Use cases: load, let the core work, save. They own transactions and the clock."""
