/** Places on a dial, for drawing only: degrees clockwise from the top, in pixels from the centre. */
export function onDial(deg: number, radius: number): [number, number] {
  const a = (deg * Math.PI) / 180;
  return [radius * Math.sin(a), -radius * Math.cos(a)];
}

/** The dial reading of a place in pixels from the centre: degrees clockwise from the top, 0 to 360. */
export function dialReading(x: number, y: number): number {
  return ((Math.atan2(x, -y) * 180) / Math.PI + 360) % 360;
}
