import * as THREE from "three";

/** A shot as it stands in space. */
export interface ShotMarker {
  at: number[];
  frame: number[][];
  colour: string;
  opacity: number;
  scale: number;
  /** Outlines: what is sharpest, then the ends of the sharp zone. */
  zone: number[][][];
}

/** How strongly what is sharpest is filled. */
const FILLED = 0.22;
const place = (at: number[]) => new THREE.Vector3(...(at as [number, number, number]));

/**
 * Where shots stand, as small frames in space, and the sharp zone of the one in hand. They are drawn, never met by a
 * pick.
 */
export class StandingShots {
  readonly group = new THREE.Group();
  private shown = "";

  show(shots: ShotMarker[]) {
    this.group.visible = shots.length > 0;
    if (shots.length === 0) return;
    const shown = JSON.stringify(shots);
    if (this.shown === shown) return;
    this.shown = shown;
    this.group.children.forEach((one) => {
      const drawn = one as THREE.Mesh;
      drawn.geometry.dispose();
      (drawn.material as THREE.Material).dispose();
    });
    this.group.clear();
    for (const shot of shots) {
      this.group.add(this.lines(frameOf(shot), shot));
      const [focus, ...ends] = shot.zone.map((outline) => outline.map(place));
      if (!focus) continue;
      const around = [focus, ...ends].flatMap((outline) =>
        outline.flatMap((corner, n) => [corner, outline[(n + 1) % outline.length]!]),
      );
      const [near, far] = ends;
      const between = near && far ? near.flatMap((corner, n) => [corner, far[n]!]) : [];
      this.group.add(this.lines([...around, ...between], shot), this.filled(focus, shot));
    }
  }

  private lines(points: THREE.Vector3[], { colour, opacity }: ShotMarker) {
    return new THREE.LineSegments(
      new THREE.BufferGeometry().setFromPoints(points),
      new THREE.LineBasicMaterial({ color: colour, transparent: opacity < 1, opacity, toneMapped: false }),
    );
  }

  private filled(outline: THREE.Vector3[], { colour, opacity }: ShotMarker) {
    const fan = outline.slice(2).flatMap((corner, n) => [outline[0]!, outline[n + 1]!, corner]);
    const material = new THREE.MeshBasicMaterial({
      color: colour,
      transparent: true,
      opacity: FILLED * opacity,
      side: THREE.DoubleSide,
      depthWrite: false,
      toneMapped: false,
    });
    return new THREE.Mesh(new THREE.BufferGeometry().setFromPoints(fan), material);
  }
}

/** The lens with its frame before it, and a tip above that. */
function frameOf({ at, frame, scale }: ShotMarker): THREE.Vector3[] {
  const lens = place(at);
  const corners = frame.map((corner) => place(corner).sub(lens).multiplyScalar(scale).add(lens));
  const points = corners.flatMap((corner, n) => [lens, corner, corner, corners[(n + 1) % corners.length]!]);
  const top = corners[2]!.clone().add(corners[3]!).multiplyScalar(0.5);
  const tip = top
    .clone()
    .add(top.clone().sub(corners[0]!.clone().add(corners[1]!).multiplyScalar(0.5)).multiplyScalar(0.3));
  return [...points, corners[2]!, tip, tip, corners[3]!];
}
