"""Route handlers, a module a station."""
