"""Documents laid out in the core: every mark on its page, every shot once, every number that of the sheet."""

from dataclasses import replace
from functools import cache
from itertools import pairwise, product
from typing import get_args

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import set_of, slab
from tests.core.kinds import lenses
from tests.core.test_page import letters

from zevlo.core.documents.camera_card import Setting, card_page, tripod_lines
from zevlo.core.documents.camera_lines import camera_lines, real_lens_mm
from zevlo.core.documents.contact_sheet import BEFORE, NOW, Heading, contact_pages
from zevlo.core.documents.from_walls import FARTHEST_M, faces_of, off_edges, off_walls
from zevlo.core.documents.page.paper import Area, Lines, PaperName, Picture, Words
from zevlo.core.documents.page.scale import SCALES
from zevlo.core.documents.plan import Storey, extent_of, levels_asked, plan_pages
from zevlo.core.documents.request import KINDS, ContactSheet, Documents, Plans, ShotListing
from zevlo.core.documents.shot_list import COLUMNS, list_pages, row_of
from zevlo.core.documents.shot_summary import summary_of
from zevlo.core.framing.solve import solve
from zevlo.core.measures import measure as read
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.model.ruler import Ruler, ruler_for
from zevlo.core.scene.places.levels import Level, Places, Room, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Exposure, Focus, Lens, Movements, Shot, Stand

HEADING = Heading("Tide Tower Pottery", "contact sheet", "2026-03-01")
PLACES = Places(levels=(Level(name="Ground", floor_m=0.0), Level(name="Loft", floor_m=3.0)))
WHERE = SetContext(PLACES, 0.0)


def box(width=6.0, depth=4.0, height=2.8, thick=0.2):
    """A room with its inner corner in the origin."""
    return WorkingSet(
        set_of(
            slab((0, 0, -0.2), (width, depth, 0)),
            slab((-thick, -thick, 0), (width + thick, 0, height)),
            slab((-thick, depth, 0), (width + thick, depth + thick, height)),
            slab((-thick, 0, 0), (0, depth, height)),
            slab((width, 0, 0), (width + thick, depth, height)),
        )
    )


ROOM = box()


def shot(x=2.0, y=1.0, aim=(2.0, 3.0), **more):
    return Shot(stand=Stand(position=(x, y, 1.5), aim=(*aim, 1.5)), **more)


@cache
def plain():
    return summary_of("shot", 1, shot(name="Shot"), ROOM, Ruler(), WHERE)


def summary(n=1, one=None, ratio=1.5):
    """A shot as documents tell it; those that are only there to be many have one sheet, worked out once."""
    key = f"shot {n}"
    found = (
        replace(plain(), shot=shot(name=f"Shot {n}")) if one is None else summary_of(key, n, one, ROOM, Ruler(), WHERE)
    )
    return replace(found, key=key, number=n, pictures={f"{key}/{NOW}": ratio, f"{key}/{BEFORE}": ratio})


def storey(height=1.2):
    plane = plan_plane(height)
    return Storey("Ground", ROOM.cut(plane), ROOM.beyond(plane, 1.5), (), 0.0, ROOM.body, height)


def points_of(mark):
    if isinstance(mark, Lines):
        return np.concatenate(mark.runs)
    if isinstance(mark, Area):
        return np.concatenate(mark.rings)
    if isinstance(mark, Picture):
        return np.array([mark.at, np.add(mark.at, mark.size_mm)])
    long = letters(mark.text, mark.size_mm, mark.bold)
    left = mark.at[0] - {"start": 0.0, "middle": 0.5, "end": 1.0}[mark.anchor] * long
    return np.array([[left, mark.at[1]], [left + long, mark.at[1] + 0.7 * mark.size_mm]])


def on_the_page(page):
    for mark in page.marks:
        places = points_of(mark)
        assert (places >= -1e-6).all(), mark
        assert (places <= np.array(page.size_mm) + 1e-6).all(), mark


def words(pages):
    return [mark.text for page in pages for mark in page.marks if isinstance(mark, Words)]


def names(pages):
    return [text for text in words(pages) if text.startswith("Shot ")]


LAYOUTS = get_args(ContactSheet.model_fields["layout"].annotation)


@pytest.mark.parametrize("paper", get_args(PaperName))
@pytest.mark.parametrize("layout", LAYOUTS)
def test_a_contact_sheet_has_each_shot_once_in_its_ratio_on_the_page(layout, paper):
    for landscape, notes, columns in product((False, True), (False, True), (1, 3, 8)):
        if layout == "grid" or columns == 3:
            sheet_holds(ContactSheet(layout=layout, columns=columns, notes=notes, paper=paper, landscape=landscape))


