"""Where compiled kernels are kept: one folder for each state of this package, so that nothing compiled from other text is ever run.

Numba's own index knows the date of one file alone; a kernel calls those of other files, compiled into it.
"""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

import numba
import numpy as np

SOURCES = Path(__file__).parent


def state(folder: Path = SOURCES) -> str:
    """Return 16 hexadecimal digits: the hash of every kernel's text and of the libraries' versions."""
    made = hashlib.sha256(f"{numba.__version__} {np.__version__}".encode())
    for path in sorted(folder.glob("*.py")):
        made.update(path.name.encode() + b"\0" + path.read_bytes())
    return made.hexdigest()[:16]


def keep(root: Path = SOURCES / "__pycache__") -> Path:
    """Have Numba keep what it compiles in this state's folder, which is returned; those of earlier states go.

    Where the folder cannot be made, nothing is kept, and everything works.
    """
    folder = root / f"kernels-{state()}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return folder
    for earlier in root.glob("kernels-*"):
        if earlier != folder:
            shutil.rmtree(earlier, ignore_errors=True)
    setattr(numba.config, "CACHE_DIR", str(folder))  # noqa: B010
    return folder
