"""Appointments, invoices and the texts of a practice."""
