"""What a drawing leaves free, determines and says twice of the numbers a part is made of."""
