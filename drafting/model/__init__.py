"""Part and assembly documents: STEP files, recipes, lasting names, mass, and the plain facts that sizes are
measured on."""
