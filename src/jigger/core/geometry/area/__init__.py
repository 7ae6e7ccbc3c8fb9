"""Areas: the one area type, what it is put together of, and where its vertices were born."""
