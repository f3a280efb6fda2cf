"""Over the road: road shapes, seven-degree-of-freedom simulation, comfort weighting (method section 7)."""
