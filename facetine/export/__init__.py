"""Files, paper, attachments, documents, the notebook, and what holds for a session."""
