"""Focus, sharp zone, stacks, probes."""

FOCUS_AND_STOP = "Focus and stop"
ONE_PICTURE = "one picture"
ONE_PICTURE_ALONE = "One picture."
SOME_OF_THAT_LIES = "Some of that lies beside or behind the camera."
TILTED = "tilted"
SWUNG = "swung"
A_STACK = "A stack"
TELL_EXACTLY_ONE_OF_BACK = "Tell exactly one of back_mm, farther_m, tilted and stacked_at."
WHAT_IS_TO_BE_SHARP_IS_TOLD = "What is to be sharp is told by points, or by near_m and far_m."
THE_NEAR_END_HAS_TO_LIE = "The near end has to lie before the far one."
A_LENS_IS_TILTED = "A lens is tilted for points; tell them."
THAT_LIES_BEHIND_THE_CAMERA = "That lies behind the camera, or nearer than the lens can focus; move the camera first."
THERE_THE_PLANE_OF_FOCUS = "There the plane of focus would cross the lens axis beyond infinity; turn the lens less."
FRONT_SHARP = "front sharp"
BACK_SHARP = "back sharp"
PAIR_NEEDS_A_STOP = "Everything is sharp already; a pair needs a stop."
BOTH_LIE_EQUALLY_FAR = "Both lie equally far along the lens axis: one focus does for both."
A_PAIR_IS_TOLD = "a pair is told by pressed_at, or by part_at"
BEFORE = "before"
BEHIND_THE_CAMERA = "behind the camera"
OUTSIDE_THE_FRAME = "outside the frame"
BEFORE_WHAT_IS_SHARP = "before what is sharp"
THAT_PROBE_IS_NOT_THERE_ANY_MORE = "That probe is not there any more."
KEPT_SHARP = "kept sharp"
NOT_IN_THE_SET = "not in the set any more"
LEFT_OUT_OF_THIS_SHOT = "left out of this shot"
BEHIND_THE_CAMERA_OR_TOO = "behind the camera, or too near"
HIDDEN_BY_SOMETHING_BEFORE = "hidden by something before it"
A_POINT_OF = "a point of {}"
WHAT_OF_IS_NEAREST = "what of {} is nearest"
THE_MIDDLE_OF = "the middle of {}"
ALL_BEHIND_THE_FOCUS = "All behind the focus is sharp, to infinity."
THE_FOCUS_FOLLOWS_NOTHING = "the focus follows nothing"
BLUR_JUDGED_OTHERWISE = "blur judged otherwise"
OTHER_BLUR_SHAPE = "other blur shape"
ANOTHER_STACK = "another stack"
A_STACK_OF_PICTURES = "a stack of pictures"
STACK_NEEDS_A_STOP = "Everything is sharp already; a stack needs a stop."
FOCUS_BREATHES_TURN_THAT_OFF = "Focus breathes: turn that off to merge them."
THIS_SHOT_HAS_NO_STACK = "This shot has no stack of pictures; plan one in Focus."
FOCUS_BREATHES_SO_THAT_EACH = (
    "Focus breathes, so that each picture of the stack is framed otherwise; turn breathing off."
)
ONE_PICTURE_IS_SHARP = "One picture is sharp all over that."
ALL_OF_THAT_LIES = "All of that lies as good as at infinity: one picture does."
WHAT_THE_STACK_COVERS = "What the stack covers is told by points, or by pressed_at."
IN_A_PARALLEL_PICTURE = "In a parallel picture everything is sharp."
SOME_OF_THAT_LIES_BESIDE = "Some of that lies beside or behind the camera, where nothing can be sharp."
THIS_LENS_DRAWS_NOTHING = "This lens draws nothing in the frame that could be sharp."
WHAT_IS_TO_BE_SHARP = "What is to be sharp is told by points, or by pressed_at."
THERE_IS_NO_SUCH_PART = "There is no such part in this set, or nothing in it to be sharp."
HYPERFOCAL_NEEDS_A_STOP = "Everything is sharp already; a hyperfocal distance needs a stop."
WHAT_IS_SHARP_AND_WHAT_IS_SOFT = "What is sharp and what is soft are told by two points, or by pressed_at."
BOTH_LIE_EQUALLY_FAR_ALONG = (
    "Both lie equally far along the lens axis; no stop makes one of them softer than the other."
)
EVERYTHING_IS_SHARP_CHOOSE = "Everything is sharp; choose a stop first."
SO_FAR_OFF_THE_SHARP = "So far off the sharp zone would begin beyond infinity; drag its near end to a nearer place."
SMALLEST = "smallest"
WIDEST = "widest"
THE_FAR_END_OF_THE_SHARP = "The far end of the sharp zone stays behind its near end."


