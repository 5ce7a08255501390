"""What a PDF says of itself for archives: metadata, and the profile of its colors.

Source: ISO 19005-2:2011 (PDF/A-2), ISO 19005-3:2012 for files that carry others, ISO 16684-1:2012 (XMP).
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from facetine.scene.markup import clean
from facetine.writers.formats import Attached
from facetine.writers.inks import Inks, srgb
from facetine.writers.pdf_streams import packed

if TYPE_CHECKING:
    from pikepdf import Pdf

_NO_DATE = "D:19700101000000Z"
_XMP = """<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/">
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:pdf="http://ns.adobe.com/pdf/1.3/" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/"
 xmlns:pdfuaid="http://www.aiim.org/pdfua/ns/id/">
{said}</rdf:Description>
</rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>"""
_OWN_WORDS = """<rdf:Description rdf:about="" xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/"
 xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#">
<pdfaExtension:schemas><rdf:Bag><rdf:li rdf:parseType="Resource">
<pdfaSchema:schema>PDF/UA identification</pdfaSchema:schema>
<pdfaSchema:namespaceURI>http://www.aiim.org/pdfua/ns/id/</pdfaSchema:namespaceURI>
<pdfaSchema:prefix>pdfuaid</pdfaSchema:prefix>
<pdfaSchema:property><rdf:Seq><rdf:li rdf:parseType="Resource">
<pdfaProperty:name>part</pdfaProperty:name><pdfaProperty:valueType>Integer</pdfaProperty:valueType>
<pdfaProperty:category>internal</pdfaProperty:category><pdfaProperty:description>Part of the standard</pdfaProperty:description>
</rdf:li></rdf:Seq></pdfaSchema:property>
</rdf:li></rdf:Bag></pdfaExtension:schemas>
</rdf:Description>
"""


def add_metadata(document: Pdf, said: dict[str, str], part: int | None) -> None:
    """Metadata that say what the document's information says.

    Args:
        document: The document.
        said: Title, subject, keywords and creator.
        part: Of the standard for archives; None where the document is none of these.
    """
    from pikepdf import Name

    lines = [
        f'<dc:title><rdf:Alt><rdf:li xml:lang="x-default">{_text(said["Title"])}</rdf:li></rdf:Alt></dc:title>',
        f'<dc:description><rdf:Alt><rdf:li xml:lang="x-default">{_text(said["Subject"])}</rdf:li></rdf:Alt></dc:description>'
        if said["Subject"] else "",
        f"<pdf:Keywords>{_text(said['Keywords'])}</pdf:Keywords>" if said["Keywords"] else "",
        f"<xmp:CreatorTool>{_text(said['Creator'])}</xmp:CreatorTool>",
        "<pdfuaid:part>1</pdfuaid:part>",
        f"<pdfaid:part>{part}</pdfaid:part>\n<pdfaid:conformance>U</pdfaid:conformance>" if part else "",
    ]  # fmt: skip
    text = _XMP.format(said="\n".join(filter(None, lines)) + "\n")
    if part:
        text = text.replace("</rdf:RDF>", f"{_OWN_WORDS}</rdf:RDF>")
    document.Root.Metadata = document.make_stream(text.encode("utf-8"), Type=Name.Metadata, Subtype=Name.XML)


def add_profile(document: Pdf, inks: Inks) -> None:
    """The profile that says which colors the numbers of the document are."""
    from pikepdf import Array, Dictionary, Name, String

    press = inks.colors == "cmyk"
    content = inks.press if press and inks.press is not None else srgb()
    name = "Press profile" if press else "sRGB IEC61966-2.1"
    profile = packed(document, content, Dictionary(N=4 if press else 3))
    document.Root.OutputIntents = Array(
        [
            Dictionary(
                Type=Name.OutputIntent, S=Name.GTS_PDFA1, OutputConditionIdentifier=String(name), Info=String(name),
                DestOutputProfile=profile,
            )
        ]
    )  # fmt: skip


def add_files(document: Pdf, files: tuple[Attached, ...]) -> None:
    """Files that belong to the document, by what they are to it.

    Source: ISO 32000-2:2020, 14.13. Dates are part of the form, but would make other bytes every day: they are those of
    no day at all.
    """
    from pikepdf import Array, Dictionary, Name, String

    names: list[object] = []
    listed: list[object] = []
    for file in files:
        params = Dictionary(Size=len(file.content), ModDate=String(_NO_DATE))
        stream = packed(document, file.content, Dictionary(Type=Name.EmbeddedFile, Params=params))
        stream.Subtype = Name("/" + file.sort)
        said = Dictionary(
            Type=Name.Filespec, F=String(file.name), UF=String(file.name), Desc=String(file.says),
            AFRelationship=Name("/" + file.relation), EF=Dictionary(F=stream, UF=stream),
        )  # fmt: skip
        spec = document.make_indirect(said)
        names += [String(file.name), spec]
        listed.append(spec)
    document.Root.AF = Array(listed)
    document.Root.Names = Dictionary(EmbeddedFiles=Dictionary(Names=Array(names)))


def _text(text: str) -> str:
    from html import escape

    return escape(clean(text))
