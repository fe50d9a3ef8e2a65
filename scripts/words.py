#!/usr/bin/env python3
"""Every word and sentence of the core that can be translated.

    scripts/words.py FILE.ts    adds them to a translation file of Qt, in the context "core"; what is
                                translated there already stays
    scripts/words.py --check    fails where a sentence for a person does not go through say()

The window's own texts: lupdate src/app -ts evenclay_de.ts. lrelease makes evenclay_de.qm of the file, which
belongs into share/evenclay/translations beside the program's bin.
"""
import pathlib
import re
import sys
import xml.etree.ElementTree as xml

ROOT = pathlib.Path(__file__).resolve().parent.parent / "src" / "core"
LITERAL = r'"(?:[^"\\\n]|\\.)*"'
LITERALS = rf"{LITERAL}(?:\s*{LITERAL})*"


def joined(literals):
    text = "".join(part[1:-1] for part in re.findall(LITERAL, literals))
    return text.replace('\\"', '"').replace("\\\\", "\\")


def sources():
    for file in sorted(ROOT.rglob("*")):
        if file.suffix in (".cpp", ".h"):
            # Comments hold sentences that nobody says.
            yield file, re.sub(r"//[^\n]*", "", file.read_text(encoding="utf-8"))


def patterns():
    found = {}
    for file, text in sources():
        for literals in re.findall(rf"\bsay\(\s*({LITERALS})", text):
            found.setdefault(joined(literals))
        for _, first, second in re.findall(
            rf"\bsay_of\(((?:[^\"();]|\([^()]*(?:\([^()]*\))?[^()]*\))+),\s*({LITERALS}),\s*({LITERALS})", text
        ):
            found.setdefault(joined(first))
            found.setdefault(joined(second))
        for one in re.findall(rf"\bcounted\([^;]*?,\s*({LITERAL})\)", text):
            found.setdefault("{} " + joined(one))
            found.setdefault("{} " + joined(one) + "s")
        # Labels, helps and choices of the operations' descriptions.
        if "operations" in file.parts:
            for name, label, help_text in re.findall(
                rf"\{{({LITERAL}),\s*({LITERAL})(?:,\s*({LITERALS}))?", text
            ):
                if re.fullmatch(r'"[a-z0-9_]+"', name):
                    found.setdefault(joined(label))
                    if help_text:
                        found.setdefault(joined(help_text))
            for literals in re.findall(rf"\.(?:label|help|group|hint|least_says) = ({LITERALS})", text):
                found.setdefault(joined(literals))
    return list(found)


def check():
    bare = []
    for file, text in sources():
        for said in re.finditer(rf"Error\(\s*({LITERAL})", text):
            bare.append(f"{file.name}: {said.group(1)}")
    for line in bare:
        print("not said by say():", line)
    count = len(patterns())
    said_of = sum(len(re.findall(r"\bsay_of\(", text)) for _, text in sources())
    seen = [p for p in patterns() if p in ("{} edge was merged.", "{} pieces stay")]
    if said_of < 10 or len(seen) != 2:
        bare.append("the script no longer finds what say_of() says")
    print(f"words: {count} of the core can be translated, {len(bare)} sentences cannot")
    return 1 if bare or count < 1500 else 0


def add_to(name):
    path = pathlib.Path(name)
    root = xml.parse(path).getroot() if path.exists() else xml.Element("TS", version="2.1")
    context = next((c for c in root.iter("context") if c.findtext("name") == "core"), None)
    if context is None:
        context = xml.SubElement(root, "context")
        xml.SubElement(context, "name").text = "core"
    known = {m.findtext("source") for m in context.iter("message")}
    new = [p for p in patterns() if p not in known]
    for pattern in new:
        message = xml.SubElement(context, "message")
        xml.SubElement(message, "source").text = pattern
        xml.SubElement(message, "translation", type="unfinished")
    xml.indent(root)
    path.write_text(
        '<?xml version="1.0" encoding="utf-8"?>\n<!DOCTYPE TS>\n' + xml.tostring(root, "unicode") + "\n",
        encoding="utf-8",
    )
    print(f"{name}: {len(new)} new, {len(known)} known")
    return 0


if len(sys.argv) != 2:
    sys.exit(__doc__)
sys.exit(check() if sys.argv[1] == "--check" else add_to(sys.argv[1]))
