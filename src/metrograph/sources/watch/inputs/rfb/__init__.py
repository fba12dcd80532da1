"""A reader of remote framebuffers (RFC 6143) that only looks: no key and no pointer can be sent with it."""
