"""Live operations on what a part, group or layer comes to: a module a finish, listed in `table`. mm, degrees, y up."""
