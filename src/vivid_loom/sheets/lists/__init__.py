"""Tables read off a draft: what is cut, crimped, landed, bought and proven."""
