"""Documents read back by other people's libraries: places to the millimetre, words and fonts, tables, pictures.

ezdxf, svgelements, pypdf, PDFium, openpyxl and Pillow; scales by ISO 5455, papers by ISO 216.
"""

import csv
import io
import re

import ezdxf
import numpy as np
import openpyxl
import pypdf
import pypdfium2
import pytest
import shapely
import svgelements
from PIL import Image
from tests.core.test_documents import HEADING, ROOM, WHERE, shot, storey

from zevlo.core.documents.contact_sheet import NOW, contact_pages
from zevlo.core.documents.page.paper import PAPERS
from zevlo.core.documents.page.scale import SCALES
from zevlo.core.documents.plan import plan_pages
from zevlo.core.documents.request import ContactSheet, Plans, ShotListing
from zevlo.core.documents.shot_list import COLUMNS, list_pages, row_of
from zevlo.core.documents.shot_summary import summary_of
from zevlo.core.scene.model.placing import UNITS_M
from zevlo.core.scene.model.ruler import Ruler
from zevlo.files.cells import from_cell
from zevlo.files.documents.dxf import write_dxf
from zevlo.files.documents.fonts import NO_LETTER, measure, shown, without_letters
from zevlo.files.documents.pdf import write_pdf
from zevlo.files.documents.png import pages_as_png
from zevlo.files.documents.svg import write_svg
from zevlo.files.documents.tables import write_list_csv, write_list_xlsx

ODD = "=1+1 “Çay” ΩЖ ☐ 陶器 🏺\x07<b>&"
STANDS = {"first": (2.137, 1.019), "second": (4.4444, 3.3)}


def picture(width=300, height=200):
    out = io.BytesIO()
    Image.new("RGB", (width, height), (180, 60, 30)).save(out, "JPEG")
    return out.getvalue()


def every_summary():
    found = []
    for n, (name, at) in enumerate(STANDS.items(), 1):
        one = summary_of(name, n, shot(*at, name=ODD if n == 2 else name), ROOM, Ruler(), WHERE)
        object.__setattr__(one, "pictures", {f"{name}/{NOW}": 1.5})
        found.append(one)
    return found


SHOTS = every_summary()
PICTURES = {f"{name}/{NOW}": picture(300 * n, 200 * n) for n, name in enumerate(STANDS, 1)}
PLAN = plan_pages(storey(), SHOTS, Plans(), HEADING, measure).pages[0]
WALLS = shapely.union_all([shapely.Polygon(run) for run in storey().cut.closed])


@pytest.mark.parametrize("unit", UNITS_M)
def test_ezdxf_reads_stands_and_walls_back_to_the_millimetre(unit):
    drawing = ezdxf.read(io.StringIO(write_dxf(PLAN, unit).decode()))
    assert not drawing.audit().has_errors
    assert ezdxf.units.conversion_factor(drawing.units, ezdxf.units.M) == pytest.approx(UNITS_M[unit])
    space = drawing.modelspace()
    begins = {
        tuple(np.round(np.array(line.dxf.start)[:2] * UNITS_M[unit], 6))
        for line in space.query('LINE[layer=="stands"]')
    }
    assert begins >= set(STANDS.values())
    rings = [np.array(ring.get_points("xy")) * UNITS_M[unit] for ring in space.query('LWPOLYLINE[layer=="walls"]')]
    assert shapely.union_all([shapely.Polygon(ring) for ring in rings]).symmetric_difference(WALLS).area < 1e-6
    assert sum(hatch.dxf.solid_fill for hatch in space.query("HATCH")) >= 1
    assert {"1", "2"} <= {text.dxf.text for text in space.query('TEXT[layer=="stands"]')}


def test_a_dxf_says_where_it_lies_and_how_broad_its_lines_are():
    """DXF reference: $EXTMIN and $EXTMAX; line weights in hundredths of a mm."""
    drawing = ezdxf.read(io.StringIO(write_dxf(PLAN, "m").decode()))
    low, high = np.array(drawing.header["$EXTMIN"])[:2], np.array(drawing.header["$EXTMAX"])[:2]
    (west, south, east, north) = WALLS.bounds
    assert (low <= (west, south)).all()
    assert (high >= (east, north)).all()
    assert (high - low).max() < 60, "of the drawing and no more"
    assert drawing.layers.get("walls").dxf.lineweight > drawing.layers.get("beyond").dxf.lineweight > 0


