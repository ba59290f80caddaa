// Made by limits.js from what the API says of itself; see docs/architecture.md, Types.

export const AimAtSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const AimDistance = {
  distance_m: { min: 0.001, max: 1000000 },
};

export const AimTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const AngleTo = {
  angle_deg: { min: 0.5, max: 360 },
};

export const AskScout = {
  ratio: { above: 0.05, below: 20 },
};

export const Back = {
  width_mm: { min: 0.5, max: 2000, words: "Width of the film." },
  height_mm: { min: 0.5, max: 2000, words: "Height of the film." },
  output_px: { min: 1, max: 32768, words: "Width and height of the picture, before trimming." },
  enlarge: { min: 1, max: 100, words: "How many times the picture is enlarged out of the fitted back." },
  dpi: { min: 10, max: 4800, words: "Pixels per inch of a print on paper; no picture is other for it." },
  bleed_mm: { min: 0, max: 100, words: "What a printer cuts off each side of such a print, part of the picture until then." },
};

export const BeforeStraightening = {
  rise_mm: { min: -1000, max: 1000 },
  cross_mm: { min: -1000, max: 1000 },
  roll_deg: { min: -180, max: 180 },
};

export const BendTo = {
  corner: { min: -0.25, max: 1, words: "Below 0 a barrel, which draws the corner nearer to the middle." },
};

export const BlurLimit = {
  px: { min: 0.0001, max: 1000, words: "Pixels of the picture." },
  mm: { min: 0.000001, max: 10, words: "Millimetres on the film." },
  diagonal_over: { min: 10, max: 100000, words: "The back's diagonal divided by this." },
  print_width_mm: { min: 1, max: 100000, words: "Width of a print on which nothing unsharp is to be seen." },
  seen_from_mm: { min: 1, max: 1000000, words: "From how far it is seen." },
};

export const BoundOnPaper = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const ContactSheet = {
  columns: { min: 1, max: 8, words: "Of a grid: how many beside each other." },
  dpi: { min: 50, max: 600, words: "Of PNG." },
};

export const Crop = {
  output_px: { min: 1, max: 32768, words: "Width and height of its picture." },
  size: { min: 0.0001, max: 1, words: "Share of the largest of its ratio that the frame holds." },
  at: { min: 0, max: 1, words: "Where it lies in what is left over: shares from the left and from the bottom." },
};

export const CropBy = {
  right: { min: -20, max: 20 },
  up: { min: -20, max: 20 },
};

export const CropCorner = {
  to: { min: -20, max: 20 },
};

export const CropSize = {
  output_px: { min: 1, max: 32768 },
};

export const CutAtWall = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const CuttingLine = {
  start: { min: -1000000, max: 1000000 },
  end: { min: -1000000, max: 1000000 },
};

export const CuttingTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const Distortion = {
  k1: { min: -10000, max: 10000, words: "How much by the square of the distance from the middle: below 0 a barrel, above it a pincushion." },
  k2: { min: -10000, max: 10000, words: "By its fourth power." },
  k3: { min: -10000, max: 10000, words: "By its sixth power." },
  p1: { min: -10000, max: 10000, words: "As glasses do that sit too high or too low." },
  p2: { min: -10000, max: 10000, words: "As glasses do that sit too far aside." },
};

export const Dolly = {
  factor: { above: 0.01, below: 100 },
};

export const EdgeTo = {
  to: { min: -20, max: 20 },
};

export const EndTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
  z: { min: -1000000, max: 1000000 },
};

export const EnlargeInstead = {
  focal_length_mm: { min: 1, max: 5000 },
};

export const EverythingSharp = {
  from_m: { max: 10000000, above: 0 },
};

export const Exposure = {
  shutter_s: { min: 0.000001, max: 36000, words: "How long the shutter is open." },
  iso: { min: 1, max: 1000000, words: "Film speed." },
};

export const Face = {
  heading_deg: { min: -3600, max: 3600, words: "Degrees clockwise from the set's north." },
  pitch_deg: { min: -89.9, max: 89.9 },
};

export const FaceOn = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const Facing = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const Falloff = {
  mechanical: { min: 0, max: 1, words: "Share of the wide open pupil that the rim of the barrel hides from the corner; gone as it is stopped down." },
  open_f_number: { min: 0.5, max: 512, words: "The stop at which the lens is wide open." },
};

export const Figure = {
  at: { min: -1000000, max: 1000000 },
  turn_deg: { min: -3600, max: 3600 },
  height_m: { min: 0.5, max: 2.5 },
  seat_m: { min: 0.1, max: 1.2, words: "Height of what it sits on." },
};

