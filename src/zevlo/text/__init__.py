"""What the server says to people, in one place: an area to a file, a name to a text.

Another language is a folder in here, named as browsers name it (``de``), with files, names and arguments like these;
``ZEVLO_LANGUAGE`` names the one that is spoken, by the server, its workers and, through the page, the desk. A file it
does not have is read in English. The format itself (keys, descriptions in the schema) and what commands print at a
console are English.
"""

import os
from pathlib import Path

ENGLISH = "en"
LANGUAGE = os.environ.get("ZEVLO_LANGUAGE", ENGLISH)

_folder = Path(__file__).parent / LANGUAGE
if LANGUAGE != ENGLISH:
    if not LANGUAGE.isalpha() or not _folder.is_dir():
        raise LookupError(f"ZEVLO_LANGUAGE is “{LANGUAGE}”, which is not spoken here.")
    __path__.insert(0, str(_folder))