def enlarged_times_for_it_and_flatter(larger: float, made: str) -> str:
    return f"enlarged {larger:.3g} times for it, and flatter; {made}"


def sharp_in_a_wedge(made: str) -> str:
    return f"sharp in a wedge about that plane alone; {made}"


def pictures(count: int) -> str:
    return f"{count} pictures"


def mm_sees_as_much(focal_length_mm: float) -> str:
    return f"{focal_length_mm:.3g} mm sees as much on it"


def a_stand_farther_back(by_m: str) -> str:
    return f"A stand {by_m} farther back"


def the_lens(which: str, angle: float) -> str:
    return f"The lens {which} {angle:.1f}°"


def to_be_made_and_merged(many: str, made: str) -> str:
    return f"{many} to be made and merged; {made}"


def a_back_of_mm(name: str) -> str:
    return f"A back of {name} mm"


def what_is_sharp(beyond: str, what: str) -> str:
    return f"{beyond} {what} what is sharp"


def a_shot_holds_up_to_probes(probes: int) -> str:
    return f"A shot holds up to {probes} probes; take one away first."


def stopped_down_like_this_diffraction(airy: float) -> str:
    return f"Stopped down like this, diffraction alone blurs {airy:.1f} px, over the limit."


def focus(distance_m: str) -> str:
    return f"focus {distance_m}"


def behind_the_focus_it_stays(behind: float) -> str:
    return f"Behind the focus it stays sharp {behind:.1f} times as far as before it; farther off, more so."


def this_close(scale: float, f_number: float, reckoned: bool) -> str:
    exposure = ", which the exposure reckons with" if reckoned else ""
    return f"This close, at 1 : {scale:.2g}, depth is short, and the stop works as f/{f_number:.3g}{exposure}."


def the_focus_follows(follow: str) -> str:
    return f"the focus follows {follow}"


def stack_of_pictures(count: str, nearest: str, farthest: str, overlap: float) -> str:
    return (
        f"{count} pictures, focused from {nearest} to {farthest}, each overlapping the one before by {overlap:.3g} %."
    )


def nearer_than_the_lens(begins: str) -> str:
    return f"Nearer than {begins} the lens is sharp in none."


def more_than(frames: int) -> str:
    return f"over {frames}"


def that_stack_takes_pictures(count: str, printed: int) -> str:
    return f"That stack takes {count} pictures, and at most {printed} are printed; stop down, or cover less."


def at_this_stop_the_lens(begins: float) -> str:
    return f"At this stop the lens is sharp no nearer than {begins:.3g} m along its axis; move the camera back."


def the_lens_focuses_no_nearer(nearest: float) -> str:
    return f"The lens focuses no nearer than {nearest:.3g} m along its axis; move the camera back."


def that_takes_and_the_smallest(focus: str, focus_2: str) -> str:
    return (
        f"That takes {focus}, and the smallest stop is {focus_2}; so far both ends are equally soft. A "
        "smaller back, a stand farther off, tilt or a stack of pictures may get it sharp."
    )


def with_the_lens_turned(focus: str) -> str:
    return (
        "With the lens turned like this infinity is not sharp all over the frame at this stop; it takes "
        f"{focus}, or less tilt."
    )


def wide_open_at_it_is_px(focus: str, most: float) -> str:
    return (
        f"Wide open, at {focus}, it is {most:.3g} px soft and no more: a longer lens, a larger back or more "
        "room between the two makes it softer."
    )


def even_at_the_smallest(focus: str, most: float) -> str:
    return (
        f"Even at the smallest stop, {focus}, it is {most:.3g} px soft: a shorter lens, a smaller back or "
        "less room between the two makes it sharper."
    )


def that_is_as_far(focus: str, which: str) -> str:
    return f"That is as far as it goes: {focus} is the {which} stop."
