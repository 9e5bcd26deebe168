"""What circuits of repeated events share: finding, cylinders, tables of readings, siblings and the unusual ones."""
