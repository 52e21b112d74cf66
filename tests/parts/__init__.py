"""Laws that hold for every part there is, and what it takes to add one."""
