"""The simulated cutter: a knife that trails behind the carriage, and what truly comes off the sheet."""
