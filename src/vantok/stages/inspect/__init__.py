"""The inspection: faults first."""
