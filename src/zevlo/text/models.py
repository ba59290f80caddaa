"""Models that are brought in: what was read, what was left out, why one could not be taken."""

BROKEN_NO_SUCH_ARRAY = "The file is broken: a surface names an array that is not there."
BROKEN_A_SURFACE = "The file is broken: a surface names an array of the wrong shape."
BROKEN_AN_ARRAY_IN_IT = "The file is broken: an array in it is longer than its data."
BROKEN_AN_ARRAY = "The file is broken: an array in it names a view that is not there."
BROKEN_WHAT_DRACO = "The file is broken: what Draco packed has no triangles."
BROKEN_MESHOPT = "The file is broken: meshopt cannot unpack its geometry."
BROKEN_A_SPARSE = "The file is broken: a sparse array in it does not fit together."
BROKEN_DRACO = "The file is broken: Draco cannot unpack its geometry."
THERE_IS_NO_MODEL = "There is no model in the archive: no IFC, OpenUSD, glTF, OBJ, PLY or STL file."
THE_ARCHIVE_IS_EMPTY = "The archive is empty."
THE_ARCHIVE_IS_BROKEN = "The archive is broken or cut off. Make it again."
THE_ARCHIVE_HOLDS_ANOTHER = "The archive holds another archive. Unpack it once and bring that in."
THE_ARCHIVE_IS_LOCKED = "The archive is locked with a password. Make one without."
THE_ARCHIVE_UNPACKS_TO_FAR = "The archive unpacks to far more than it could honestly hold, and is not opened."
THE_ARCHIVE_UNPACKS_TO_MORE_THAN_IT_SAYS = "The archive unpacks to more than it says, and is not opened."
BROKEN_SOME_OF_ITS_POINTS = "The file is broken: some of its points are not numbers."
BROKEN_SOME_TRIANGLES = "The file is broken: some triangles name points that are not there."
THE_MODEL_IS_EMPTY = "The model is empty: it has no surfaces, only points, lines or nothing at all."
BROKEN_SOME_OF_ITS_POINTS_ARE = "The file is broken: some of its points are not numbers once they are in their places."
THE_MODEL_HAS_NO_SIZE = "The model has no size: all its points lie in one place."
THE_FILE_IS_EMPTY = "The file is empty."
THIS_IS_NOT_A_GLTF_2 = "This is not a glTF 2.0 model; export it again as glTF 2.0."
BROKEN_IT_ENDS = "The file is broken: it ends before its header does."
BROKEN_ITS_DESCRIPTION_IS_MISSING = "The file is broken: its description is missing."
BROKEN_ITS_DESCRIPTION = "The file is broken: its description is not what glTF asks for."
THE_MODELS_TEXTURES_ARE_BASIS = (
    "The model's textures are Basis pictures, which are not read. Export them as PNG or JPEG."
)
A_VIEW_NAMES_A_BUFFER = "a view names a buffer that is not there"
THIS_IS_NOT_A_GLTF = "This is not a glTF model. Give a .glb file, or a .gltf with everything inside it."
BROKEN_A_PART = "The file is broken: a part of it runs past its end."
BROKEN_ITS_DESCRIPTION_CANNOT_BE = "The file is broken: its description cannot be read."
ITS_GEOMETRY = "its geometry"
BROKEN_ITS_GEOMETRY = "The file is broken: its geometry is shorter than it says."
A_TEXTURE = "a texture"
BROKEN_DATA = "The file is broken: data inside it cannot be decoded."
A_VIEW_HAS_NO_PROPER = "a view has no proper length"
AN_ARRAY_IN_IT_HAS_NO_PROPER = "an array in it has no proper type or length"
AN_ARRAY_IN_IT_CLAIMS = "an array in it claims more numbers than the file holds"
ITS_TREE_OF_PARTS = "its tree of parts is not what glTF asks for"
ITS_TREE_OF_PARTS_RUNS = "its tree of parts runs in a circle or is nested beyond reason"
A_PACKED_VIEW_HAS_NO_PROPER = "a packed view has no proper length"
A_VIEW_RUNS_PAST = "a view runs past the end of its data"
AN_ARRAY_IN_IT_NAMES = "an array in it names a view that is not there"
AN_ARRAY_IN_IT_BEGINS = "an array in it begins nowhere"
AN_ARRAY_IN_IT_IS_LONGER = "an array in it is longer than its data"
ITS_TREE_OF_PARTS_RUNS_IN_A_CIRCLE = "its tree of parts runs in a circle or names a part that is not there"
PUTTING_THE_SET_TOGETHER = "putting the set together"
THE_MODEL_IS_EMPTY_THERE_IS_NOTHING = "The model is empty: there is nothing in its scene."
BROKEN_COPIES = "The file is broken: copies and where they stand are not equally many."
BROKEN_POINTS = "The file is broken: points and what belongs to them are not equally many."
BROKEN_A_TEXTURE = "The file is broken: a texture has no data."
BROKEN_A_MATERIAL = "The file is broken: a material has numbers that are not finite."
BROKEN_A_MATERIAL_HAS_A_COLOUR = "The file is broken: a material has a colour that is none."
READING_THE_GEOMETRY = "reading the geometry"
BROKEN_A_PART_IS_PLACED_BY = "The file is broken: a part is placed by numbers that are not finite."
BROKEN_A_PART_NAMES = "The file is broken: a part names a surface that is not there."
IT_HAS_A_PICTURE = "it has a picture, so that the colours of its points are left out"
IT_HAS_SO_MANY = "it has so many points that their colours are shown as one, their mean"
BROKEN_A_PART_IS_PLACED = "The file is broken: a part is placed by something that is not a place."
IT_SHINES_BY_A_PICTURE = "it shines by a picture, whose mean it shines with all over"
HOW_ROUGH_AND_METALLIC = "how rough and metallic it is goes by a picture, whose mean it has all over"
ITS_RELIEF_A_NORMAL = "its relief (a normal map) is left out"
ITS_BAKED_SHADE_AN_OCCLUSION = "its baked shade (an occlusion map) is left out"
ITS_PICTURE_IS_REPEATED = "its picture is repeated beyond its edge, where the file does not"
OPENING_THE_MODEL = "opening the model"
BROKEN_THERE_IS_NO_PROJECT = "The file is broken: there is no project in this IFC."
MAKING_THE_GEOMETRY = "making the geometry"
BROKEN_OR_CUT = "The file is broken or cut off: it cannot be read as IFC. Copy or export it again."
ITS_LAMPS_ARE_LEFT = "Its lamps are left out: shots are lit by light setups"
WHAT_HANGS_ON_A_SKELETON = "What hangs on a skeleton is read as it is modelled, not as it is posed"
WHAT_IS_BLENDED_OF_SEVERAL = "What is blended of several shapes (morph targets) is read as it is without them"
WHAT_MOVES_IN_IT_IS_READ = "What moves in it is read as it stands at rest"
ITS_LINES_AND_POINTS = "Its lines and points are left out: they are no surfaces"
THIS_IS_NOT_AN_OBJ = "This is not an OBJ model: it has zeros in its text."
PUTTING_PARTS_TOGETHER = "putting parts together"
WHERE_A_MATERIAL_SAYS = "Where a material says how it looks, the colours of its points are left out"
IT_HAS_SO_MANY_POINTS = "It has so many points that their colours are left out"
COLOURS_OF_THE_SCAN = "Colours of the scan"
THE_FILE_IS_CUT = (
    "The file is cut off or broken: it ends before all its header promises has come. Copy or export it again."
)
BROKEN_ITS_POINTS = "The file is broken: its points have no x, y and z."
THE_MODEL_IS_EMPTY_IT_HAS_POINTS = "The model is empty: it has points but no surfaces. Make a mesh of the scan first."
BROKEN_SOME_POLYGONS = "The file is broken: some polygons name points that are not there."
BROKEN_ITS_HEADER = "The file is broken: its header does not end."
BROKEN_ITS_HEADER_DOES_NOT_SAY = "The file is broken: its header does not say how it is written."
MEAN_COLOUR_OF_THE_SCAN = "Mean colour of the scan"
ITS_COLOURS_ARE_SHOWN = "Its colours are shown as one, their mean"
BROKEN_WHERE_ITS_NUMBERS = "The file is broken: where its numbers should be there are other words."
ALL_COLOURS = "all colours"
BROKEN_ITS_POLYGONS = "The file is broken: its polygons do not add up to their corners."
STORING_THE_GEOMETRY = "storing the geometry"
MAKING_WHAT_IS_DRAWN = "making what is drawn"
GLTF_GLB_GLTF_OPENUSD = (
    "glTF (.glb, .gltf), OpenUSD (.usdz, .usdc, .usda), IFC, OBJ, STL or PLY, alone or in a .zip with its textures"
)
AN_OPENUSD_STAGE = "an OpenUSD stage"
AN_IFC_MODEL = "an IFC model"
A_GLTF_MODEL = "a glTF model"
AN_OBJ_MODEL = "an OBJ model"
A_PLY_MODEL = "a PLY model"
AN_ARCHIVE = "an archive"
BROKEN_WHAT_WAS_READ = (
    "The file is broken: what was read from it does not fit together. Export it again, or in another format."
)
MORE_THAN_THAT = "more than that"
THE_FILE_TOOK_TOO = "The file took too long to read and was given up. Try a simpler export."
THE_SERVERS_DISK_IS_FULL = (
    "The server's disk is full, so the model could not be read. Nothing was changed; make room and try again."
)
BROKEN_ITS_READER = "The file is broken: its reader stopped short at it. Export it again, or in another format."
GIVEN_UP_AS_YOU_ASKED = "Given up, as you asked. Nothing was changed."
THE_FILE_IS_CUT_OFF = "The file is cut off: it ends within its header. Copy it again."
THE_FILE_IS_CUT_OFF_ITS_LAST = "The file is cut off: its last triangle has not three corners. Copy it again."
A_TEXTURE_IN_THE_MODEL_HAS_NO_PIXELS = "A texture in the model has no pixels."
ONE_TEXTURE_WAS = "1 texture was"
A_TEXTURE_IN_THE_MODEL = "A texture in the model cannot be read; it has to be PNG or JPEG."
A_TEXTURE_IN_THE_MODEL_IS_BROKEN = "A texture in the model is broken or cut off. Export it again."
OPENING_THE_STAGE = "opening the stage"
BROKEN_OPENUSD = "The file is broken: OpenUSD cannot open it."
AT_ITS_FIRST_MOMENT = "at its first moment"
SMOOTHED_SURFACES_SUBDIVISION_ARE_READ = "Smoothed surfaces (subdivision) are read as the cage they are made from"
WHAT_IS_HIDDEN_IN_IT_IS_LEFT = "What is hidden in it is left out"
PIECES_SCATTERED_WITHIN_SCATTERED = "Pieces scattered within scattered pieces are left behind"
OWN_LIGHT = "own light"


