"""Every edit a person can make, typed: those of the document, and those that need to know where things are."""
