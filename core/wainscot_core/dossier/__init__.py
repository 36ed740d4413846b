"""Everything an analysis looks at, in one frozen input; and the reference data it stands on."""
