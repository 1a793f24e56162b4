"""What is wrong with a plan, each problem a sentence at its field."""
