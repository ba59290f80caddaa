/** Where the frame lies in the canvas, in CSS pixels from its top left. */
export interface FrameRect {
  left: number;
  top: number;
  width: number;
  height: number;
}