def sheet_holds(asked):
    shots = [summary(n, ratio=(1.5, 0.5, 3.0, 1.0)[n % 4]) for n in range(1, 8)]
    pages = contact_pages(shots, asked, HEADING, letters)
    found = [mark for page in pages for mark in page.marks if isinstance(mark, Picture)]
    ratios = {key: ratio for one in shots for key, ratio in one.pictures.items()}
    wanted = [f"{one.key}/{which}" for one in shots for which in ((BEFORE, NOW) if asked.layout == "pairs" else (NOW,))]
    assert [mark.key for mark in found] == wanted
    for mark in found:
        assert mark.size_mm[0] / mark.size_mm[1] == pytest.approx(ratios[mark.key])
        assert min(mark.size_mm) > 1.0
    for page in pages:
        on_the_page(page)
        boxes = [
            shapely.box(*mark.at, *np.add(mark.at, mark.size_mm)) for mark in page.marks if isinstance(mark, Picture)
        ]
        assert all(a.intersection(b).area < 1e-6 for n, a in enumerate(boxes) for b in boxes[n + 1 :])


def test_where_there_is_no_picture_of_before_its_place_says_so():
    one = summary()
    object.__setattr__(one, "pictures", {f"{one.key}/{NOW}": 1.5})
    object.__setattr__(one, "remarks", {f"{one.key}/{BEFORE}": "no print of before"})
    assert "no print of before" in words(contact_pages([one], ContactSheet(layout="pairs"), HEADING, letters))


@pytest.mark.parametrize("pictures", [False, True])
@pytest.mark.parametrize("landscape", [False, True])
def test_a_shot_list_has_a_row_for_each_shot(pictures, landscape):
    shots = [summary(n) for n in range(1, 60)]
    pages = list_pages(shots, ShotListing(pictures=pictures, landscape=landscape), HEADING, letters)
    assert len(pages) > 1
    assert names(pages) == [one.name for one in shots]
    for page in pages:
        on_the_page(page)


@pytest.mark.parametrize("law", lenses())
def test_rows_and_cards_of_every_law_tell_what_the_sheet_says(law):
    one = summary(one=shot(name="Shot 1", lens=Lens(**lenses()[law]), movements=Movements(rise_mm=2.0)))
    row = dict(zip((column.head for column in COLUMNS), row_of(one), strict=True))
    sheet = solve(one.shot, ROOM, WHERE)
    assert row["heading, °"] == sheet.pose.heading_deg
    assert row["above floor, m"] == pytest.approx(1.5)
    groups = dict(camera_lines(one))
    if law == "parallel":
        assert (row["f-number"], row["focus, m"]) == (None, None)
        assert {"Movements", "Focus"}.isdisjoint(groups)
    else:
        assert row["rise, mm"] == 2.0
        assert groups["Movements"][0].metric == "rise 2.00 mm"
    page = card_page(one, Setting(storey(), None), "A4", HEADING, 1, 1, letters)
    on_the_page(page)


def test_a_card_tells_movements_by_the_way_they_go():
    lens = {"rise_mm": -3.0, "cross_mm": -1.5, "tilt_deg": -2.0, "swing_deg": 1.25}
    lines = {
        line.what: line for line in dict(camera_lines(summary(one=shot(movements=Movements(**lens)))))["Movements"]
    }
    said = [lines[what].metric for what in ("Rise", "Cross", "Tilt", "Swing")]
    assert said == ["fall 3.00 mm", "left 1.50 mm", "back 2.00°", "left 1.25°"]
    assert lines["Rise"].feet == "0.12 in"


def test_the_lens_that_moves_out_sees_the_very_picture():
    still = shot(lens=Lens(focal_length_mm=50.0), focus=Focus(distance_m=0.5), back=Back())
    moving = still.with_groups(lens=Lens(focal_length_mm=real_lens_mm(still), focus_breathing=True))
    one, other = solve(still).lens, solve(moving).lens
    assert other.angle_deg.horizontal == pytest.approx(one.angle_deg.horizontal, abs=1e-9)
    assert real_lens_mm(moving) == pytest.approx(moving.lens.focal_length_mm, abs=1e-9)
    said = [line.what for line in dict(camera_lines(summary(one=still)))["Exposure"]]
    assert "Time, so close" in said


