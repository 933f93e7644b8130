"""The web application: one folder for each feature, and what they share beside them."""
