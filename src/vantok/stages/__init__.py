"""The stages of a job, a package each: forms, actions, pages. None knows another; what they share lies in the desk."""
