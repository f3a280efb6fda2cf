"""The shapes of files the core reads and writes: vehicle forms, worked cases, job files."""
