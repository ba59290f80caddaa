import { useLength } from "../../kit/ruler";
import { degrees, millimetres } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

/** What a lens sees in one line: its focal length and angles, or how wide a parallel picture is. */
export function useLensWords({ shot, sheet }: ShotDesk): [string, string, string] {
  const length = useLength();
  const angle = sheet.lens.angle_deg;
  if (!angle) return [length(shot.lens.scale_m), text.lens.wideParallel, ""];
  if (shot.lens.projection !== "perspective")
    return [
      millimetres(shot.lens.focal_length_mm),
      `${text.names.projections[shot.lens.projection]} ${degrees(angle.horizontal)}`,
      "",
    ];
  return [millimetres(shot.lens.focal_length_mm), degrees(angle.horizontal), ` × ${degrees(angle.vertical)}`];
}
