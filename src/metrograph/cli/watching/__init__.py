"""The record taken from what is there: recordings and displays are gone through, and a person confirms."""
