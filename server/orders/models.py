"""What is kept of orders: what they ask for, their rows, what these came to, and the sheets that were cut."""

import uuid

from django.db import models

from designs.models import CutJob, Design


class Stage(models.TextChoices):
    """How far an order is."""

    DRAFT = "draft"
    PROOF = "proof"
    APPROVED = "approved"
    CUTTING = "cutting"
    DONE = "done"


class Order(models.Model):
    """A list of names to be made from a design, for a customer. An order that was deleted can be put back."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    customer = models.CharField(max_length=120, blank=True)
    due = models.DateField(null=True, blank=True)
    stage = models.CharField(max_length=10, choices=Stage, default=Stage.DRAFT)
    design = models.ForeignKey(Design, models.PROTECT, related_name="orders")
    # fulgen.orders.plan.OrderPlan
    plan = models.JSONField(default=dict)
    # Grows with every change of what stands above: who saves says what it was changed from.
    edit = models.PositiveBigIntegerField(default=1)
    # Grows with every change of a row: who looks asks for what came since.
    change = models.PositiveBigIntegerField(default=0)
    # Grows with what rows say, by the list or by hand: they are then to be worked out anew.
    said = models.PositiveBigIntegerField(default=0)
    # No number is used twice.
    next_number = models.PositiveIntegerField(default=1)
    # How its rows lie on sheets, by a key of all that this hangs on (``sheets``).
    laid = models.JSONField(default=dict)
    # The maker does not want its rows worked out just now.
    stopped = models.BooleanField(default=False)
    demo = models.CharField(max_length=60, null=True, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(db_index=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-changed",)

    def __str__(self) -> str:
        return self.name


class OrderRow(models.Model):
    """A row of an order: what the list says, what a hand has made of it, and what it came to.

    ``made_key`` is the digest of all that the result hangs on; a row whose result is of another key is to be
    worked out.
    """

    order = models.ForeignKey(Order, models.CASCADE, related_name="rows")
    number = models.PositiveIntegerField()
    # By the keys of fields (fulgen.orders.fields.Field.key).
    values = models.JSONField(default=dict)
    # What is to be known of it beside the others of the list.
    notes = models.JSONField(default=list)
    removed = models.BooleanField(default=False)
    change = models.PositiveBigIntegerField(default=0)

    # The design that a hand opened, and the recipe with which it began, compressed.
    by_hand = models.OneToOneField(Design, models.SET_NULL, null=True, related_name="of_row")
    began = models.BinaryField(null=True)

    made_key = models.CharField(max_length=24, default="")
    state = models.CharField(max_length=20, default="")
    reasons = models.JSONField(default=list)
    width_mm = models.FloatField(default=0.0)
    height_mm = models.FloatField(default=0.0)
    pieces = models.PositiveIntegerField(default=0)
    films = models.JSONField(default=list)
    # The size of its letters where nothing but itself decides it, and the key of that result.
    free_key = models.CharField(max_length=24, default="")
    free_letters_mm = models.FloatField(default=0.0)

    # The key of the result that the maker looked at, and whether it has changed since by more than a hair.
    looked_key = models.CharField(max_length=24, default="")
    look_again = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=("order", "number"), name="one_row_of_each_number")]
        indexes = [models.Index(fields=("order", "change"))]
        ordering = ("number",)

    def __str__(self) -> str:
        return f"{self.order_id} row {self.number}"


class RowResult(models.Model):
    """What a row came to, for sheets and for the eye: as ``fulgen.orders.kept`` packs it, and as SVG."""

    row = models.OneToOneField(OrderRow, models.CASCADE, related_name="result")
    packed = models.BinaryField()
    picture = models.TextField()
    # Its recipe where something gave way in it, compressed.
    recipe = models.BinaryField(null=True)
    # As the maker looked at it.
    looked = models.BinaryField(null=True)

    def __str__(self) -> str:
        return f"result of {self.row_id}"


class CutSheet(models.Model):
    """A sheet of an order that was sent to the cutter, or is said to be cut: what lies on it is not laid
    again. ``laid``: row, copy, film of the design, and the box on the sheet, of each copy."""

    order = models.ForeignKey(Order, models.CASCADE, related_name="cut_sheets")
    number = models.PositiveIntegerField()
    film = models.CharField(max_length=7)
    key = models.CharField(max_length=40)
    laid = models.JSONField()
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    # None: it was cut by a machine that Fulgen knows nothing of.
    job = models.OneToOneField(CutJob, models.SET_NULL, null=True, related_name="order_sheet")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=("order", "number"), name="one_sheet_of_each_number")]
        ordering = ("number",)

    def __str__(self) -> str:
        return f"{self.order_id} sheet {self.number}"


class OrderVersion(models.Model):
    """An order as it was: its plan and what its rows said, compressed JSON; ``what`` was changed then."""

    order = models.ForeignKey(Order, models.CASCADE, related_name="versions")
    packed = models.BinaryField()
    what = models.CharField(max_length=200)
    rows = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=80, blank=True)
    made = models.DateTimeField()

    class Meta:
        ordering = ("-made", "-id")

    def __str__(self) -> str:
        return f"{self.order_id} at {self.made}"
