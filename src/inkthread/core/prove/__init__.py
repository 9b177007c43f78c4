"""What a harness is proved by: its tests with bands, what readings speak of, what explains them."""
