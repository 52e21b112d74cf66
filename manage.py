#!/usr/bin/env python
"""Django's command line."""

import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
    from django.core.management import execute_from_command_line

    from kagero.server.library.disk import trouble

    if sys.argv[1:2] in (["migrate"], ["load_demo"]) and (words := trouble()):
        sys.exit(f"Kagero: {words}")
    execute_from_command_line(sys.argv)
