"""What finishes do to areas."""
