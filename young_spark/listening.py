"""Where the program listens: on this machine alone, or, when the shop says so, for its tablet and its second bench."""

import hashlib
import ipaddress
import os
import ssl
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

HERE = "127.0.0.1"
MADE_FOR = timedelta(days=800)  # what browsers still take of a certificate that nobody signed
TLS_FOLDER, CERTIFICATE, KEY = "tls", "certificate.pem", "key.pem"


class CannotListen(Exception):
    """Why it cannot listen there, as one sentence."""


@dataclass(frozen=True)
class Listening:
    """An address, the names that it answers to besides this machine's own, and what it proves itself with."""

    address: str = HERE
    names: tuple[str, ...] = ()
    certificate: Path | None = None
    key: Path | None = None
    proxy: str = ""  # the address of a proxy in front, whose word for where a request comes from is believed

    @property
    def is_open(self) -> bool:
        """Whether others than this machine can come in."""
        return self.address != HERE or bool(self.proxy)

    def home(self, port: int) -> str:
        """The address to open in a browser."""
        name = self.names[0] if self.names else self.address
        return f"{'https' if self.certificate else 'http'}://{name}:{port}"

    def tell_the_server(self) -> None:
        """Say it to the settings, before they are read."""
        if self.names:
            os.environ["YOUNG_SPARK_HOSTS"] = ",".join(self.names)
        if self.certificate is not None:
            os.environ["YOUNG_SPARK_HTTPS"] = "1"


ALONE = Listening()


def listening(
    folder: Path,
    *,
    address: str = HERE,
    names: Sequence[str] = (),
    certificate: Path | None = None,
    key: Path | None = None,
    make_certificate: bool = False,
    proxy: str = "",
) -> Listening:
    """Where to listen, as the options have it. Raises CannotListen for what is half said or not safe."""
    _is_address(address, "--listen")
    if proxy:
        _is_address(proxy, "--proxy")
    if (certificate is None) != (key is None):
        raise CannotListen("a certificate needs its key, and a key its certificate: give both")
    known = [*names, *([address] if address != HERE and not ipaddress.ip_address(address).is_unspecified else [])]
    if (address != HERE or proxy) and not known:
        raise CannotListen("say by which name or address others reach it: --name shop.example")
    if make_certificate and certificate is None:
        certificate, key = made_certificate(folder / TLS_FOLDER, known)
    if address != HERE and certificate is None:
        raise CannotListen(
            "others would send their passwords in the open: give --certificate and --key, or --make-certificate"
        )
    if certificate is not None and key is not None:
        _fits(certificate, key)
    return Listening(address, tuple(dict.fromkeys(known)), certificate, key, proxy)


def _is_address(words: str, option: str) -> None:
    try:
        ipaddress.ip_address(words)
    except ValueError as problem:
        raise CannotListen(f"{option} wants an address of this machine in figures, and '{words}' is none") from problem


def _fits(certificate: Path, key: Path) -> None:
    try:
        ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(certificate, key)
    except FileNotFoundError as problem:
        raise CannotListen(f"there is no {certificate if not certificate.is_file() else key}") from problem
    except (OSError, ssl.SSLError) as problem:
        raise CannotListen(f"{certificate} and {key} are no certificate with its key") from problem


def made_certificate(folder: Path, names: Sequence[str]) -> tuple[Path, Path]:
    """A certificate for these names that this shop signed itself, and its key; made once and kept. Raises
    CannotListen."""
    certificate, key = folder / CERTIFICATE, folder / KEY
    try:
        if not _still_good(certificate, names):
            folder.mkdir(mode=0o700, exist_ok=True)
            for file, data in zip((key, certificate), _signed(names), strict=True):
                partial = file.with_suffix(".partial")
                with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
                    out.write(data)
                os.replace(partial, file)
    except OSError as problem:
        raise CannotListen(f"the certificate cannot be kept: {(problem.strerror or str(problem)).lower()}") from problem
    return certificate, key


def _still_good(certificate: Path, names: Sequence[str]) -> bool:
    from cryptography import x509

    if not certificate.is_file():
        return False
    try:
        kept = x509.load_pem_x509_certificate(certificate.read_bytes())
    except ValueError:
        return False
    said = kept.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return set(said) == set(_said(names)) and kept.not_valid_after_utc > datetime.now(UTC) + timedelta(days=7)


def _said(names: Sequence[str]) -> Iterator["object"]:
    """Names and addresses as a certificate has them."""
    from cryptography import x509

    for name in names:
        try:
            yield x509.IPAddress(ipaddress.ip_address(name))
        except ValueError:
            yield x509.DNSName(name)


def _signed(names: Sequence[str]) -> tuple[bytes, bytes]:
    """Key and certificate as PEM."""
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import NameOID

    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Young Spark of this shop")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + MADE_FOR)
        .add_extension(x509.SubjectAlternativeName(list(_said(names))), critical=False)  # type: ignore[arg-type]
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .sign(key, hashes.SHA256())
    )
    plain = serialization.NoEncryption()
    pem = serialization.Encoding.PEM
    return key.private_bytes(pem, serialization.PrivateFormat.PKCS8, plain), made.public_bytes(pem)


def fingerprint(certificate: Path) -> str:
    """SHA-256 of a certificate, in pairs: what a browser shows of it, so that a hand can compare."""
    data = ssl.PEM_cert_to_DER_cert(certificate.read_text())
    figures = hashlib.sha256(data).hexdigest().upper()
    return ":".join(figures[n : n + 2] for n in range(0, len(figures), 2))