export const FocalKeep = {
  width_mm: { min: 0.5, max: 2000 },
  height_mm: { min: 0.5, max: 2000 },
  enlarge: { min: 1, max: 100 },
  output_px: { min: 1, max: 32768 },
  wide_px: { min: 1, max: 32768 },
  high_px: { min: 1, max: 32768 },
  paper_mm: { min: 1, max: 10000 },
  dpi: { min: 10, max: 4800 },
  bleed_mm: { min: 0, max: 100 },
};

export const Focus = {
  distance_m: { max: 10000000, above: 0, words: "Distance of what is sharpest, along the lens axis." },
  f_number: { min: 0.5, max: 512, words: "The stop; null: everything sharp, as a pinhole draws." },
  blades: { min: 0, max: 32, words: "Blades of the stop that shape the blur; under three it is round." },
  blade_rotation_deg: { min: -360, max: 360, words: "How far the blades are turned." },
  rim_weight: { min: -1, max: 1, words: "Brighter rim of the blur, or below zero a brighter middle." },
  squeeze: { min: 0, max: 0.95, words: "Share of the blur's disc that the edge of the barrel hides in the corner of the back; the picture is as bright\nfor that." },
};

export const FocusAt = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const FocusOnBarrel = {
  at: { min: -10, max: 10 },
};

export const FocusOnPaper = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const FocusPair = {
  pressed_at: { min: 0, max: 1, words: "Places in the frame at which something is seen, (0, 0) bottom left." },
  part_at: { min: 0, max: 1, words: "A place at which the part is seen that is to be sharp in front in one, and at its back in the other." },
};

export const FocusPlaneOn = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const FocusPlaneOnPaper = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const FocusPlaneThrough = {
  points: { min: -1000000, max: 1000000, words: "Metres in the world." },
  pressed_at: { min: 0, max: 1, words: "Places in the frame, (0, 0) bottom left; instead of points." },
};

export const FocusTo = {
  distance_m: { max: 10000000, above: 0 },
};

export const FollowAim = {
  point: { min: -1000000, max: 1000000, words: "Metres in the world." },
  at: { min: -4, max: 5, words: "Its place in the frame, (0, 0) bottom left to (1, 1)." },
};

export const FollowFocus = {
  point: { min: -1000000, max: 1000000, words: "Metres in the world: what is sharp, as it was found last." },
};

export const FollowFocusSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const FollowSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const Format = {
  width_mm: { min: 0.5, max: 2000, words: "Width of the film." },
  height_mm: { min: 0.5, max: 2000, words: "Height of the film." },
};

export const Formats = {
  jpeg: { min: 1, max: 100, words: "Quality of a JPEG; null: none." },
};

export const FromPlan = {
  stand: { min: -1000000, max: 1000000 },
  aim: { min: -1000000, max: 1000000 },
};

export const Grip = {
  by: { min: -10000, max: 10000 },
};

export const Guides = {
  margin: { max: 0.45, above: 0, words: "A frame within the frame, by this share of its width and height; null: none." },
};

export const Habits = {
  lens_m: { min: -100, max: 1000 },
  aim_m: { min: -100, max: 1000 },
  step_m: { min: 0.0001, max: 10, words: "One move of a grip; null: as the set's size has it." },
  step_deg: { min: 0.01, max: 90 },
};

export const HeightPair = {
  lens_m: { min: -100, max: 1000 },
  aim_m: { min: -100, max: 1000 },
};

export const HeightTo = {
  z: { min: -1000000, max: 1000000 },
  above_floor: { min: -1000, max: 10000 },
};

export const HingeOnPaper = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const Inside = {
  output_px: { min: 1, max: 32768 },
};

export const LeaveOutSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const Lens = {
  focal_length_mm: { min: 1, max: 5000, words: "Focal length." },
  near_m: { min: 0.000001, max: 100000, words: "Nothing nearer than this is drawn, along the lens axis." },
  far_m: { min: 0.000001, max: 10000000, words: "Nothing farther than this is drawn, along the lens axis; null is no bound." },
  scale_m: { min: 0.0001, max: 1000000, words: "Of a parallel picture alone: metres across the width of the fitted back, before trim and enlarge, at any\ndistance." },
};

export const Level = {
  floor_m: { min: -1000000, max: 1000000 },
};

export const Longest = {
  px: { min: 1, max: 32768 },
};

