"""``python -m chickadee`` is the command ``chickadee``."""

from .cli.main import main

if __name__ == "__main__":
    main()
