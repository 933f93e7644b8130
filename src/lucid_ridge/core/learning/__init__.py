"""What rated takes teach about the photographer: values of their own beside those of common practice.

Each is an estimate with its spread, drawn towards common practice as long as there are few takes; nothing is proposed where
chance alone would explain it.
"""
