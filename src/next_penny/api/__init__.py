"""The app over HTTP: routers and their models, one file per place of the interface. No rule is computed here."""