def test_what_is_asked_for_is_something_and_once():
    key = "11111111-1111-1111-1111-111111111111"
    with pytest.raises(ValueError, match="no document is asked for"):
        Documents(shots=(key,))
    with pytest.raises(ValueError, match="named twice"):
        Documents(shots=(key, key), plans=Plans())
    for name, kind in KINDS.items():
        with pytest.raises(ValueError, match="asked for twice"):
            kind.asked(files=(kind.endings[0],) * 2)
        assert Documents(shots=(key,), **{name: kind.asked()}).kinds == (name,)


@given(st.floats(0.3, 5.7), st.floats(0.3, 3.7), st.floats(0.0, 360.0), st.floats(0.0, 90.0))
def test_two_walls_find_the_tripod_again(x, y, heading, turn):
    faces = faces_of(ROOM.cut(plan_plane(1.9)))
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    spin = np.array([[c, -s], [s, c]])
    stand = spin @ np.array([x, y])
    found = off_walls(stand, heading, faces @ spin.T)
    assert found is not None
    one, other = found
    # The place that lies so far square off both faces, on their near sides.
    normals = np.array([(stand - wall.foot) / wall.distance_m for wall in found])
    place = np.linalg.solve(normals, [n @ wall.foot + wall.distance_m for n, wall in zip(normals, found, strict=True)])
    assert place == pytest.approx(stand, abs=1e-9)
    assert {round(one.distance_m, 9), round(other.distance_m, 9)} <= {
        round(value, 9) for value in (x, y, 6.0 - x, 4.0 - y)
    }
    assert one.distance_m <= other.distance_m
    for wall in found:
        toward = np.degrees(np.arctan2(*(wall.foot - stand)))
        square = {"ahead": 0, "on the right": 90, "behind": 180, "on the left": 270}[wall.side]
        off = (heading + square - toward + 180.0) % 360.0 - 180.0
        assert off == pytest.approx(wall.axis_off_square_deg, abs=1e-6)
        assert abs(off) <= 45.0 + 1e-6


def test_no_tape_goes_through_a_wall_or_farther_than_it_is_long():
    behind = np.array([[[-1.0, 1.0], [1.0, 1.0]], [[-1.0, 2.0], [1.0, 2.0]], [[1.5, -1.0], [1.5, 3.0]]])
    stand = np.array([0.0, 0.0])
    one, other = off_walls(stand, 0.0, behind)
    assert (one.distance_m, other.distance_m) == (1.0, 1.5)
    assert off_walls(stand, 0.0, behind[:2]) is None
    slanted = np.array([[[0.2, -0.9], [0.9, -0.2]]])
    one, other = off_walls(stand, 0.0, np.concatenate([slanted, behind]))
    assert (one.distance_m, other.distance_m) == (1.0, 1.5), "the nearest stands across none of them"
    assert off_walls(stand, 0.0, behind * (FARTHEST_M + 1.0)) is None
    assert off_walls(stand, 0.0, np.empty((0, 2, 2))) is None


@given(st.floats(-1.0, 1.0), st.floats(-1.0, 1.0), st.floats(0.0, 360.0))
def test_a_product_set_is_measured_from_its_edges(x, y, heading):
    box = np.array([[-0.2, -0.15], [0.2, 0.15]])
    one, other = off_edges(np.array([x, y]), heading, box)
    along = {min(abs(end - at) for end in box[:, axis]) for axis, at in enumerate((x, y))}
    assert {round(one.distance_m, 12), round(other.distance_m, 12)} == {round(value, 12) for value in along}
    assert one.distance_m <= other.distance_m
    assert (one.what, other.what) == ("edge", "edge")


def test_a_card_measures_from_the_walls_or_says_there_are_none():
    one = summary()
    found = off_walls(np.array([2.0, 1.0]), 0.0, faces_of(ROOM.cut(plan_plane(1.9))))
    lines = {line.what: line for line in tripod_lines(one, Setting(storey(), found))}
    assert lines["Off the wall behind"].metric == "1.000 m"
    assert lines["Off the wall on the left"].metric == "2.000 m"
    assert lines["Axis"].metric == "square to the wall behind"
    none = {line.what: line.metric for line in tripod_lines(one, Setting(storey(), None))}
    assert none["Walls"].startswith("no two in reach")
    assert none["In the set"] == "x 2.000 m, y 1.000 m"
    page = card_page(one, Setting(storey(), found), "A4", HEADING, 1, 1, letters)
    on_the_page(page)
    assert {"1.000 m", "2.000 m"} <= set(words([page]))