def mode(mode: str) -> str:
    return f"mode {mode}"


def the_archive_holds_files(count: int, archive_files: int) -> str:
    return f"The archive holds {count} files; up to {archive_files} are taken."


def the_archive_unpacks_to_more_than_gb(unpacked: int) -> str:
    return f"The archive unpacks to more than {unpacked} GB."


def the_archive_names_a_file(name: str) -> str:
    return f"The archive names a file outside itself ({name!r}) and is not opened."


def the_archive_holds_a_link(name: str) -> str:
    return f"The archive holds a link ({name!r}) and is not opened."


def the_archive_is_broken(filename: str) -> str:
    return f"The archive is broken: {filename!r} cannot be unpacked. Make it again."


def the_model_has_more_than_parts(parts: int) -> str:
    return f"The model has more than {parts} parts. Join small ones."


def part(count: int) -> str:
    return f"Part {count}"


def the_model_has_more_than_triangles(triangles: int) -> str:
    return f"The model has more than {triangles:,} triangles. Simplify it first."


def the_model_has_more_than_points(points: int) -> str:
    return f"The model has more than {points:,} points. Simplify it first."


def broken(what: str) -> str:
    return f"The file is broken: {what}."


def this_is_a_glb(version: str) -> str:
    return f"This is a GLB of version {version}; export it again as glTF 2.0."


