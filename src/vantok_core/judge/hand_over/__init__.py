"""What is open, what is claimed, the label, what a job waits for."""
