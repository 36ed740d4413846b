"""What comes of a dossier: verdicts, closer looks, explanations, a plan over its round."""
