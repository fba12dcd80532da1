"""From a picture to the lines on it and what they say."""
