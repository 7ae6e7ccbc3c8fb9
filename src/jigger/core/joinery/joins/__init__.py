"""How a part meets what was built before it: a module a join, listed in `table`. R is what is built, P the part."""
