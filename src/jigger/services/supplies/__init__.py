"""What designs are made of: fonts and their glyphs, ornaments, art and pictures, materials and settings."""
