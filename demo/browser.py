"""Which browser draws the screenshots, and runs the benchmark and the tests: Debian's Chromium without a window, whose
smaller build starts nothing for a window that nobody sees (about a quarter less time for a journey)."""

from __future__ import annotations

import shutil

CHROMIUM = shutil.which("chromium-headless-shell") or "/usr/bin/chromium"
