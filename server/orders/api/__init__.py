"""The API of orders: kept, their rows, and the sheets these are cut from."""