def the_file_is_cut(length: str, count: int) -> str:
    return f"The file is cut off: it says {length} bytes and has {count}. Copy it again."


def the_model_needs_which_is_not_read(strange: str) -> str:
    return f"The model needs {strange}, which is not read. Export it without that extension."


def the_model_keeps_in_another(what: str, uri: str) -> str:
    return (
        f"The model keeps {what} in another file ({uri}), which did not come with it. Export it as one .glb "
        "file, or bring the folder as one .zip."
    )


def the_model_has_parts(count: int, nodes: int) -> str:
    return f"The model has {count} parts; up to {nodes} are read. Join small ones."


def broken_its_description(lineno: int, colno: int) -> str:
    return f"The file is broken: its description cannot be read from line {lineno}, column {colno} on."


def its_are_not_what_gltf(name: str) -> str:
    return f"its {name} are not what glTF asks for"


def the_model_scatters_more_than_pieces(copies: int) -> str:
    return f"The model scatters more than {copies} pieces. Thin them out first."


def materials(count: int, words: str) -> str:
    return f"{count} {'material' if count == 1 else 'materials'}: {words}"


def material_number(number: int) -> str:
    return f"Material {number}"


def broken_two(twice: str) -> str:
    return f"The file is broken: two of its things have one number (#{twice}). Export it again."


