"""From the document to areas."""
