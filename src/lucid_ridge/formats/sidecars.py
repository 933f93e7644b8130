"""XMP: ratings and keywords beside a picture, read and written; what others wrote there stays.

A sidecar is an XML file named like its picture. Nothing is written into pictures themselves.

References
----------
.. [1] ISO 16684-1:2019, Extensible metadata platform (XMP), part 1: data model, serialization and core properties;
   ``xmp:Rating`` in section 8.4: -1 rejected, 0 not rated, 1 to 5; ``dc:subject`` in section 8.3: an unordered array.

"""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass

LARGEST_BYTES = 1024 * 1024
MOST_KEYWORDS = 100
LONGEST_KEYWORD = 64
_LOOKED_THROUGH = 512 * 1024
"""An XMP packet stands before the picture's own data."""

_NAMES = {
    "x": "adobe:ns:meta/",
    "rdf": "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
    "xmp": "http://ns.adobe.com/xap/1.0/",
    "dc": "http://purl.org/dc/elements/1.1/",
}
_UNUSABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")
"""What XML cannot hold (XML 1.0, section 2.2)."""


class SidecarError(ValueError):
    """A file that cannot be used as a sidecar; says what to do."""


@dataclass(frozen=True)
class Judged:
    """How good a picture is and what it shows: stars from 0 to 5, whether it is rejected, and words for it."""

    rating: int | None = None
    rejected: bool = False
    keywords: tuple[str, ...] = ()


def _name(short: str) -> str:
    space, name = short.split(":")
    return f"{{{_NAMES[space]}}}{name}"


def _parsed(data: bytes) -> ET.Element:
    if len(data) > LARGEST_BYTES:
        raise SidecarError("This sidecar is larger than 1 MB; it is none that a picture has.")
    # Entities can be made to grow without end, and XMP has no use for them.
    if b"<!DOCTYPE" in data or b"<!ENTITY" in data or b"<!\x00D" in data:
        raise SidecarError("This sidecar declares entities, which none needs. It was not read.")
    try:
        root = ET.fromstring(data)
    except (ET.ParseError, ValueError, LookupError) as error:
        raise SidecarError(f"This is no XML that can be read ({error}). Write the sidecar again.") from None
    if root.tag != _name("rdf:RDF") and root.find(_name("rdf:RDF")) is None:
        raise SidecarError("This is XML, but no XMP: it has no description of a picture in it.")
    return root


def _descriptions(root: ET.Element) -> list[ET.Element]:
    about = root if root.tag == _name("rdf:RDF") else root.find(_name("rdf:RDF"))
    return [] if about is None else about.findall(_name("rdf:Description"))


def _rating(text: str | None) -> float | None:
    try:
        return None if text is None else float(text)
    except ValueError:
        return None


def _judged(root: ET.Element) -> Judged:
    rating: float | None = None
    keywords: list[str] = []
    for one in _descriptions(root):
        inner = one.find(_name("xmp:Rating"))
        told = _rating(one.get(_name("xmp:Rating"), None if inner is None else inner.text))
        rating = told if told is not None else rating
        for item in one.iterfind(f"{_name('dc:subject')}/*/{_name('rdf:li')}"):
            keywords.append((item.text or "").strip())
    known = rating is not None and -1 <= rating <= 5
    return Judged(
        rating=round(rating) if known and rating is not None and rating >= 0 else None,
        rejected=rating == -1,
        keywords=tuple(dict.fromkeys(one[:LONGEST_KEYWORD] for one in keywords if one))[:MOST_KEYWORDS],
    )


def read_sidecar(data: bytes) -> Judged:
    """What a sidecar says.

    Raises
    ------
    SidecarError
        If it is none.

    """
    return _judged(_parsed(data))


def embedded(data: bytes) -> Judged:
    """What the XMP packet within a picture's file says; nothing where it has none that can be read."""
    begins = data.find(b"<x:xmpmeta", 0, _LOOKED_THROUGH)
    ends = data.find(b"</x:xmpmeta>", begins) if begins >= 0 else -1
    if begins < 0 or ends < 0:
        return Judged()
    try:
        return read_sidecar(data[begins : ends + len(b"</x:xmpmeta>")])
    except SidecarError:
        return Judged()


def _kept_prefixes(data: bytes) -> None:
    """Have the prefixes that are there be written again: others may look for them by name."""
    for prefix, uri in re.findall(
        r'xmlns:([A-Za-z_][\w.-]*)\s*=\s*["\']([^"\']+)["\']', data.decode("utf-8", "replace")
    ):
        if not re.fullmatch(r"ns\d+", prefix):
            ET.register_namespace(prefix, uri)


def with_judged(existing: bytes | None, judged: Judged) -> bytes:
    """A sidecar that says so: one that is there with all that others wrote into it, else a new one.

    Raises
    ------
    SidecarError
        If the one that is there is none.

    """
    for prefix, uri in _NAMES.items():
        ET.register_namespace(prefix, uri)
    if existing is None:
        root = ET.Element(_name("x:xmpmeta"))
        ET.SubElement(ET.SubElement(root, _name("rdf:RDF")), _name("rdf:Description"), {_name("rdf:about"): ""})
    else:
        root = _parsed(existing)
        _kept_prefixes(existing)
    found = _descriptions(root)
    for one in found:
        one.attrib.pop(_name("xmp:Rating"), None)
        for name in ("xmp:Rating", "dc:subject"):
            for old in one.findall(_name(name)):
                one.remove(old)
    if found:
        first = found[0]
    else:
        about = root if root.tag == _name("rdf:RDF") else root.find(_name("rdf:RDF"))
        assert about is not None
        first = ET.SubElement(about, _name("rdf:Description"), {_name("rdf:about"): ""})
    if judged.rejected or judged.rating is not None:
        ET.SubElement(first, _name("xmp:Rating")).text = "-1" if judged.rejected else str(judged.rating)
    if judged.keywords:
        bag = ET.SubElement(ET.SubElement(first, _name("dc:subject")), _name("rdf:Bag"))
        for keyword in judged.keywords:
            ET.SubElement(bag, _name("rdf:li")).text = _UNUSABLE.sub("", keyword)
    written: bytes = ET.tostring(root, encoding="utf-8")
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + written


def stem_of(name: str) -> str:
    """What a sidecar and its picture have in common: the name without its ending, or without both of two."""
    stem = name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1].lower()
    for _ in range(2):
        cut = re.fullmatch(r"(.+)\.[a-z0-9]{2,4}", stem)
        stem = cut.group(1) if cut else stem
    return stem
