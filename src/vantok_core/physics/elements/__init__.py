"""Spring and helper laws: force against compression, one class per row of the element table in the method."""
