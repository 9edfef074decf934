"""The rules of the job in plain Python: no web, no database, no instrument, no clock."""
