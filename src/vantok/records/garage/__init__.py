"""Customers and their vehicles."""
