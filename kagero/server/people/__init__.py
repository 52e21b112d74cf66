"""Who may come in, where Kagero is served to a network: accounts, invitations, patience with wrong passwords."""
