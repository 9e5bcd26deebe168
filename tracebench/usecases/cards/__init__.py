"""Job cards: made, looked at before they are published, and seen by whom they are for."""
