"""Services that are asked for what is new: a bank over OFX, a mailbox, a provider of exchange rates."""
