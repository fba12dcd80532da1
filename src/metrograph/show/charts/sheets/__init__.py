"""Sheets: the paper, colours and faces that charts are drawn on and with."""
