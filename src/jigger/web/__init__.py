"""The web interface: routes parse a form into a command, call one service and render."""
