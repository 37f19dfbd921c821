"""`python -m oddpeg` does what `oddpeg` does."""

from oddpeg.cli.entry import main

if __name__ == "__main__":
    main()
