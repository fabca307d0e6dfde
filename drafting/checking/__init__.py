"""What a checker would find on a sheet: rules of the standards, a module each in `rules`."""
