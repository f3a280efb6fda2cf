"""What the customer says."""
