"""What a hand looks up at the bench: tables as data, tables worked out, and markings read."""

from young_spark.core.reference.asked import Asked, asked
from young_spark.core.reference.looking_up import Shelf, TableName, look_up, table_names, whole_table
from young_spark.core.reference.table import Row, Table

__all__ = ["Asked", "Row", "Shelf", "Table", "TableName", "asked", "look_up", "table_names", "whole_table"]
