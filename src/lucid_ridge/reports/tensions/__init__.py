"""What a broken want and its mend say on the screen."""
