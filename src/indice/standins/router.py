"""A made-up router on this machine: found by SSDP, it opens ports by UPnP as
those at home do (InternetGatewayDevice:1).

Plain, from the open specification. What it opens it passes on in earnest, from its outside address to the
machine behind it, so that one can try from "outside" what works. Run with `python -m indice.standins.router
[outside=203.0.113.9] [permanent] [refuse] [listen=127.0.0.1] [port=1900]`: `permanent` knows no leases
(error 725), `refuse` opens nothing (606).
"""

from __future__ import annotations

import contextlib
import select
import socket
import struct
import sys
import threading
import time
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from xml.etree.ElementTree import Element
from xml.sax.saxutils import escape

from defusedxml import ElementTree

__all__ = ["FakeRouter", "main"]

GROUP, SSDP_PORT = "239.255.255.250", 1900
DEVICE = "urn:schemas-upnp-org:device:InternetGatewayDevice:1"
SERVICE = "urn:schemas-upnp-org:service:WANIPConnection:1"
UDN = "uuid:6d616465-7570-4000-8000-726f75746572"
MOST_BYTES = 64 * 1024

_DESCRIPTION = f"""<?xml version="1.0"?>
<root xmlns="urn:schemas-upnp-org:device-1-0"><specVersion><major>1</major><minor>0</minor></specVersion>
<device><deviceType>{DEVICE}</deviceType><friendlyName>Made-up router</friendlyName><manufacturer>Indice</manufacturer>
<modelName>Stand-in</modelName><UDN>{UDN}</UDN><deviceList>
<device><deviceType>urn:schemas-upnp-org:device:WANDevice:1</deviceType><friendlyName>Outside</friendlyName>
<manufacturer>Indice</manufacturer><modelName>Stand-in</modelName><UDN>{UDN}-wan</UDN><deviceList>
<device><deviceType>urn:schemas-upnp-org:device:WANConnectionDevice:1</deviceType><friendlyName>Line</friendlyName>
<manufacturer>Indice</manufacturer><modelName>Stand-in</modelName><UDN>{UDN}-line</UDN><serviceList><service>
<serviceType>{SERVICE}</serviceType><serviceId>urn:upnp-org:serviceId:WANIPConn1</serviceId>
<SCPDURL>/line.xml</SCPDURL><controlURL>/control</controlURL><eventSubURL>/events</eventSubURL>
</service></serviceList></device></deviceList></device></deviceList></device></root>"""

_TYPES = {
    "RemoteHost": "string",
    "ExternalPort": "ui2",
    "PortMappingProtocol": "string",
    "InternalPort": "ui2",
    "InternalClient": "string",
    "PortMappingEnabled": "boolean",
    "PortMappingDescription": "string",
    "PortMappingLeaseDuration": "ui4",
    "ExternalIPAddress": "string",
}
_ARGUMENTS = {
    "NewRemoteHost": "RemoteHost",
    "NewExternalPort": "ExternalPort",
    "NewProtocol": "PortMappingProtocol",
    "NewInternalPort": "InternalPort",
    "NewInternalClient": "InternalClient",
    "NewEnabled": "PortMappingEnabled",
    "NewPortMappingDescription": "PortMappingDescription",
    "NewLeaseDuration": "PortMappingLeaseDuration",
    "NewExternalIPAddress": "ExternalIPAddress",
}
_KEY = ("NewRemoteHost", "NewExternalPort", "NewProtocol")
_REST = ("NewInternalPort", "NewInternalClient", "NewEnabled", "NewPortMappingDescription", "NewLeaseDuration")
_ACTIONS: dict[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "AddPortMapping": ((*_KEY, *_REST), ()),
    "DeletePortMapping": (_KEY, ()),
    "GetSpecificPortMappingEntry": (_KEY, _REST),
    "GetExternalIPAddress": ((), ("NewExternalIPAddress",)),
}


def _service_description() -> str:
    def arguments(names: tuple[str, ...], way: str) -> str:
        return "".join(
            f"<argument><name>{name}</name><direction>{way}</direction>"
            f"<relatedStateVariable>{_ARGUMENTS[name]}</relatedStateVariable></argument>"
            for name in names
        )

    actions = "".join(
        f"<action><name>{name}</name><argumentList>{arguments(takes, 'in')}{arguments(gives, 'out')}</argumentList></action>"
        for name, (takes, gives) in _ACTIONS.items()
    )
    variables = "".join(
        f'<stateVariable sendEvents="no"><name>{name}</name><dataType>{kind}</dataType></stateVariable>'
        for name, kind in _TYPES.items()
    )
    return (
        '<?xml version="1.0"?><scpd xmlns="urn:schemas-upnp-org:service-1-0"><specVersion><major>1</major>'
        f"<minor>0</minor></specVersion><actionList>{actions}</actionList>"
        f"<serviceStateTable>{variables}</serviceStateTable></scpd>"
    )


