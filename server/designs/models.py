"""What is kept: designs, and every revision of each.

A revision is never changed. A design points at its newest one, and a deleted design stays, so
that deleting can be undone.
"""

import uuid

from django.db import models


class Design(models.Model):
    """A maker's document, with what the shelf shows of it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    head = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(db_index=True)
    deleted = models.DateTimeField(null=True, blank=True)
    demo = models.CharField(max_length=60, null=True, unique=True)
    card = models.JSONField(default=dict)

    class Meta:
        ordering = ("-changed",)

    def __str__(self) -> str:
        return self.name

    @property
    def recipe(self) -> str:
        """The newest recipe, as stored."""
        return self.revisions.get(number=self.head).recipe


class Revision(models.Model):
    """A design's recipe at one moment."""

    design = models.ForeignKey(Design, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    recipe = models.TextField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=("design", "number"), name="one_of_each_number")]
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"{self.design_id} revision {self.number}"
