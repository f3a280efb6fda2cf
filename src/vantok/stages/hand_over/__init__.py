"""The report, on screen and as PDF."""
