import type { Sheet } from "../api/client";
import type { FrameRect } from "./frameRect";

export type Shade = NonNullable<Sheet["lens"]["shade"]>;

const painted = new Map<string, HTMLCanvasElement>();
const MOST_PAINTED = 8;

/** The small grey picture the sheet tells. */
function picture({ side, greys }: Shade): HTMLCanvasElement {
  const known = painted.get(greys);
  if (known) return known;
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = side;
  const brush = canvas.getContext("2d");
  const image = brush?.createImageData(side, side);
  if (brush && image) {
    const bytes = atob(greys);
    for (let n = 0; n < side * side; n++)
      image.data.set([bytes.charCodeAt(n), bytes.charCodeAt(n), bytes.charCodeAt(n), 255], 4 * n);
    brush.putImageData(image, 0, 0);
  }
  if (painted.size >= MOST_PAINTED) painted.delete(painted.keys().next().value!);
  painted.set(greys, canvas);
  return canvas;
}

/** Darkens the corners of a frame that is drawn on a canvas; `ratio`: the canvas's own pixels in one of CSS. */
export function darken(brush: CanvasRenderingContext2D, shade: Shade, frame: FrameRect, ratio: number) {
  brush.save();
  brush.globalCompositeOperation = "multiply";
  brush.imageSmoothingQuality = "high";
  // The first and last of its pixels lie on the frame's very edge.
  brush.drawImage(
    picture(shade),
    0.5,
    0.5,
    shade.side - 1,
    shade.side - 1,
    frame.left * ratio,
    frame.top * ratio,
    frame.width * ratio,
    frame.height * ratio,
  );
  brush.restore();
}
