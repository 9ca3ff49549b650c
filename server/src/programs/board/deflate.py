"""What a board unpacks with, by that of the computer."""
import io
import zlib

ZLIB = 2


def DeflateIO(stream, kind):
    assert kind == ZLIB
    return io.BytesIO(zlib.decompress(stream.read()))
