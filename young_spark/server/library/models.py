"""The shop's own instruments; models, limits and channels are data files."""

from datetime import date

from django.db import models

from young_spark.core import instruments
from young_spark.core.reading import Accuracy, Instrument


class ShopInstrument(models.Model):
    """An instrument of this shop: a class default with what is known of this one."""

    id = models.SlugField(primary_key=True)
    name = models.CharField(max_length=100)
    kind = models.SlugField()
    serial = models.CharField(max_length=60, blank=True)
    detector = models.CharField(max_length=20, default="unknown")
    functions = models.JSONField(default=dict, blank=True)  # own accuracy, over the class's
    elements_w = models.JSONField(default=list, blank=True)
    directivity_db = models.FloatField(null=True, blank=True)
    calibrated_on = models.DateField(null=True, blank=True)
    calibration_due = models.DateField(null=True, blank=True)
    remark = models.CharField(max_length=300, blank=True)

    def as_instrument(self, today: date) -> Instrument:
        """The instrument as the core knows one; typical where it states no accuracy of its own."""
        base = instruments.typical(self.kind)
        own = {name: Accuracy(**accuracy) for name, accuracy in self.functions.items()}
        return base.model_copy(
            update={
                "id": self.id,
                "name": self.name,
                "functions": {**base.functions, **own},
                "detector": self.detector,
                "elements_w": tuple(self.elements_w) or base.elements_w,
                "directivity_db": self.directivity_db or base.directivity_db,
                "typical": not own,
                "overdue": self.calibration_due is not None and self.calibration_due < today,
            }
        )
