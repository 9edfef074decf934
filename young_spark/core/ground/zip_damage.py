"""What reading a damaged, cut off or locked zip raises: more than the zip module's own errors. A damaged bzip2 stream
raises OSError beside these, as a failing disk does: who reads decides which it was."""

import lzma
import zipfile
import zlib

ZIP_DAMAGE: tuple[type[Exception], ...] = (
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    NotImplementedError,  # a method of packing that this machine does not know
    RuntimeError,  # a password
    EOFError,
    ValueError,  # a name in no known writing, an offset before the file
    zlib.error,  # bits that are no packing at all: raised before any hash can be compared
    lzma.LZMAError,
)
