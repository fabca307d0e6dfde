"""What faces make together: holes, slots, bosses and patterns of them, recognized on plain facts."""
