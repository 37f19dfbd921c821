"""One module for each kind of output; each holds a `KIND`."""
