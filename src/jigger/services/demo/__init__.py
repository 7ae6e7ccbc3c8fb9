"""The made-up boatyard: its designs, stock and cut lists."""
