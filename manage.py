#!/usr/bin/env python
"""Django's command line."""

import os
import sys
import tempfile

if __name__ == "__main__":
    if sys.argv[1:2] == ["test"] and "KAGERO_DATA" not in os.environ:  # never the artist's own
        scratch = tempfile.TemporaryDirectory(prefix="kagero-tests-")
        os.environ["KAGERO_DATA"] = scratch.name
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
    from django.core.management import execute_from_command_line

    from kagero.server.library.disk import disk_problem

    if sys.argv[1:2] in (["migrate"], ["load_demo"]) and (words := disk_problem()):
        sys.exit(f"Kagero: {words}")
    execute_from_command_line(sys.argv)
