"""The day board, opening a job, its file and its history."""
