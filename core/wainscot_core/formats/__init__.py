"""Files that come in and go out: case files, tables of foods and standards."""
