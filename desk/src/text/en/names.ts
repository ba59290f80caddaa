/** Words for the keys of the API that are read on the screen. */
export const names = {
  drawings: { plan: "plan", section: "section" },
  fisheyeLaws: { equidistant: "equidistant", equisolid: "equisolid", stereographic: "stereographic" },
  prints: { proof: "proof", stack: "stack", final: "final" },
  projections: { perspective: "perspective", parallel: "parallel", fisheye: "fisheye", cylindrical: "cylindrical" },
  qualities: { draft: "draft", good: "good", fine: "fine", glass: "glass" },
  sides: { left: "left", right: "right", top: "top", bottom: "bottom" },
};

export type DrawingKey = keyof typeof names.drawings;
export type SideKey = keyof typeof names.sides;
