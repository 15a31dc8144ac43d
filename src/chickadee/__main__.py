"""``python -m chickadee`` is the command ``chickadee``."""

import os
import sys

if not sys.flags.safe_path and sys.path[:1] in ([""], [os.getcwd()]):  # noqa: PTH109 - nothing else is loaded yet
    del sys.path[0]  # the folder somebody works in: a module there is not ours to run

from .cli.main import main

if __name__ == "__main__":
    main()
