"""Run the `oddpeg` command by `python -m oddpeg`."""

from oddpeg.cli.entry import main

if __name__ == "__main__":
    main()
