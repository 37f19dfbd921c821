"""What several tests need: projects in temporary folders, pixels, pages in a browser, icon sets."""