@pytest.mark.parametrize("paper", get_args(PaperName))
@pytest.mark.parametrize("landscape", [False, True])
def test_a_plan_is_to_scale_on_every_paper(paper, landscape):
    shots = [summary(n) for n in range(1, 45)]
    made = plan_pages(storey(), shots, Plans(paper=paper, landscape=landscape), HEADING, letters)
    scale = made.pages[0].scale
    assert made.scale in SCALES
    assert scale.metres_per_mm == pytest.approx(made.scale / 1000.0)
    for page in made.pages:
        on_the_page(page)
    # Its own number beside each stand, and in the legend, on whichever page that goes on.
    assert sorted(names(made.pages)) == sorted(one.name for one in shots)
    stands = [
        mark
        for mark in made.pages[0].marks
        if isinstance(mark, Lines) and mark.layer == "stands" and len(mark.runs) == 3
    ]
    assert len(stands) == len(shots)
    drawn = np.concatenate(
        [
            points_of(mark)
            for mark in made.pages[0].marks
            if getattr(mark, "layer", "") in ("walls", "beyond", "stands", "rooms")
        ]
    )
    plan = shapely.box(*drawn.min(axis=0), *drawn.max(axis=0))
    legend = [
        points_of(mark) for mark in made.pages[0].marks if isinstance(mark, Words) and mark.text.startswith("Shot ")
    ]
    assert not any(plan.intersects(shapely.box(*place.min(axis=0), *place.max(axis=0))) for place in legend)
    for mark in stands:
        assert scale.in_set(mark.runs[0][0]) == pytest.approx((2.0, 1.0), abs=1e-9)


def test_a_scale_that_does_not_go_on_the_paper_is_told():
    fits = plan_pages(storey(), [summary()], Plans(paper="A4", scale=100.0), HEADING, letters)
    assert (fits.scale, fits.words) == (100.0, ())
    large = plan_pages(storey(), [summary()], Plans(paper="A4", scale=10.0), HEADING, letters)
    assert large.scale == plan_pages(storey(), [summary()], Plans(paper="A4"), HEADING, letters).scale
    assert "at 1:10; A4 has" in large.words[0]


def test_a_plan_shows_all_of_what_stands_on_a_table():
    """A bowl and a ball on a board: the cut goes through those alone, the board lies below it."""
    table = WorkingSet(set_of(slab((-0.2, -0.15, -0.01), (0.2, 0.15, 0)), slab((-0.1, -0.05, 0), (0, 0.05, 0.09))))
    plane = plan_plane(0.05)
    drawn = Storey("Plan", table.cut(plane), table.beyond(plane, 0.1), (), 0.0, table.body, 0.05)
    low, high = extent_of(drawn, [])
    assert (low < [-0.2, -0.15]).all()
    assert (high > [0.2, 0.15]).all()
    ruler = ruler_for(table.body)
    one = summary_of("x", 1, shot(0.1, -0.6, (0.0, 0.0)), table, ruler)
    page = card_page(
        one, Setting(drawn, off_edges(np.array([0.1, -0.6]), 0.0, table.body[:, :2])), "A4", HEADING, 1, 1, letters
    )
    assert {"Off the edge ahead", "450.0 mm"} <= set(words([page]))
    board = np.concatenate([points_of(mark) for mark in page.marks if getattr(mark, "layer", "") == "beyond"])
    assert len(board)


def test_levels_have_the_shots_that_stand_on_them():
    low, high = (
        summary(1),
        summary(2, shot(name="Shot 2").with_groups(stand=Stand(position=(2, 1, 4.5), aim=(2, 3, 4.5)))),
    )
    nowhere = summary_of("x", 3, shot(), None, Ruler())
    object.__setattr__(high, "level", PLACES.levels[1])
    every = ["Ground", "Loft", "Roof"]
    assert levels_asked([low, high, nowhere], every, Plans()) == [("Ground", [low, nowhere]), ("Loft", [high])]
    assert levels_asked([low], every, Plans(levels=("Roof", "Loft"))) == [("Loft", []), ("Roof", [])]
    assert levels_asked([nowhere], ["Plan"], Plans()) == [("Plan", [nowhere])]


def test_exposure_of_a_shot_with_all_sharp_says_what_counts():
    one = summary(one=shot(focus=Focus(f_number=None), exposure=Exposure(shutter_s=0.5)))
    assert dict(camera_lines(one))["Exposure"][0].metric == "0.5 s, f/8 counted, ISO 100"


