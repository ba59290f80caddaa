import type { Outlines } from "../api/client";
import type { Eye, Point } from "./Paper";

/** Points in one list, from the number `first` to before `stop`, as a path. */
export function path(eye: Eye, flat: readonly number[], closed = false, first = 0, stop = flat.length): string {
  let d = "";
  for (let n = first; n + 1 < stop; n += 2) {
    const [x, y] = eye.at(flat[n] as number, flat[n + 1] as number);
    d += `${n > first ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
  }
  return closed ? `${d}Z` : d;
}

/** Many runs of points in one list as one path. */
export function paths(eye: Eye, { numbers, stops }: Outlines, closed: boolean): string {
  return stops.map((stop, n) => path(eye, numbers, closed, n ? stops[n - 1] : 0, stop)).join("");
}

/** Pixels a band behind a sheet is deep; what is shorter than three times that, as a leaf, has none. */
const BAND = 4;

/** A band to the right of many runs: what is solid lies there. */
export function bands(eye: Eye, { numbers, stops }: Outlines): string {
  return stops.map((stop, n) => band(eye, numbers, n ? (stops[n - 1] as number) : 0, stop)).join("");
}

function band(eye: Eye, numbers: readonly number[], first: number, stop: number): string {
  const points: Point[] = [];
  for (let n = first; n + 1 < stop; n += 2) {
    const point = eye.at(numbers[n] as number, numbers[n + 1] as number);
    const last = points.at(-1);
    // Points that fall on one pixel have no direction between them.
    if (!last || Math.hypot(point[0] - last[0], point[1] - last[1]) > 0.5) points.push(point);
  }
  const directions = points.slice(1).map(([x, y], n): Point => {
    const [fromX, fromY] = points[n] as Point;
    const long = Math.hypot(x - fromX, y - fromY);
    return [(x - fromX) / long, (y - fromY) / long];
  });
  const [from, to] = [points[0] as Point, points.at(-1) as Point];
  const spread = points.reduce((most, [x, y]) => Math.max(most, Math.abs(x - from[0]), Math.abs(y - from[1])), 0);
  if (directions.length === 0 || spread < 3 * BAND) return "";
  const round = directions.length > 2 && Math.hypot(from[0] - to[0], from[1] - to[1]) < 1;
  const behind = points.map(([x, y], n): Point => {
    const before = directions[n - 1] ?? ((round ? directions.at(-1) : directions[n]) as Point);
    const after = directions[n] ?? ((round ? directions[0] : before) as Point);
    // How far back the corner itself goes: no more than twice the band, where it is sharp. y goes down on the screen.
    const [mx, my] = [-(before[1] + after[1]), before[0] + after[0]];
    const k = (2 * BAND) / Math.max(mx * mx + my * my, 1);
    return [x + mx * k, y + my * k];
  });
  const joined = (points: Point[]) => points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L");
  return `M${joined(points)}L${joined(behind.reverse())}Z`;
}

/** Lines of four numbers each as one path. */
export function lines(eye: Eye, numbers: readonly number[]): string {
  let d = "";
  for (let n = 0; n + 3 < numbers.length; n += 4) d += path(eye, numbers, false, n, n + 4);
  return d;
}
