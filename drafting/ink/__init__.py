"""What is drawn: lines, arcs, ellipses, fills and lettering in sheet millimeters, for every back end
alike."""
