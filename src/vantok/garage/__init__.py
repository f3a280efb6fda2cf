"""Vehicles over the years: the garage and a vehicle's page."""
