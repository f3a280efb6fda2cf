"""Heights as read: datums, planes, sigmas, checks (method sections 1 and 3)."""
