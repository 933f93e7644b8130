"""Light: the sun's place, events of a day, direction on the view, illuminance."""
