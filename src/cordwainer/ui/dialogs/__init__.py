"""Windows of their own: settings, previews, pages."""