def test_an_svg_parser_reads_stands_back_to_the_millimetre():
    data = write_svg(PLAN)
    parsed = svgelements.SVG.parse(io.BytesIO(data), ppi=25.4)  # a pixel is a millimetre then
    size = PLAN.size_mm
    assert (parsed.width, parsed.height) == pytest.approx(size)
    stands = next(one for one in parsed.select(lambda e: isinstance(e, svgelements.Group)) if one.id == "stands")
    paths = list(stands.select(lambda e: isinstance(e, svgelements.Path)))
    places = [np.array([path.first_point.x, size[1] - path.first_point.y]) for path in paths]
    found = PLAN.scale.in_set(np.array(places))
    for at in STANDS.values():
        assert np.hypot(*(found - at).T).min() < 0.001
    texts = [one.text for one in parsed.select(lambda e: isinstance(e, svgelements.Text))]
    assert shown(ODD) in texts
    assert NO_LETTER in shown(ODD)
    assert b"font/ttf;base64" in data


def test_a_pdf_library_reads_words_and_finds_the_fonts_inside():
    pages = list_pages(SHOTS, ShotListing(), HEADING, measure)
    document = pypdf.PdfReader(io.BytesIO(write_pdf(pages, PICTURES, "A shot list")))
    assert document.metadata.title == "A shot list"
    text = document.pages[0].extract_text()
    assert "Tide Tower Pottery" in text
    assert "first" in text
    fonts = document.pages[0]["/Resources"]["/Font"].values()
    described = [font.get_object() for font in fonts]
    embedded = [one for one in described if "/FontDescriptor" in one]
    assert embedded
    assert all("/FontFile2" in one["/FontDescriptor"] for one in embedded)
    # The standard fonts a reader has of its own are named by no page's text.
    drawn = re.findall(r"/(F[\d+]+) ", document.pages[0].get_contents().get_data().decode("latin-1"))
    named = {name.lstrip("/"): font.get_object() for name, font in document.pages[0]["/Resources"]["/Font"].items()}
    assert drawn
    assert all("/FontDescriptor" in named[name] for name in drawn)
    assert len(document.pages[0].images) == 2


def test_a_plan_in_a_pdf_is_to_scale():
    """The walls' outline, as PDFium measures it on the page, is the room's at the scale that is told."""
    made = plan_pages(storey(), SHOTS, Plans(thin_lines=False, angles=False), HEADING, measure)
    page = pypdfium2.PdfDocument(write_pdf(made.pages, {}, "A plan"))[0]
    point = 25.4 / 72.0
    assert (page.get_width() * point, page.get_height() * point) == pytest.approx(made.pages[0].size_mm, abs=0.01)
    boxes = [np.array(one.get_bounds()) * point for one in page.get_objects(max_depth=1) if one.type == 2]
    low, _, high, _ = np.array(WALLS.bounds) / made.pages[0].scale.metres_per_mm
    widths = [box[2] - box[0] for box in boxes]
    # A stroke of 0.18 mm goes half its width beyond on both sides.
    assert any(abs(width - (high - low)) < 0.4 for width in widths), (widths, high - low)


def test_a_page_as_png_is_as_large_as_its_paper():
    pages = contact_pages(SHOTS, ContactSheet(), HEADING, measure)
    (data,) = pages_as_png(write_pdf(pages, PICTURES, "A contact sheet"), 100.0)
    seen = Image.open(io.BytesIO(data))
    assert seen.size == pytest.approx((297 / 25.4 * 100, 210 / 25.4 * 100), abs=1)
    assert seen.info["dpi"] == pytest.approx((100, 100), abs=0.1)
    red = np.asarray(seen)[..., 0].astype(int) - np.asarray(seen)[..., 2]
    assert (red > 100).mean() > 0.1