class _Refused(Exception):
    def __init__(self, code: int, words: str) -> None:
        super().__init__(words)
        self.code, self.words = code, words


@dataclass
class _Open:
    """A port that is passed on."""

    client: str
    port: int
    name: str
    until: float | None
    listener: socket.socket | None = None


@dataclass
class FakeRouter:
    """A router; `outside` is the address that it says it has, and passes on from where it is one of this machine."""

    outside: str = "203.0.113.9"
    permanent: bool = False
    refuse: bool = False
    listen: str = "127.0.0.1"
    port: int = SSDP_PORT
    """On which it hears searches."""
    opened: dict[int, _Open] = field(default_factory=dict)
    asked: list[str] = field(default_factory=list)
    """The actions that were asked for, in order."""
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _ended: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        """Answer from now on."""
        router = self

        class Handler(_Handler):
            knows = router

        self._http = ThreadingHTTPServer((self.listen, 0), Handler)
        self._http.daemon_threads = True
        self.location = f"http://{self.listen}:{self._http.server_port}/router.xml"
        self._ssdp = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self._ssdp.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        self._ssdp.bind((GROUP, self.port))
        member = struct.pack("4s4s", socket.inet_aton(GROUP), socket.inet_aton(self.listen))
        self._ssdp.setsockopt(socket.IPPROTO_IP, socket.IP_ADD_MEMBERSHIP, member)
        self._ssdp.settimeout(0.5)
        for work in (self._http.serve_forever, self._answer_searches):
            threading.Thread(target=work, daemon=True).start()

    def stop(self) -> None:
        """Be gone."""
        self._ended.set()
        self._http.shutdown()
        self._http.server_close()
        self._ssdp.close()
        for port in list(self.opened):
            self._shut(port)

    def _answer_searches(self) -> None:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as out:
            out.bind((self.listen, 0))
            while not self._ended.is_set():
                try:
                    data, who = self._ssdp.recvfrom(2048)
                except TimeoutError:
                    continue
                except OSError:
                    return
                lines = data.decode("latin-1").split("\r\n")
                told = {
                    name.strip().lower(): value.strip() for name, _, value in (one.partition(":") for one in lines[1:])
                }
                wanted = told.get("st", "")
                if lines[0].startswith("M-SEARCH") and wanted in (DEVICE, SERVICE, "upnp:rootdevice", "ssdp:all"):
                    kind = DEVICE if wanted == "ssdp:all" else wanted
                    out.sendto(self._found(kind).encode(), who)

    def _found(self, kind: str) -> str:
        lines = [
            "HTTP/1.1 200 OK",
            "CACHE-CONTROL: max-age=120",
            "EXT:",
            f"LOCATION: {self.location}",
            "SERVER: Linux UPnP/1.1 Stand-in/1",
            f"ST: {kind}",
            f"USN: {UDN}::{kind}",
        ]
        return "\r\n".join((*lines, "", ""))

    def act(self, action: str, told: dict[str, str]) -> dict[str, str]:
        """Do what is asked; raises the error of the specification."""
        with self._lock:
            self.asked.append(action)
            for port, one in list(self.opened.items()):
                if one.until is not None and one.until < time.monotonic():
                    self._shut(port)
            if action == "GetExternalIPAddress":
                return {"NewExternalIPAddress": self.outside}
            if told.get("NewProtocol") not in ("TCP", "UDP"):
                raise _Refused(402, "Invalid Args")
            port = int(told.get("NewExternalPort") or 0)
            if action == "AddPortMapping":
                self._add(port, told)
                return {}
            if port not in self.opened:
                raise _Refused(714, "NoSuchEntryInArray")
            if action == "DeletePortMapping":
                self._shut(port)
                return {}
            one = self.opened[port]
            left = 0 if one.until is None else round(one.until - time.monotonic())
            values = (str(one.port), one.client, "1", one.name, str(left))
            return dict(zip(_REST, values, strict=True))

    def _add(self, port: int, told: dict[str, str]) -> None:
        lease = int(told.get("NewLeaseDuration") or 0)
        client = told.get("NewInternalClient", "")
        if self.refuse:
            raise _Refused(606, "Action not authorized")
        if self.permanent and lease:
            raise _Refused(725, "OnlyPermanentLeasesSupported")
        if port in self.opened and self.opened[port].client != client:
            raise _Refused(718, "ConflictInMappingEntry")
        self._shut(port)
        until = time.monotonic() + lease if lease else None
        name = told.get("NewPortMappingDescription", "")
        one = _Open(client, int(told.get("NewInternalPort") or 0), name, until)
        self.opened[port] = one
        with contextlib.suppress(OSError):
            one.listener = socket.create_server((self.outside, port))
            threading.Thread(target=_pass_on, args=(one.listener, (one.client, one.port)), daemon=True).start()

    def _shut(self, port: int) -> None:
        one = self.opened.pop(port, None)
        if one is not None and one.listener is not None:
            with contextlib.suppress(OSError):
                one.listener.shutdown(socket.SHUT_RDWR)
            one.listener.close()


