"""Appointments, invoices, and texts that are written again and again."""

from accounts.models import PracticeRecord
from cases.models import Case, Client
from django.db import models
from wainscot_core.office.appointment import Meeting
from wire.holds import one_of, shaped


class Appointment(PracticeRecord):
    """When the practice meets an owner of a dog. begins: the moment; by: who wrote it down last."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="appointments")
    kind = models.CharField(max_length=12)
    begins = models.DateTimeField()
    minutes = models.PositiveSmallIntegerField()
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)
    # Called off: it stays on record.
    off = models.BooleanField(default=False)

    class Meta:
        ordering = ["begins", "pk"]
        constraints = [one_of("office_appointment", "kind", Meeting)]
        indexes = [models.Index(fields=["practice", "begins"], name="appointment_by_time")]

    def __str__(self) -> str:
        return f"{self.kind} {self.begins:%Y-%m-%d %H:%M}"


class Invoice(PracticeRecord):
    """An invoice as it was given out (record: core InvoiceRecord; parties: core Parties, of then). It outlives the client:
    numbers have no gap. number: within the practice; paid: on which day; void: why it does not hold any more."""

    client = models.ForeignKey(
        Client, on_delete=models.SET_NULL, related_name="invoices", null=True
    )
    number = models.PositiveIntegerField()
    on = models.DateField()
    record = models.JSONField()
    parties = models.JSONField()
    by = models.CharField(max_length=150)
    paid = models.DateField(null=True)
    void = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [
            shaped("office_invoice", "record", dict),
            shaped("office_invoice", "parties", dict),
            models.UniqueConstraint(fields=["practice", "number"], name="invoice_number_once"),
        ]

    def __str__(self) -> str:
        return f"invoice {self.number}"


class PracticeText(PracticeRecord):
    """A text that is written again and again, with places that are filled (core office.texts)."""

    name = models.CharField(max_length=80)
    text = models.TextField()

    class Meta:
        ordering = ["name", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["practice", "name"], name="text_name_once"),
        ]

    def __str__(self) -> str:
        return self.name
