"""The layout of the sheet: what the interface shows and offers, derived from the parts."""

from .adding import props_of_file
from .layout import layout
from .usage import users

__all__ = ["layout", "props_of_file", "users"]