def _pass_on(listener: socket.socket, target: tuple[str, int]) -> None:
    while True:
        try:
            link, _ = listener.accept()
            inside = socket.create_connection(target, timeout=5)
        except OSError:
            if listener.fileno() < 0:
                return
            continue
        threading.Thread(target=_join, args=(link, inside), daemon=True).start()


def _join(one: socket.socket, other: socket.socket) -> None:
    with one, other:
        while True:
            for ready in select.select((one, other), (), (), 60)[0] or (None,):
                if ready is None:
                    return
                data = ready.recv(65536)
                if not data:
                    return
                (other if ready is one else one).sendall(data)


class _Handler(BaseHTTPRequestHandler):
    knows: FakeRouter

    def do_GET(self) -> None:
        """Its descriptions."""
        page = {"/router.xml": _DESCRIPTION, "/line.xml": _service_description()}.get(self.path)
        self._send(200 if page else 404, page or "")

    def do_POST(self) -> None:
        """An action, by SOAP."""
        length = min(int(self.headers.get("Content-Length") or 0), MOST_BYTES)
        action = self.headers.get("SOAPAction", "").strip('"').rpartition("#")[2]
        try:
            body: Element = ElementTree.fromstring(self.rfile.read(length))
            told = {one.tag: one.text or "" for call in body.iter() if call.tag.endswith(f"}}{action}") for one in call}
            if self.path != "/control" or action not in _ACTIONS:
                raise _Refused(401, "Invalid Action")
            values = self.knows.act(action, told)
        except (_Refused, ElementTree.ParseError, ValueError) as error:
            code, words = (error.code, error.words) if isinstance(error, _Refused) else (402, "Invalid Args")
            self._send(500, _envelope(_fault(code, words)))
            return
        inside = "".join(f"<{name}>{escape(value)}</{name}>" for name, value in values.items())
        self._send(200, _envelope(f'<u:{action}Response xmlns:u="{SERVICE}">{inside}</u:{action}Response>'))

    def _send(self, status: int, page: str) -> None:
        data = page.encode()
        self.send_response(status)
        self.send_header("Content-Type", 'text/xml; charset="utf-8"')
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing."""


def _envelope(inside: str) -> str:
    space = "http://schemas.xmlsoap.org/soap/"
    return (
        f'<?xml version="1.0"?><s:Envelope xmlns:s="{space}envelope/" s:encodingStyle="{space}encoding/">'
        f"<s:Body>{inside}</s:Body></s:Envelope>"
    )


def _fault(code: int, words: str) -> str:
    return (
        "<s:Fault><faultcode>s:Client</faultcode><faultstring>UPnPError</faultstring><detail>"
        f'<UPnPError xmlns="urn:schemas-upnp-org:control-1-0"><errorCode>{code}</errorCode>'
        f"<errorDescription>{words}</errorDescription></UPnPError></detail></s:Fault>"
    )


def main() -> None:
    """Be the router until told to end."""
    told = {name: value for name, _, value in (one.partition("=") for one in sys.argv[1:])}
    router = FakeRouter(
        outside=told.get("outside", "203.0.113.9"),
        permanent="permanent" in told,
        refuse="refuse" in told,
        listen=told.get("listen", "127.0.0.1"),
        port=int(told.get("port", SSDP_PORT)),
    )
    router.start()
    print(f"The made-up router is at {router.location}", flush=True)
    threading.Event().wait()


if __name__ == "__main__":
    main()
