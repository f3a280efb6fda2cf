"""What the database keeps: models and their migrations, an app each under its old label; they know no page."""
