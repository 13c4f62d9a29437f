"""The web server's worker: a thread is given to a request when all of it is there, and never to an open stream.

What gunicorn's own threaded worker lacks for a house full of screens, and for somebody outside who means ill: a client
that sends half a request waits in the loop instead of in a thread, a client holds a share of the threads at most, and
live events are written by one thread for all screens.
"""

from __future__ import annotations

import re
import select
import selectors
import socket
import struct
import time
from collections import Counter
from collections.abc import Callable, Iterable
from functools import partial
from typing import Any, Protocol, cast

from gunicorn.http import wsgi
from gunicorn.workers.gthread import TConn, ThreadWorker

__all__ = ["HouseWorker", "Stream", "has_hung_up", "is_whole"]

PEEK_BYTES = 32 * 1024
"""So much of a request is looked at before a thread takes it."""
GATHER_SECONDS = 10.0
"""So long may a request take to arrive."""
LOOK_EVERY_SECONDS = 0.05
RECEIVE_SECONDS = 15
SEND_SECONDS = 60
"""A client that takes nothing for so long is let go."""
MOST_LARGE = 8
"""So many requests with a large body are taken at once."""
MOST_OF_ONE = 400
"""So many connections one address may hold open."""
LEFT_FOR_OTHERS = 8
"""So many threads one address never gets."""
EVENTS = "/api/events"

_LENGTH = re.compile(rb"^content-length:[ \t]*([0-9]{1,12})[ \t]*\r?$", re.IGNORECASE | re.MULTILINE)
_CHUNKED = re.compile(rb"^transfer-encoding:", re.IGNORECASE | re.MULTILINE)
_EXPECTS = re.compile(rb"^expect:[ \t]*100-continue", re.IGNORECASE | re.MULTILINE)


class Stream(Protocol):
    """Who takes a connection over and writes to it from then on."""

    def join(self, link: socket.socket) -> bool:
        """Take a connection; False when there are too many."""
        ...


def is_whole(data: bytes) -> tuple[bool, bool]:
    """Whether a thread can read a request without waiting, and whether its body is
    large (then only a few are read at once)."""
    end = data.find(b"\r\n\r\n")
    if end < 0:
        return len(data) >= PEEK_BYTES, False
    head, body = data[:end], len(data) - end - 4
    if _CHUNKED.search(head):
        is_end = data.endswith(b"0\r\n\r\n")
        return is_end or len(data) >= PEEK_BYTES, not is_end
    found = _LENGTH.search(head)
    length = int(found[1]) if found else 0
    if end + 4 + length > PEEK_BYTES:
        return True, True
    if _EXPECTS.search(head) and not body and length:
        return True, True
    return body >= length, False


class _Connection(TConn):
    """A connection that closes without making the loop wait, or not at all when a stream has taken it over."""

    handed = False
    is_large = False
    is_busy = False

    def __init__(self, *arguments: Any) -> None:
        super().__init__(*arguments)
        self.began = time.monotonic()
        self.address = self.client[0] if isinstance(self.client, tuple) else ""

    def close(self, graceful: bool = False) -> None:
        """Close it; what the client has sent and nobody has read is thrown away,
        so that it sees the end of the answer."""
        if self.handed:
            return
        try:
            if graceful:
                self.sock.setblocking(False)
                self.sock.shutdown(socket.SHUT_WR)
                self.sock.recv(PEEK_BYTES)
        except (OSError, ValueError):
            pass
        finally:
            self.sock.close()


