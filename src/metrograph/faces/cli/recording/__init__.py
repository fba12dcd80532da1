"""Commands during the installation."""
