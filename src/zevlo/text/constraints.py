"""Why the picture cannot stay as it is, or a thing cannot stay where it is in it."""

MORE_THAN_ANY = "more than any"
ONLY_A_LENS_IN_PERSPECTIVE = "Only a lens in perspective can be tilted; choose that projection first."
THAT_PLANE_DOES_NOT_CROSS = "That plane does not cross the lens axis before the camera; aim the camera at it."
THE_STAND_IS_AT_THE_POINT = "The stand is at the point it follows; move it away first, or let go of the point."
FROM_HERE_THE_POINT = "From here the point cannot keep its place in the frame; let go of it, or move less."
THAT_WOULD_LOOK_STRAIGHT = "That would look straight up or down; let go of the point, or move less."
SO_NEAR_THE_POINT = "So near, the point cannot keep its place in the frame; let go of it."
WHAT_THE_MIDDLE_OF_THE_FRAME = "What the middle of the frame sees does not lie before the camera."
NO_LENS_KEEPS_THE_ANGLE = "No lens keeps the angle of view on that back; let the lens stay, or take another back."
A_FISHEYE_BENDS_UPRIGHTS = "A fisheye bends uprights whatever the camera does; choose perspective first."
IN_A_PARALLEL_PICTURE = "In a parallel picture nothing converges; choose an elevation, or square before a face."
NO_FILM_CAN_BE_SHIFTED = "No film can be shifted that far: what the middle of the frame sees lies too far off the axis."
THAT_FACE_LIES_LEVEL = "That face lies level, as floors and ceilings do; press a wall."
THE_CAMERA_LOOKS_STRAIGHT = "The camera looks straight up or down, to no wall; turn it towards one first."
THE_CAMERA_LOOKS_ALONG = "The camera looks along that wall; stand where you see more of its face."
WITH_UPRIGHTS_KEPT_TRUE = "With uprights kept true the point cannot keep its place in the frame; let go of it."
THAT_WOULD_LOOK_STRAIGHT_UP_OR_DOWN = "That would look straight up or down; turn the camera by hand."


def that_takes_a_shutter(exposure: str, exposure_2: str) -> str:
    return (
        f"That takes a shutter of {exposure}; {exposure_2} is as far as one goes, so that the picture comes "
        "otherwise exposed."
    )


def the_lens_would_have_to_be_turned(angle: str, most: float) -> str:
    return (
        f"The lens would have to be turned {angle}; it goes to {most:g}°. This is as far as it goes: a "
        "shorter lens, or a stand farther above the plane, needs less."
    )


def that_plane_crosses_the_lens(nearest: float) -> str:
    return f"That plane crosses the lens axis nearer than the lens can focus, {nearest:.3g} m."


def has_nothing_in_it_to_aim(name: str) -> str:
    return f"“{name}” has nothing in it to aim at."


def a_lens_of_mm(focal_length_mm: float, nearest_focus_m: float) -> str:
    return f"A lens of {focal_length_mm:.3g} mm focuses no nearer than {nearest_focus_m:.3g} m."


def that_would_be_enlarged(enlarge: float, enlarged: float) -> str:
    return f"That would be enlarged {enlarge:.3g} times; it goes from 1 to {enlarged:g}."


def a_lens_of_mm_would_have_to_be_turned(focal_length_mm: float, most: float) -> str:
    return (
        f"A lens of {focal_length_mm:.3g} mm would have to be turned farther than {most:.3g}° to be sharp on "
        "the same plane."
    )
