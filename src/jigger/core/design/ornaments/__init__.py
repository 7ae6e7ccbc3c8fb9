"""Ornaments: drawn shapes to put into designs."""
