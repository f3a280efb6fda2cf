"""Jobs: the day board, listening, history, job files."""
