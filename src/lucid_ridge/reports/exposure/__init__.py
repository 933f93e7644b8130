"""The Exposure bench: account, filters, range, motion, polariser, night."""
