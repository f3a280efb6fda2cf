"""What was found on the vehicle before anything is read: the inspection and the census."""
