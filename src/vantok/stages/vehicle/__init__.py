"""The vehicle's facts."""
