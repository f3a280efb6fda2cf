"""The static model: where the body stands on its springs and tyres in each load state (method section 4)."""
