"""Odd Peg: a folder of SVG icons becomes an icon font whose codepoints never move."""

__version__ = "0.1.0"
