"""From kept material to the tool: the order in which contours are followed."""
