"""The version, where everything can ask for it."""

__version__ = "0.3.0"