export const Look = {
  right: { min: -20, max: 20 },
  up: { min: -20, max: 20 },
};

export const LookAt = {
  at: { min: -1000000, max: 1000000 },
  size_m: { max: 1000000, above: 0 },
};

export const Mark = {
  height_m: { min: -100, max: 1000 },
};

export const Movements = {
  rise_mm: { min: -1000, max: 1000, words: "Up is positive: it shows more of what is above." },
  cross_mm: { min: -1000, max: 1000, words: "To the right is positive." },
  tilt_deg: { min: -45, max: 45, words: "Turn of the lens about the level axis: positive lays the plane of sharp focus towards the ground, its hinge below\nthe lens." },
  swing_deg: { min: -45, max: 45, words: "Turn of the lens about the upright axis, after the tilt: positive puts the hinge to the left." },
  image_circle_mm: { min: 0.1, max: 5000, words: "Diameter of what the lens draws; null is no bound." },
  tilt_limit_deg: { min: 0, max: 45, words: "How far the lens can be turned in all; null is no bound." },
};

export const NewLevel = {
  floor_m: { min: -1000000, max: 1000000 },
};

export const NewStandIn = {
  at: { min: -1000000, max: 1000000 },
  seen_from: { min: -1000000, max: 1000000 },
};

export const OnSeen = {
  x: { min: 0, max: 1 },
  y: { min: 0, max: 1 },
};

export const Opening = {
  point: { min: -1000000, max: 1000000, words: "A place it goes through." },
  normal: { min: -1000000, max: 1000000, words: "Which way it points; how long that is does not matter." },
};

export const Orbit = {
  right: { min: -20, max: 20 },
  up: { min: -20, max: 20 },
};

export const Panel = {
  at: { min: -1000000, max: 1000000 },
  turn_deg: { min: -3600, max: 3600 },
  width_m: { min: 0.02, max: 100 },
  height_m: { min: 0.02, max: 100 },
  tilt_deg: { min: -90, max: 90 },
  luminance_cd_m2: { min: 0, max: 10000000 },
};

export const PartSharpSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const Pick = {
  x: { min: 0, max: 1 },
  y: { min: 0, max: 1 },
};

export const PictureSize = {
  output_px: { min: 1, max: 32768, words: "Width and height." },
};

export const PinProbe = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
};

export const PinnedProbe = {
  point: { min: -1000000, max: 1000000 },
};

export const Placing = {
  metres_per_unit: { min: 0.000001, max: 10000 },
  turn_deg: { min: -360, max: 360 },
  moved_m: { min: -1000000000000, max: 1000000000000 },
};

export const PlacingChange = {
  metres_per_unit: { min: 0.000001, max: 10000 },
  turn_deg: { min: -360, max: 360 },
};

export const Plans = {
  scale: { min: 0.02, max: 1000000, words: "How many times larger the set is; null: as large as the paper holds." },
};

export const ProbeAway = {
  n: { min: 0, below: 10000 },
};

export const ProjectChange = {
  plan_height: { min: -10000, max: 10000 },
};

export const Quality = {
  least: { min: 1, words: "Samples a pixel has everywhere." },
  samples: { min: 1, words: "Samples a pixel has at most, where noise is left." },
  bounces: { min: 1, words: "How often light is followed from one surface to the next." },
  noise: { above: 0, words: "Noise aimed at before cleaning, in steps of 255." },
};

export const ScaleTo = {
  over: { min: 0.001, max: 1000000 },
};

export const Scaled = {
  times: { min: 0.01, max: 10 },
};

export const Scout = {
  focal_length_mm: { min: 8, max: 400 },
};

export const ScoutPicture = {
  ratio: { above: 0.05, below: 20 },
};

export const SharpAnyhow = {
  near_m: { max: 10000000, above: 0, words: "Instead of points: from here along the lens axis." },
  far_m: { max: 10000000, above: 0, words: "To there; null: to infinity." },
  back_mm: { min: 0.5, max: 2000, words: "The back instead, its lens so much shorter that as much is seen." },
  farther_m: { max: 100000, above: 0, words: "The stand so much farther back along the lens axis, the picture enlarged for it." },
  stacked_at: { min: 0.5, max: 512, words: "A stack at this stop." },
};

export const SharpBetween = {
  near_m: { max: 10000000, above: 0 },
  far_m: { max: 10000000, above: 0 },
};

export const SharpOnPaper = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const SharpTo = {
  distance_m: { max: 10000000, above: 0 },
};

export const ShiftTo = {
  rise: { min: -1000, max: 1000 },
  cross: { min: -1000, max: 1000 },
};

