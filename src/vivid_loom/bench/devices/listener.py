"""What stand-ins share: they listen on this machine and take one connection after another."""

import contextlib
import socket

__all__ = ["Listener"]


class Listener:
    """Listens on a port of this machine.

    Attributes:
        port: the port, chosen by the system where 0 was asked for.
    """

    def __init__(self, port: int) -> None:
        """Start listening.

        Raises:
            OSError: the port is taken.
        """
        self._socket = socket.create_server(("127.0.0.1", port))
        self.port = int(self._socket.getsockname()[1])

    def talk(self, link: socket.socket) -> None:
        """Deal with one connection."""
        raise NotImplementedError

    def serve(self) -> None:
        """Take one connection after another, until it is closed."""
        while True:
            try:
                link, _ = self._socket.accept()
            except OSError:
                return  # closed
            with link:
                self.talk(link)

    def close(self) -> None:
        """Stop listening."""
        with contextlib.suppress(OSError):
            self._socket.shutdown(socket.SHUT_RDWR)  # wakes whoever waits for a connection
        self._socket.close()
