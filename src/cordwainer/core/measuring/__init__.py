"""From readings to sizes, form and a verdict, with what each reading may be off by."""
