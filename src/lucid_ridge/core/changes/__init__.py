"""What a hand or a mend does to a composition, and the checks of a scene."""
