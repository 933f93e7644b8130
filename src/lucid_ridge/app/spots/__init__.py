"""What is measured on the spot: positions, bearings, skylines, readings and notes, kept as they were and taken on by a press."""
