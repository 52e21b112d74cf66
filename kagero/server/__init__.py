"""Django: keeps people's work, serves frames and files. Never maths."""