def broken_its_unit(scale: float) -> str:
    return f"The file is broken: its unit of length is {scale:g} m."


def shape_of_parts_not_built(count: int, named: str) -> str:
    return f"The shape of {count} of its parts could not be built, and is left out: {named}"


def the_key_is_told(counted: str) -> str:
    return f"the key “{counted}” is told twice"


def it_has_where_a_number(json: str) -> str:
    return f"it has {json} where a number stands"


def what_it_tells_by_is_left(names: str) -> str:
    return f"What it tells by {names} is left out"


def of_its_scenes_the_one(count: int) -> str:
    return f"Of its {count} scenes the one it opens with is read"


def some_names_have_characters(stands_for_it: str) -> str:
    return f"Some names have characters that cannot be kept; {stands_for_it} stands in their place"


def broken_its_geometry(line: str | None) -> str:
    where = "" if line is None else f" at line {line}"
    return f"The file is broken{where}: its geometry cannot be read. Export it again."


def its_materials_did_not_come(line: str) -> str:
    return f"Its materials ({line}) did not come with it; bring both in one .zip"


def the_texture_did_not_come(diffuse_texname: str) -> str:
    return f"The texture {diffuse_texname} did not come with it"


def what_cuts_holes_is_another(alpha_texname: str) -> str:
    return f"What cuts holes ({alpha_texname}) is another picture than the colour's: left out"


def broken_its_header(words: str) -> str:
    return f"The file is broken: its header has a property that is none ({words})."


def broken_it_claims(rows: int, name: str) -> str:
    return f"The file is broken: it claims {rows:,} × {name}, more than it can hold."


def broken_its_header_has_a_line(line: str) -> str:
    return f"The file is broken: its header has a line that is none ({line})."


def this_is_not_a_model(kinds: str) -> str:
    return f"This is not a model that is read here. Bring {kinds}."


def this_is_not_whatever(what: str) -> str:
    return f"This is not {what}, whatever its name says. It may be cut off, or of another kind."


