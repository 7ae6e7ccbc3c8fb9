"""Areas and lengths in millimetres. The only package, with joinery, that holds Shapely objects."""
