"""What stand-ins share: they listen on this machine and take several connections."""

import contextlib
import socket
import threading
from typing import Final

__all__ = ["Listener"]

MOST_LINKS: Final = 8  # at a time; our choice


class Listener:
    """Listens on a port of this machine; every connection is dealt with in a thread of its own.

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
        self._links: dict[socket.socket, threading.Thread] = {}
        self._guard = threading.Lock()
        self._closed = False

    def talk(self, link: socket.socket) -> None:
        """Deal with one connection."""
        raise NotImplementedError

    def serve(self) -> None:
        """Take connections until it is closed; one too many is closed at once."""
        while True:
            try:
                link, _ = self._socket.accept()
            except OSError:
                return  # closed
            with self._guard:
                full = self._closed or len(self._links) >= MOST_LINKS
                if not full:
                    worker = threading.Thread(target=self._deal_with, args=(link,), daemon=True)
                    self._links[link] = worker
                    worker.start()
            if full:
                link.close()

    def _deal_with(self, link: socket.socket) -> None:
        try:
            with link:
                self.talk(link)
        finally:
            with self._guard:
                self._links.pop(link, None)

    def close(self) -> None:
        """Stop listening and let every connection go; its threads end."""
        with self._guard:
            self._closed = True
            links = dict(self._links)
        for sock in (self._socket, *links):
            with contextlib.suppress(OSError):
                sock.shutdown(socket.SHUT_RDWR)  # wakes whoever waits for it
        self._socket.close()
        for worker in links.values():
            if worker is not threading.current_thread():
                worker.join(timeout=1.0)
