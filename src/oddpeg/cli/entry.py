"""The entry point of the `oddpeg` command, with settings that must precede all imports."""

from __future__ import annotations

import gc
import os
from typing import NoReturn


def main() -> NoReturn:
    """Run the command line."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # no large matrix in here; starting threads for them takes time
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # other people's code for models: looking takes time
    gc.disable()  # a short life, and hardly a cycle in it: collecting took a sixth of a large build
    from oddpeg.cli.app import run

    run()
