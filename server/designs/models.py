"""What is kept: designs, and every revision of each.

A revision is never changed. A design points at its newest one, and a deleted design stays, so
that deleting can be undone.
"""

import uuid

from django.db import models


class Design(models.Model):
    """A maker's document, with what the shelf shows of it: the card, and the revision it was drawn from.
    Without a name it is called by its words."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120, blank=True)
    tags = models.JSONField(default=list)
    head = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(db_index=True)
    deleted = models.DateTimeField(null=True, blank=True)
    demo = models.CharField(max_length=60, null=True, unique=True)
    card = models.JSONField(default=dict)
    card_of = models.PositiveIntegerField(default=0)
    # The order of which it is a row changed by hand: it is not on the shelf.
    order = models.UUIDField(null=True, editable=False)

    class Meta:
        ordering = ("-changed",)

    def __str__(self) -> str:
        return self.name


class OwnFace(models.Model):
    """A face a maker added: its file, checked and unpacked, and how it joins.

    One that is taken off the list is kept, so that designs that use it still open and the list can have
    it back. ``facts`` is what the file says of itself, for the list. ``record`` is how it looks and joins,
    empty until it is worked out; ``rated_share`` says how far that is, and ``rating_failed`` that it could
    not be.
    """

    slug = models.CharField(max_length=40, primary_key=True)
    name = models.CharField(max_length=80)
    data = models.BinaryField()
    file_name = models.CharField(max_length=200)
    licence = models.CharField(max_length=400, blank=True)
    added = models.DateTimeField(auto_now_add=True)
    listed = models.BooleanField(default=True)
    facts = models.JSONField(null=True)
    record = models.JSONField(null=True)
    rated_share = models.FloatField(default=0.0)
    rating_failed = models.BooleanField(default=False)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class FavouriteFace(models.Model):
    """A face that the shop likes to come back to, shipped or its own, by its slug."""

    slug = models.CharField(max_length=80, primary_key=True)

    def __str__(self) -> str:
        return self.slug


class Photo(models.Model):
    """A photograph that lies under a design, by the digest of its file."""

    image = models.CharField(max_length=64, primary_key=True)
    data = models.BinaryField()
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    added = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.image


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


class LongText(models.Model):
    """A long text of recipes, such as a drawing, kept once for all revisions that hold it."""

    digest = models.CharField(max_length=64, primary_key=True)
    packed = models.BinaryField()

    def __str__(self) -> str:
        return self.digest


class Revision(models.Model):
    """A design's recipe at one moment (see ``revisions``), the window that saved it, the number of the edit
    in that window, and its own name, by which it is kept for good."""

    design = models.ForeignKey(Design, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    packed = models.BinaryField()
    texts = models.ManyToManyField(LongText)
    window = models.CharField(max_length=40, default="")
    edit = models.PositiveBigIntegerField(default=0)
    name = models.CharField(max_length=80, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=("design", "number"), name="one_of_each_number")]
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"{self.design_id} revision {self.number}"


class ShopMachine(models.Model):
    """A machine of the shop: its profile, as the core has it, and how it is reached (``cutters.lines``)."""

    name = models.CharField(max_length=60, primary_key=True)
    profile = models.JSONField()
    reached = models.JSONField(default=dict)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class ShopMaterial(models.Model):
    """A material of the shop's own, or one of those that Fulgen knows with other limits, as the core has
    it."""

    name = models.CharField(max_length=60, primary_key=True)
    profile = models.JSONField()

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class ShopHabit(models.Model):
    """What the shop always does to a letter or a pair of letters of a family, as the core has it."""

    family = models.CharField(max_length=80)
    letters = models.CharField(max_length=2)
    habit = models.JSONField()

    class Meta:
        ordering = ("family", "letters")
        constraints = (models.UniqueConstraint(fields=("family", "letters"), name="one_habit"),)

    def __str__(self) -> str:
        return f"{self.letters} in {self.family}"


class PressNote(models.Model):
    """What the shop knows of pressing a material. ``degrees`` are in °C."""

    material = models.CharField(max_length=60, primary_key=True)
    side = models.CharField(max_length=120, blank=True)
    degrees = models.FloatField(null=True)
    seconds = models.FloatField(null=True)
    passes = models.PositiveSmallIntegerField(default=1)
    peel = models.CharField(max_length=20, blank=True)
    cover = models.CharField(max_length=120, blank=True)

    def __str__(self) -> str:
        return self.material


class PressTest(models.Model):
    """A try on a material, and how it went: one that failed warns the next time."""

    material = models.CharField(max_length=60, db_index=True)
    on = models.DateField()
    words = models.CharField(max_length=240)
    good = models.BooleanField(default=False)

    class Meta:
        ordering = ("-on", "-id")

    def __str__(self) -> str:
        return f"{self.material}, {self.on}: {self.words}"


class JobState(models.TextChoices):
    """Where a job at a cutter stands; what leads from one to another is in ``job_states``."""

    WAITING = "waiting"
    CUTTING = "cutting"
    PAUSED = "paused"
    LOST = "lost"
    OFF = "off"
    NO_FILM = "no-film"
    STOPPED = "stopped"
    DONE = "done"


class CutJob(models.Model):
    """The cutting of one sheet, with its state (see ``job_states``). ``done``: how many of its strokes are
    cut; ``pieces_free``: after how many strokes each piece is free; ``lengths``: how far the carriage goes
    for each, in mm. ``promised`` are the pieces that are to come off, as WKB in hex; ``outcome`` is how it
    ended. ``film_piece`` counts the pieces of film that it was begun on. ``by_time``: the machine does not
    say how far it is. ``noted`` is what stood at the gate when it was cut all the same."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    design = models.ForeignKey(Design, models.CASCADE, related_name="jobs")
    revision = models.PositiveIntegerField(default=0)
    title = models.CharField(max_length=200)
    film = models.CharField(max_length=7)
    sheet = models.PositiveIntegerField()
    key = models.CharField(max_length=40)
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    machine = models.JSONField()
    pieces_free = models.JSONField(default=list)
    lengths = models.JSONField(default=list)
    promised = models.TextField()
    holds_mm = models.FloatField(default=0.0)
    state = models.CharField(max_length=10, choices=JobState, default=JobState.WAITING)
    done = models.PositiveIntegerField(default=0)
    film_piece = models.PositiveIntegerField(default=0)
    by_time = models.BooleanField(default=False)
    noted = models.JSONField(default=list)
    outcome = models.JSONField(null=True)
    # The order of which it is a sheet.
    order = models.UUIDField(null=True, editable=False, db_index=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("-made",)

    def __str__(self) -> str:
        return f"{self.title}: {self.state}"


class JobStroke(models.Model):
    """A stroke of a job: what the machine is sent for it, where the carriage then is, in plotter units, and
    its line on the sheet, as path data. ``turn``: sent before it where the job is taken up here, so that a
    trailing knife stands as it did."""

    job = models.ForeignKey(CutJob, models.CASCADE, related_name="strokes")
    number = models.PositiveIntegerField()
    text = models.TextField()
    turn = models.TextField(default="")
    end_x = models.IntegerField(default=0)
    end_y = models.IntegerField(default=0)
    line = models.TextField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=("job", "number"), name="one_stroke_of_each_number")]
        ordering = ("number",)

    def __str__(self) -> str:
        return f"{self.job_id} stroke {self.number}"


class CutStroke(models.Model):
    """A stroke that was really cut into a piece of film, as the machine tells it, in HP-GL; ``own``: it was
    sent by the job, and by nobody else."""

    job = models.ForeignKey(CutJob, models.CASCADE, related_name="cut")
    film_piece = models.PositiveIntegerField()
    number = models.PositiveIntegerField()
    text = models.TextField()
    own = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=("job", "film_piece", "number"), name="one_cut_of_each_number")
        ]
        ordering = ("film_piece", "number")

    def __str__(self) -> str:
        return f"{self.job_id} cut {self.number}"