def every_page():
    long = shot(name="Shot " + "with a long name " * 6, movements=Movements(tilt_deg=2.0, swing_deg=-1.0, rise_mm=3.0))
    shots = [summary(n) for n in range(1, 6)] + [summary(6, long)]
    for layout in LAYOUTS:
        yield from contact_pages(shots, ContactSheet(layout=layout), HEADING, letters)
    yield from list_pages(shots, ShotListing(), HEADING, letters)
    yield from plan_pages(storey(), shots, Plans(), HEADING, letters).pages
    yield card_page(shots[-1], Setting(storey(), None), "A4", HEADING, 1, 1, letters)


def test_no_letter_is_smaller_than_seven_points():
    sizes = [mark.size_mm for page in every_page() for mark in page.marks if isinstance(mark, Words)]
    assert min(sizes) >= 7 / 72 * 25.4


def test_where_a_plan_ends_its_wedges_draw_no_wall():
    """A lens that sees far beyond the plan: its sides are drawn, the edge of the drawing is not."""
    out = summary(1, shot(x=3.0, y=2.0, aim=(3.0, 9.0)))
    far = [(3.0, 2.0), (-40.0, 60.0), (46.0, 60.0)]
    plan = out.sheet.drawings.plan.model_copy(update={"seen": [n for point in far for n in point]})
    out = replace(
        out, sheet=out.sheet.model_copy(update={"drawings": out.sheet.drawings.model_copy(update={"plan": plan})})
    )
    page = plan_pages(storey(), [out], Plans(), HEADING, letters).pages[0]
    box_mm = page.scale.on_paper(extent_of(storey(), [out]))
    runs = [run for mark in page.marks if isinstance(mark, Lines) and mark.layer == "angles" for run in mark.runs]
    pieces = [piece for run in runs for piece in pairwise(run)]
    assert len(pieces) >= 2, "its two sides"
    for a, b in pieces:
        assert not any(
            abs(a[axis] - edge[axis]) + abs(b[axis] - edge[axis]) < 1e-6 for edge in box_mm for axis in (0, 1)
        )


def test_names_of_rooms_lie_over_all_lines():
    named = replace(
        storey(), rooms=(Room(name="Wheel room", level="Ground", outline=((0, 0), (6, 0), (6, 4), (0, 4))),)
    )
    marks = plan_pages(named, [summary(1)], Plans(), HEADING, letters).pages[0].marks
    first = next(n for n, mark in enumerate(marks) if isinstance(mark, Words) and mark.text == "Wheel room")
    assert all(
        mark.layer not in ("angles", "walls", "beyond") for mark in marks[first:] if isinstance(mark, Lines | Area)
    )
    assert marks[first].halo


def test_a_card_far_from_all_walls_shows_the_set_and_measures_from_its_corners():
    away = shot(x=14.0, y=-9.0, aim=(3.0, 2.0), name="Shot " + "as it is seen from out there " * 3)
    out = summary(1, away)
    setting = Setting(storey(), None)
    lines = {line.what: line for line in tripod_lines(out, setting)}
    corner = np.hypot(14.0 - 6.2, -9.0 + 0.2)
    assert read(lines["From the nearest corner"].metric, "length") == pytest.approx(corner, abs=6e-4)
    other = read(lines["From another corner"].metric, "length")
    assert other > corner
    page = card_page(out, setting, "A4", HEADING, 1, 1, letters)
    on_the_page(page)
    assert any(isinstance(mark, Area) and mark.layer == "walls" for mark in page.marks), "no empty field"
    said = words([page])
    assert lines["From the nearest corner"].metric in said
    assert "x 0, y 0" in said
    assert away.name.split() == [
        word
        for text in said
        if text.startswith(("Shot", "there", "out", "it", "as", "is", "seen", "from"))
        for word in text.split()
    ], "whole"


def test_a_list_on_paper_tells_what_a_camera_is_set_by():
    tilted = summary(
        1,
        shot(
            movements=Movements(tilt_deg=2.0, swing_deg=-1.5),
            exposure=Exposure(iso=320),
            back=Back(output_px=(4000, 3000)),
        ),
    )
    said = words(list_pages([tilted], ShotListing(pictures=False), HEADING, lambda text, size, bold: 0.0))
    for told_ in ("2.0", "−1.5", "320", "4000", "3000"):
        assert told_ in said
