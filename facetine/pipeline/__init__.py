"""The pipeline: from a sentence to a scene, a module a step."""