def broken_something(doing: str) -> str:
    return (
        f"The file is broken: something in it makes no sense, found while {doing}. Export it again, or in "
        "another format."
    )


def the_file_is_up_to_mb(size: str, limit: float) -> str:
    return (
        f"The file is {size}; up to {limit:.0f} MB are taken. Leave out what no shot sees, or make the "
        "textures smaller."
    )


def the_file_unpacks_to_more_than_gb(limit: float) -> str:
    return f"The file unpacks to more than {limit:.2g} GB. Simplify it first."


def the_file_needs_more_than_gb(memory: float) -> str:
    return f"The file needs more than {memory:.1f} GB to read. Simplify it first."


def the_file_took_longer(seconds: float) -> str:
    return f"The file took longer than {seconds:.0f} s to read and was given up. Try a simpler export."


def the_file_is_cut_off(count: int, header_bytes: int, count_2: int) -> str:
    return (
        f"The file is cut off: it says {count} triangles, which would be {header_bytes} bytes, and has "
        f"{count_2}. Copy it again."
    )


def the_model_would_be_km(extent: float, unit: str) -> str:
    return f"The model would be {extent:.0f} km across, read in {unit}. Check the units it is exported in."


def and_more_of_this_kind(count: int) -> str:
    return f"and {count} more of this kind"


def a_texture_is_pixels(width: int, height: int, picture_px: int) -> str:
    return (
        f"A texture is {width:,} × {height:,} pixels, more than the {picture_px} million that are read. Make "
        "it smaller."
    )


def textures_were(count: int) -> str:
    return f"{count} textures were"


def made_smaller_to_pixels(which: str, side: int, whole: float) -> str:
    return f"{which} made smaller, to {side:,} pixels a side: all of them had {whole:,.0f} million pixels"


def broken_or_cut(line: str | None) -> str:
    where = "" if line is None else f" near line {line}"
    return f"The file is broken or cut off{where}: OpenUSD makes no sense of it. Copy or export it again."


def the_stage_is_made(layers: int) -> str:
    return f"The stage is made of more than {layers} files. Flatten it to one."


def at_frame(at: float) -> str:
    return f"at frame {at:g}"


def what_moves_in_it_is_read(when: str) -> str:
    return f"What moves in it is read {when}"


def has_so_many_points(prim: str) -> str:
    return f"{prim} has so many points that their colours are shown as one, their mean"


def the_model_takes_a_part_from_elsewhere(asset: str) -> str:
    return f"The model takes a part from elsewhere ({asset}). Flatten it to one file."


def the_model_takes_a_part(asset: str) -> str:
    return f"The model takes a part from outside itself ({asset}). Flatten it to one file."


def the_model_takes_a_part_from_another(asset: str) -> str:
    return (
        f"The model takes a part from another file ({asset}), which did not come with it. Flatten it to one "
        "file, or bring the folder as one .zip."
    )


def does_not_tell_where_its_picture(prim: str) -> str:
    return f"{prim} does not tell where its picture lies on it"


def is_not_a_surface(kind: str) -> str:
    return f"{kind} is not a surface with a size and was left behind"


def display_colours(count: int) -> str:
    return f"Display colours {count}"


def the_picture_of_is_repeated(name: str) -> str:
    return f"The picture of {name} is repeated beyond its edge"


def the_material_is_no_preview(name: str) -> str:
    return f"The material {name} is no preview surface and comes in grey"


def what_cuts_holes_into_is_another(name: str) -> str:
    return f"What cuts holes into {name} is another picture than its colour's, and is left out"


def what_is_added_to_the_picture(name: str) -> str:
    return f"What is added to the picture of {name} (its bias) is left out"


def the_picture_of_the_of_is_left(words: str, name: str) -> str:
    return f"The picture of the {words} of {name} is left out"


def the_colour_of_is_worked(name: str, drawn: str) -> str:
    return f"The colour of {name} is worked out by {drawn}: it comes in grey"


def display_colour(count: int) -> str:
    return f"Display colour {count}"
