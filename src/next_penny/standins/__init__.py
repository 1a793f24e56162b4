"""Simulated outside services that ship with the app: a bank, a mailbox and exchange rates, over open protocols."""
