"""What every stage rests its sentence on: what a state shows, limits first, loads the springs tell, leaks, workings."""
