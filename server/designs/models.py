"""What is kept: designs, and every revision of each.

A revision is never changed. A design points at its newest one, and a deleted design stays, so
that deleting can be undone.
"""

import uuid

from django.db import models


class Design(models.Model):
    """A maker's document, with what the shelf shows of it: the card, and the revision it was drawn from."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    head = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(db_index=True)
    deleted = models.DateTimeField(null=True, blank=True)
    demo = models.CharField(max_length=60, null=True, unique=True)
    card = models.JSONField(default=dict)
    card_of = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ("-changed",)

    def __str__(self) -> str:
        return self.name

    @property
    def recipe(self) -> str:
        """The newest recipe, as stored."""
        return self.revisions.get(number=self.head).recipe


class OwnFace(models.Model):
    """A face a maker added: its file, checked and unpacked, and how it joins.

    One that is taken off the list is kept, so that designs that use it still open and the list can have
    it back. ``rating`` is empty until it is worked out; ``rated_share`` says how far that is, and
    ``rating_failed`` that it could not be. ``about`` is what the file can do, for the list.
    """

    slug = models.CharField(max_length=40, primary_key=True)
    name = models.CharField(max_length=80)
    data = models.BinaryField()
    file_name = models.CharField(max_length=200)
    licence = models.CharField(max_length=400, blank=True)
    added = models.DateTimeField(auto_now_add=True)
    listed = models.BooleanField(default=True)
    rating = models.JSONField(null=True)
    rated_share = models.FloatField(default=0.0)
    rating_failed = models.BooleanField(default=False)
    about = models.JSONField(null=True)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class OwnFrame(models.Model):
    """A frame of the shop's own: a recipe of nothing but the frame and what it is made of."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=60)
    recipe = models.TextField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("name", "made")

    def __str__(self) -> str:
        return self.name


class Revision(models.Model):
    """A design's recipe at one moment, the window that saved it, and the number of the edit in that
    window."""

    design = models.ForeignKey(Design, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    recipe = models.TextField()
    window = models.CharField(max_length=40, default="")
    edit = models.PositiveBigIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=("design", "number"), name="one_of_each_number")]
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"{self.design_id} revision {self.number}"
