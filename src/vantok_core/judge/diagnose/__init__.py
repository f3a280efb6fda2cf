"""What is so: stance, springs, the tail, causes by chance, what to read next."""