export const SideTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const Site = {
  north_deg: { min: -360, max: 360 },
  latitude_deg: { min: -90, max: 90 },
  longitude_deg: { min: -180, max: 180 },
};

export const Sky = {
  luminance_cd_m2: { min: 0, max: 100000 },
};

export const SoftWhileSharp = {
  sharp: { min: -1000000, max: 1000000 },
  soft: { min: -1000000, max: 1000000 },
  pressed_at: { min: 0, max: 1, words: "Places in the frame at which both are seen, the sharp one first; instead of points." },
  px: { max: 10000, above: 0 },
};

export const SquareOn = {
  normal: { min: -1000000, max: 1000000 },
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
  amount: { min: 0, max: 1, words: "How much of the way it is turned." },
};

export const Stack = {
  from_m: { max: 10000000, above: 0, words: "Where the first of them is sharp from, along the lens axis." },
  to_m: { max: 10000000, above: 0, words: "Where the last is sharp to, at least." },
  overlap: { min: 0, max: 0.9, words: "Share of each sharp zone that lies within the one before." },
};

export const StackBetween = {
  near_m: { max: 10000000, above: 0 },
  far_m: { max: 10000000, above: 0 },
  overlap: { min: 0, max: 0.9 },
};

export const StackPartSeen = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
  overlap: { min: 0, max: 0.9 },
};

export const StackPoints = {
  overlap: { min: 0, max: 0.9 },
};

export const Stand = {
  position: { min: -1000000, max: 1000000, words: "The lens, metres in the world." },
  aim: { min: -1000000, max: 1000000, words: "A point on the lens axis, metres in the world." },
  roll_deg: { min: -180, max: 180, words: "Degrees clockwise about the lens axis, seen from behind the camera." },
  above_floor_m: { min: -1000, max: 10000, words: "The stand stays this high above the floor found under it; null lets its height be free." },
};

export const StandBehind = {
  x: { min: 0, max: 1, words: "Share of the frame's width from its left edge." },
  y: { min: 0, max: 1, words: "Share of the frame's height from its bottom edge." },
  distance_m: { min: 0.001, max: 10000, words: "How far from the face that was pressed." },
};

export const StandTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const StopByBracket = {
  at: { min: -10, max: 10 },
};

export const StopTo = {
  f_number: { min: 0.5, max: 512 },
};

export const Straighten = {
  amount: { min: 0, max: 1 },
};

export const Sun = {
  height_deg: { min: -90, max: 90 },
  heading_deg: { min: -360, max: 360, words: "Where it shines from, clockwise from north." },
  illuminance_lx: { min: 0, max: 200000 },
};

export const Sweep = {
  at: { min: -1000000, max: 1000000 },
  turn_deg: { min: -3600, max: 3600 },
  width_m: { min: 0.02, max: 100 },
  floor_m: { min: 0.02, max: 100 },
  bend_m: { min: 0.02, max: 100 },
  back_m: { min: 0.02, max: 100 },
};

export const ToPlan = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const ToSection = {
  origin: { min: -1000000, max: 1000000 },
  heading_deg: { min: -3600, max: 3600 },
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};

export const Trim = {
  left: { min: 0, below: 1, words: "Share of the width taken off at the left." },
  right: { min: 0, below: 1, words: "Share of the width taken off at the right." },
  top: { min: 0, below: 1, words: "Share of the height taken off at the top." },
  bottom: { min: 0, below: 1, words: "Share of the height taken off at the bottom." },
};

export const TrimRatio = {
  wide: { min: 1, max: 32768 },
  high: { min: 1, max: 32768 },
};

export const Truck = {
  right: { min: -20, max: 20 },
  up: { min: -20, max: 20 },
};

export const TrueFromElsewhere = {
  back_m: { min: 0, max: 100000 },
  up_m: { min: -10000, max: 10000 },
};

export const TurnBy = {
  pan_deg: { min: -360, max: 360 },
  tilt_deg: { min: -180, max: 180 },
  roll_deg: { min: -360, max: 360 },
};

export const TurnLens = {
  tilt_deg: { min: -45, max: 45 },
  swing_deg: { min: -45, max: 45 },
};

export const Walk = {
  ahead: { min: -1000, max: 1000 },
  right: { min: -1000, max: 1000 },
  up: { min: -1000, max: 1000 },
};

export const WedgeTo = {
  x: { min: -1000000, max: 1000000 },
  y: { min: -1000000, max: 1000000 },
};
