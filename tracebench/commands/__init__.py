"""Commands of the command line, a module each, loaded when they are called."""
