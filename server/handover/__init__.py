"""All records of a practice, or of one client, as a file; such a file as a practice; and the records of a client taken
away. docs/formats/practice.md describes the file."""
