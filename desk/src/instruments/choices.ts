import type { ShotGesture } from "../api/client";
import type { Softness } from "../stage/softness";
import { useRemembered } from "../kit/remembered";

type Gesture<K> = Extract<ShotGesture, { kind: K }>;

/** What stays when back or size changes: the lens, or the angle of view. */
export const usePeg = () => useRemembered<NonNullable<Gesture<"focal_keep">["what"]>>("zevlo-peg", "lens");

/** What gives way where a side is pulled beyond the whole frame; null: nothing, it stops there. */
export const useGives = () => useRemembered<Gesture<"edge_to">["gives"]>("zevlo-gives", null);

/** Whether the ratio of the picture is held while one of its sides is typed. */
export const useRatioHeld = () => useRemembered("zevlo-ratio-held", true);

/** The crop that is taken hold of in the finder. */
export const useCropInHand = () => useRemembered<string | null>("zevlo-crop", null);

/** How the finder tells where a picture is soft. */
export const useSoftness = () => useRemembered<"none" | Softness>("zevlo-softness", "none");

/** Whether a side of the wedge in plan is pulled alone. */
export const useOneSide = () => useRemembered("zevlo-one-side", false);
