"""One module for each file format and direction. Everything written comes from a built design."""
