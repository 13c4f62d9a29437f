"""The outside world of files: walking, looking inside, thumbnails. Never writes into a library's folder."""
