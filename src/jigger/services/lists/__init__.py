"""Cut lists: gathered, laid out, written as files and papers, and the stock they lie on."""
