"""Who uses Vantok: sign-in, roles, units."""
