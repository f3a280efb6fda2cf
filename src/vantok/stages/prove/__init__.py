"""What proves the work beside the tape: leaks, clearances, the drive before and after, one change at a time."""
