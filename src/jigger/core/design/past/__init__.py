"""States of a design beside each other: what is another between them, and what is brought back from one."""
