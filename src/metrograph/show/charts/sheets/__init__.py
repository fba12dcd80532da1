"""What charts are drawn on and with."""