class HouseWorker(ThreadWorker):
    """A threaded worker whose threads wait for nobody."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self._half: dict[_Connection, float] = {}
        """Connections of which something is there, but not all, and until when they are waited for."""
        self._open: Counter[str] = Counter()
        self._busy: Counter[str] = Counter()
        self._large = 0

    def accept(self, listener: socket.socket) -> None:
        """Accept a connection; it waits in the loop until its request is there."""
        try:
            link, client = listener.accept()
        except OSError:
            return
        link.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", RECEIVE_SECONDS, 0))
        link.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", SEND_SECONDS, 0))
        conn = _Connection(self.cfg, link, client, listener.getsockname())
        if self._open[conn.address] >= MOST_OF_ONE:
            link.close()
            return
        self.nr_conns += 1
        self._open[conn.address] += 1
        self._gather(conn)

    def _gather(self, conn: _Connection) -> None:
        """Look at what has arrived: all, something, or nothing yet. What is sealed
        cannot be looked at: a thread opens it."""
        if self.cfg.is_ssl:
            conn.sock.setblocking(True)
            self.enqueue_req(conn)
            return
        try:
            data = conn.sock.recv(PEEK_BYTES, socket.MSG_PEEK)
        except BlockingIOError:
            conn.timeout = time.monotonic() + max(self.cfg.keepalive, 1)
            self.pending_conns.append(conn)
            self.poller.register(conn.sock, selectors.EVENT_READ, partial(self.on_pending_socket_readable, conn))
            return
        except OSError:
            data = b""
        if not data:
            self._drop(conn)
            return
        whole, conn.is_large = is_whole(data)
        if whole and self._has_room(conn):
            conn.data_ready = True
            self.enqueue_req(conn)
        else:
            if not whole and has_hung_up(conn.sock):
                self._drop(conn)
            else:
                self._half.setdefault(conn, time.monotonic() + GATHER_SECONDS)

    def _has_room(self, conn: _Connection) -> bool:
        if conn.is_large and self._large >= MOST_LARGE:
            return False
        return self._busy[conn.address] < max(self.cfg.threads - LEFT_FOR_OTHERS, 1)

    def enqueue_req(self, conn: Any) -> None:
        """Give it to a thread."""
        self._busy[conn.address] += 1
        self._large += conn.is_large
        conn.is_busy = True
        super().enqueue_req(conn)

    def on_client_socket_readable(self, conn: Any, client: Any) -> None:
        """A connection that was kept open says something again."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._gather(conn)

    def on_pending_socket_readable(self, conn: Any, client: Any) -> None:
        """A new connection says something."""
        self.poller.unregister(client)
        self.pending_conns.remove(conn)
        self._gather(conn)

    def _drop(self, conn: _Connection) -> None:
        self.nr_conns -= 1
        self._forget(conn)
        conn.close()

    def _forget(self, conn: _Connection) -> None:
        self._open[conn.address] -= 1
        if self._open[conn.address] <= 0:
            del self._open[conn.address]

    def wait_for_and_dispatch_events(self, timeout: Any) -> None:
        """As ever, and look again at the requests that are half there."""
        super().wait_for_and_dispatch_events(LOOK_EVERY_SECONDS if self._half else timeout)
        moment = time.monotonic()
        for conn, until in list(self._half.items()):
            if moment > until:
                del self._half[conn]
                self._drop(conn)
                continue
            del self._half[conn]
            self._gather(conn)
            if conn in self._half:
                self._half[conn] = until

    def murder_keepalived(self, force: bool = False) -> None:
        """Close connections that say nothing any more."""
        self._count_closed(self.keepalived_conns, partial(cast(Any, super()).murder_keepalived, force))

    def murder_pending(self) -> None:
        """Close connections that have said nothing at all."""
        self._count_closed(self.pending_conns, super().murder_pending)

    def _count_closed(self, conns: Iterable[Any], close: Callable[[], None]) -> None:
        before = list(conns)
        close()
        left = set(conns)
        for conn in before:
            if conn not in left:
                self._forget(conn)

    def finish_request(self, conn: Any, fs: Any) -> None:
        """A thread is done with a request."""
        self._busy[conn.address] -= 1
        if self._busy[conn.address] <= 0:
            del self._busy[conn.address]
        self._large -= conn.is_large
        conn.is_busy = conn.is_large = False
        if conn.parser is not None and not conn.handed and _has_more(conn):
            # Half of a second request behind the first would hold a thread; no browser sends it so.
            self.nr_conns -= 1
            conn.close(graceful=True)
        else:
            super().finish_request(conn, fs)
        if conn.handed or conn.sock.fileno() < 0:
            self._forget(conn)

    def handle_request(self, req: Any, conn: Any) -> bool:
        """Answer a request; one for live events gives its connection to the stream."""
        if req.path != EVENTS or self.cfg.is_ssl:
            return super().handle_request(req, conn)
        answer, environ = wsgi.create(req, conn.sock, conn.client, conn.server, self.cfg)
        environ["wsgi.multithread"] = True
        streams: list[Stream] = []
        environ["indice.take_stream"] = streams.append
        answer.force_close()
        body: Any = cast(Any, self.wsgi)(environ, answer.start_response)
        try:
            if streams:
                answer.chunked = False
                answer.send_headers()
                conn.handed = streams[0].join(conn.sock)
                return False
            for item in body:
                answer.write(item)
            answer.close()
        finally:
            if hasattr(body, "close"):
                body.close()
        return False


def has_hung_up(link: socket.socket) -> bool:
    """Whether the other side sends no more, so that what is half there stays half."""
    looking = select.poll()
    looking.register(link, select.POLLRDHUP)
    return bool(looking.poll(0))


def _has_more(conn: _Connection) -> bool:
    unreader = getattr(conn.parser, "unreader", None)
    return bool(unreader is not None and unreader.buf.getvalue())
