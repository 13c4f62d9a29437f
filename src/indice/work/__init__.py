"""What runs in the background: one short module a job, composed of the other rooms."""
