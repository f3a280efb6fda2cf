"""Whether the shop's data, this machine and the program's own arithmetic are well, and what to do where they are not."""
