"""What is kept: projects, revisions, assets, jobs, deliveries and kits."""

from __future__ import annotations

import uuid

from django.db import models

__all__ = ["Asset", "Delivery", "Destination", "Job", "Kit", "Project", "Reference", "Revision"]


def new_id() -> str:
    return uuid.uuid4().hex


class Project(models.Model):
    """A project; its content is the document of the revision numbered ``head``."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    name = models.CharField(max_length=60)
    head = models.IntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    updated_at = models.DateTimeField(auto_now=True)
    deleted_at = models.DateTimeField(null=True)
    summary = models.JSONField(null=True)
    """What the shelf shows of the newest revision, or why it cannot be read; made anew when the document changes."""

    class Meta:
        ordering = ("-updated_at",)


class Revision(models.Model):
    """One state of a document: whole (``document``), or its ``changes`` since an earlier one that is. ``back`` and
    ``forward`` are the revisions that undo and redo lead to."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="revisions")
    number = models.IntegerField()
    document = models.JSONField(null=True)
    since = models.IntegerField(null=True)
    changes = models.JSONField(null=True)
    label = models.CharField(max_length=200)
    place = models.CharField(max_length=200, null=True)
    """Where the edit changed something, in words; nothing is known of older ones."""
    asset = models.CharField(max_length=64, db_index=True)
    back = models.IntegerField(null=True)
    forward = models.IntegerField(null=True)
    tab = models.CharField(max_length=64, default="")
    merge = models.CharField(max_length=120, default="")
    edit = models.CharField(max_length=40, default="")
    """The edit that made it, by the id under which it may be sent again."""
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("project", "number"), name="one_revision_a_number"),
            models.UniqueConstraint(
                fields=("project", "edit"), condition=~models.Q(edit=""), name="one_revision_an_edit"
            ),
        )


class Reference(models.Model):
    """A stored file that a revision refers to."""

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="references")
    asset = models.CharField(max_length=64, db_index=True)


class Asset(models.Model):
    """A stored file, named by its SHA-256."""

    sha256 = models.CharField(primary_key=True, max_length=64)
    size = models.BigIntegerField()
    created_at = models.DateTimeField(auto_now_add=True)


class Holding(models.Model):
    """Who may refer to a stored file: the project it was brought into, or, before it is in one, whoever takes it."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, null=True, related_name="holdings")
    asset = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("project", "asset"), name="one_holding_a_project"),
            models.UniqueConstraint(fields=("asset",), condition=models.Q(project=None), name="one_free_holding"),
        )


class Job(models.Model):
    """Long work. A claim raises ``attempt``; only the newest attempt may publish.

    ``worker`` and ``run`` name the start of the worker, and of the whole application, that holds it; ``beat`` counts
    up while it works. ``failures`` counts attempts that ended by an error of ours or by the worker's own death.
    """

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=20)
    state = models.CharField(max_length=12, default="waiting", db_index=True)
    attempt = models.IntegerField(default=0)
    params = models.JSONField(default=dict)
    progress = models.FloatField(default=0.0)
    message = models.CharField(max_length=300, default="")
    error = models.JSONField(null=True)
    cancel = models.BooleanField(default=False)
    worker = models.CharField(max_length=32, default="")
    run = models.CharField(max_length=32, default="")
    beat = models.IntegerField(default=0)
    failures = models.IntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    started_at = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        # One that failed lets those pass that did not.
        ordering = ("failures", "created_at")


class Delivery(models.Model):
    """Files of one delivery, made from one revision; ``fit`` is the newest fit check, ``placed`` what came of putting
    the files into a folder of the artist's own."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="deliveries")
    number = models.IntegerField()
    revision = models.IntegerField()
    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="delivery")
    target = models.CharField(max_length=40, default="")
    name = models.CharField(max_length=60, default="")
    """What the artist calls it; one with a name is never cleared by itself."""
    files = models.JSONField(default=list)
    keys = models.JSONField(default=dict)
    placed = models.JSONField(null=True)
    fit = models.JSONField(null=True)
    fit_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("project", "number"), name="one_delivery_a_number"),)


class Destination(models.Model):
    """A folder of this machine that files of a project go into, or went into: ``name`` below ``root``.

    ``put``: checksums of what was put there, by name. ``chosen``: whether deliveries go there now. ``putting``: the
    number of the delivery that is being put there; it stays where that was cut off. ``holds``: of the one that lies
    there.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="destinations")
    root = models.TextField()
    name = models.TextField(default="")
    put = models.JSONField(default=dict)
    chosen = models.BooleanField(default=False)
    putting = models.IntegerField(null=True)
    holds = models.IntegerField(null=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("project", "root", "name"), name="one_destination_a_folder"),
            models.UniqueConstraint(fields=("project",), condition=models.Q(chosen=True), name="one_chosen_folder"),
        )


class Kit(models.Model):
    """Recipes and pieces without a ground, to be used in any project."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    name = models.CharField(max_length=60)
    content = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("name",)
