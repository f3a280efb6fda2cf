"""Instruments at the end of a wire: their lines, and the threads that listen to them."""
