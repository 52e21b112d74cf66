"""Bakes and renders into files: queued, with progress, cancelled on request."""
