"""What every figure is drawn on: the sheet, its paper, its letters and its keys."""
