"""Computation only: values in, values out. Imports nothing of Indice but itself, and touches no outside world."""
