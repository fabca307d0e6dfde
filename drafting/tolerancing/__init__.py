"""What tolerances come to in numbers, apart from any drawing."""
