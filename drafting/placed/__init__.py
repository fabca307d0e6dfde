"""Files that a drafter places on sheets: pictures, and drawings of old as underlays."""