def test_openpyxl_reads_the_table_with_its_numbers_and_pictures():
    book = openpyxl.load_workbook(io.BytesIO(write_list_xlsx(SHOTS, PICTURES)))
    sheet = book.active
    rows = list(sheet.iter_rows(values_only=True))
    assert rows[0][1:] == tuple(column.head for column in COLUMNS)
    for row, one in zip(rows[1:], SHOTS, strict=True):
        for cell, value in zip(row[1:], row_of(one), strict=True):
            if isinstance(value, float):
                assert cell == pytest.approx(value, rel=1e-12)
            elif value != ODD:
                assert cell == value
    assert rows[2][2].startswith("=1+1")
    assert "\x07" not in rows[2][2]
    assert sheet.cell(3, 3).data_type == "s"
    assert len(sheet._images) == 2
    heads = dict(zip(rows[0], sheet[3], strict=True))
    assert heads["shutter, s"].number_format == "0.000000", "1/60 s is not shown as 0.02"
    assert (sheet.page_setup.orientation, sheet.print_title_rows) == ("landscape", "$1:$1")
    assert (
        sheet.page_setup.fitToWidth,
        sheet.page_setup.fitToHeight,
        sheet.sheet_properties.pageSetUpPr.fitToPage,
    ) == (1, 0, True)


def test_the_csv_tells_the_same():
    rows = list(csv.reader(io.StringIO(write_list_csv(SHOTS).decode("utf-8-sig"))))
    assert rows[0] == [column.head for column in COLUMNS]
    for row, one in zip(rows[1:], SHOTS, strict=True):
        for cell, value in zip(row, row_of(one), strict=True):
            found = from_cell(cell)
            assert (
                (float(found) == value) if isinstance(value, float) else found == ("" if value is None else str(value))
            )
            # OWASP, CSV Injection: no cell of words begins with what a spreadsheet works out.
            assert not (isinstance(value, str) and cell.startswith(("=", "+", "-", "@", "\t", "\r")))


def test_letters_no_font_has_are_told():
    assert without_letters([ODD]) == "🏺"
    assert without_letters(["Ångström, Ωμέγα, Гжель, Łódź, Đà Nẵng"]) == ""
    assert (
        without_letters(["陶瓷工坊，二楼", "陶瓷工坊，二樓", "やきもの工房「一階」", "ヤキモノ", "도자기 공방, 2층"])
        == ""
    )


def test_names_in_chinese_japanese_and_korean_are_read_back_and_cost_a_file_little():
    """As pypdf and PDFium read them; the font is in the file by the letters it shows alone, and only where it shows."""
    name = "陶瓷 やきもの 도자기"
    one = summary_of("first", 1, shot(0.0, -3.0, name=name), ROOM, Ruler(), WHERE)
    data = write_pdf(list_pages([one], ShotListing(), HEADING, measure), PICTURES, "A shot list")
    plain = write_pdf(list_pages(SHOTS[:1], ShotListing(), HEADING, measure), PICTURES, "A shot list")
    assert name in " ".join(pypdf.PdfReader(io.BytesIO(data)).pages[0].extract_text().split())
    assert name in " ".join(pypdfium2.PdfDocument(data)[0].get_textpage().get_text_range().split())
    assert b"DroidSansFallback" in data
    assert b"DroidSansFallback" not in plain
    assert len(data) - len(plain) < 30_000


def test_papers_are_those_of_the_standard():
    """ISO 216: A0 is a square metre, each the half of the one before, to a millimetre."""
    sizes = {one.name: one.size_mm[::-1] for one in PAPERS if one.name.startswith("A")}
    assert sizes["A0"][0] * sizes["A0"][1] / 1e6 == pytest.approx(1.0, abs=1e-3)
    for n in range(5):
        assert sizes[f"A{n + 1}"] == (sizes[f"A{n}"][1] // 2, sizes[f"A{n}"][0])


def test_scales_are_those_of_the_standard():
    """ISO 5455, table 1: 50:1, 20:1, 10:1, 5:1, 2:1, 1:1 and 1:2, 1:5, 1:10 … 1:10 000."""
    reductions = [float(f"{digit}e{power}") for power in range(4) for digit in (1, 2, 5)] + [10_000.0]
    assert list(SCALES) == [1 / 50, 1 / 20, 1 / 10, 1 / 5, 1 / 2, *reductions]
