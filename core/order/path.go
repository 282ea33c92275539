package order

// Path is the page on which a buyer waits for, and returns to, an order.
func Path(token string) string { return "/orders/" + token }
