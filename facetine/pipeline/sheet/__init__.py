"""The steps in their order: what was said, settled, laid out, drawn and remarked."""
