"""Builds the made-up household: its world of titles, its pictures, and its folders of real, tiny media."""
