"""What keeps a shop's data whole: backup, restore, what is wrong with a data folder, and what can be saved of it."""

from young_spark.keeping.backup import Backup, backup
from young_spark.keeping.folder import DATABASE, PICTURES, SECRET, CannotKeep
from young_spark.keeping.restore import Restored, finish_restore, restore
from young_spark.keeping.salvage import Salvaged, salvage
from young_spark.keeping.soundness import (
    WHAT_TO_DO,
    gather,
    make_spare_room,
    mark_begun,
    must_be_sound,
    sweep,
    use_spare_room,
)

__all__ = [
    "DATABASE",
    "PICTURES",
    "SECRET",
    "WHAT_TO_DO",
    "Backup",
    "CannotKeep",
    "Restored",
    "Salvaged",
    "backup",
    "finish_restore",
    "gather",
    "make_spare_room",
    "mark_begun",
    "must_be_sound",
    "restore",
    "salvage",
    "sweep",
    "use_spare_room",
]
