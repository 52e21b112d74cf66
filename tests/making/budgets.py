"""How many operations may begin without a question."""

from __future__ import annotations

AT_ONCE = 120e6  # operations that nothing may begin without asking: about half a second
