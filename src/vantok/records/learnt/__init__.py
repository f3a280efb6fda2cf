"""What closed jobs taught the shop."""
