import * as THREE from "three";
import type { Sheet } from "../api/client";
import type { FrameRect } from "./frameRect";

export type LensGrid = NonNullable<Sheet["lens"]["grid"]>;

/**
 * Faces of a cube: where each looks, what is to the right and up on it, in the camera's axes (to the right, up,
 * towards the viewer), and its place among the others.
 */
const FACES: { look: Axis; right: Axis; up: Axis; at: [number, number] }[] = [
  { look: [0, 0, -1], right: [1, 0, 0], up: [0, 1, 0], at: [0, 0] },
  { look: [1, 0, 0], right: [0, 0, 1], up: [0, 1, 0], at: [1, 0] },
  { look: [-1, 0, 0], right: [0, 0, -1], up: [0, 1, 0], at: [2, 0] },
  { look: [0, 0, 1], right: [-1, 0, 0], up: [0, 1, 0], at: [0, 1] },
  { look: [0, 1, 0], right: [1, 0, 0], up: [0, 0, 1], at: [1, 1] },
  { look: [0, -1, 0], right: [1, 0, 0], up: [0, 0, -1], at: [2, 1] },
];
type Axis = [number, number, number];
export type FaceAxes = (typeof FACES)[number];
const [COLUMNS, ROWS] = [3, 2];
/** Half of a face's angle of view, as a tangent: a little over a quarter turn, so that no seam is seen. */
const HALF = 1.03;
const [SMALLEST, LARGEST] = [64, 2048];
const WHOLE = 32767,
  ONE = 1024;
/** Cosine of how far beside the middle of a face a direction may end: past its corners. */
const BESIDE = 0.35;

/**
 * Where the frame lies on a canvas, in CSS pixels; how many of its own are in one; whether what lies around is shown.
 */
export interface Canvas {
  frame: FrameRect;
  width: number;
  height: number;
  ratio: number;
  around: boolean;
}

/** `looks`: where to, and how many times as wide as in the middle blur is drawn there; 0 where nothing is. */
export const DIRECTION_VERTEX = `
  attribute vec4 direction;
  varying vec4 looks;
  void main() { looks = direction; gl_Position = vec4(position.xy, 0.0, 1.0); }
`;
/** Where on the faces a direction ends. */
export const FACE_LOOKUP = `
  vec2 placed(vec2 on, vec2 at) { return (at + 0.5 + 0.5 * on / ${HALF.toFixed(4)}) / vec2(${COLUMNS}.0, ${ROWS}.0); }
  vec2 on_faces(vec3 w) {
    vec3 size = abs(w);
    vec2 at;
    if (size.z >= size.x && size.z >= size.y) at = w.z < 0.0 ? placed(vec2(w.x, w.y) / size.z, vec2(0.0, 0.0)) : placed(vec2(-w.x, w.y) / size.z, vec2(0.0, 1.0));
    else if (size.x >= size.y) at = w.x > 0.0 ? placed(vec2(w.z, w.y) / size.x, vec2(1.0, 0.0)) : placed(vec2(-w.z, w.y) / size.x, vec2(2.0, 0.0));
    else at = w.y > 0.0 ? placed(vec2(w.x, w.z) / size.y, vec2(1.0, 1.0)) : placed(vec2(w.x, -w.z) / size.y, vec2(2.0, 1.0));
    return at;
  }
`;
const FRAGMENT = `
  uniform sampler2D faces;
  uniform vec3 sky;
  uniform vec3 around;
  varying vec4 looks;
  ${FACE_LOOKUP}
  void main() {
    vec4 met = texture2D(faces, on_faces(looks.xyz));
    gl_FragColor = vec4(met.rgb / max(met.a, 0.001), 1.0);
    #include <tonemapping_fragment>
    #include <colorspace_fragment>
    gl_FragColor.rgb = mix(sky, gl_FragColor.rgb, clamp(met.a, 0.0, 1.0));
    if (looks.w < 0.5) gl_FragColor.rgb = around;
  }
`;

/**
 * Pictures no matrix can say: the faces of a cube, drawn as plain pictures and pulled through the grid of ways the
 * sheet tells.
 */
export class Pulled {
  private readonly faces = new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.HalfFloatType,
    samples: 4,
    generateMipmaps: false,
  });
  private readonly geometry = new THREE.BufferGeometry();
  private readonly material: THREE.ShaderMaterial;
  private readonly mesh: THREE.Mesh<THREE.BufferGeometry, THREE.Material>;
  private readonly scene = new THREE.Scene();
  private readonly flat = new THREE.Camera();
  private readonly face = new THREE.Camera();
  private pulledBy: LensGrid | null = null;

  constructor(sky: THREE.Color, around: THREE.Color) {
    this.material = new THREE.ShaderMaterial({
      vertexShader: DIRECTION_VERTEX,
      fragmentShader: FRAGMENT,
      depthTest: false,
      depthWrite: false,
      uniforms: {
        faces: { value: this.faces.texture },
        sky: { value: displayed(sky) },
        around: { value: displayed(around) },
      },
    });
    this.mesh = new THREE.Mesh<THREE.BufferGeometry, THREE.Material>(this.geometry, this.material);
    this.mesh.frustumCulled = false;
    this.scene.add(this.mesh);
    this.face.matrixAutoUpdate = false;
  }

  /**
   * Draws what is needed of the faces, for a frame on a canvas, as seen from a camera's place, `near` metres away and
   * farther.
   */
  drawFaces(
    renderer: THREE.WebGLRenderer,
    set: THREE.Scene,
    eye: THREE.Matrix4,
    grid: LensGrid,
    canvas: Canvas,
    near: number,
    far: number,
    faces = this.faces,
    each: (face: FaceAxes) => void = () => undefined,
  ) {
    this.take(grid);
    const size = Math.round(
      Math.min(LARGEST, Math.max(SMALLEST, grid.face_over_frame * canvas.frame.width * canvas.ratio * HALF)),
    );
    faces.setSize(COLUMNS * size, ROWS * size);
    const background = set.background;
    set.background = null;
    faces.scissorTest = true;
    renderer.setClearColor("#000000", 0);
    for (const face of FACES) {
      const part = this.partOf(face, grid, canvas, size);
      if (!part) continue;
      const [left, bottom, right, top] = part;
      const tangent = (pixel: number) => near * HALF * ((2 * pixel) / size - 1);
      this.face.projectionMatrix.makePerspective(
        tangent(left),
        tangent(right),
        tangent(top),
        tangent(bottom),
        near,
        far,
      );
      this.face.projectionMatrixInverse.copy(this.face.projectionMatrix).invert();
      this.face.matrix
        .identity()
        .lookAt(new THREE.Vector3(), new THREE.Vector3(...face.look), new THREE.Vector3(...face.up))
        .premultiply(eye);
      this.face.matrixWorld.copy(this.face.matrix);
      this.face.matrixWorldInverse.copy(this.face.matrix).invert();
      faces.viewport.set(face.at[0] * size + left, face.at[1] * size + bottom, right - left, top - bottom);
      faces.scissor.copy(faces.viewport);
      each(face);
      renderer.setRenderTarget(faces);
      renderer.clear();
      renderer.render(set, this.face);
    }
    renderer.setRenderTarget(null);
    set.background = background;
  }

  /** Left, bottom, right and top pixel of what the canvas shows of a face; nothing where it shows none of it. */
  private partOf(
    { look, right, up }: (typeof FACES)[number],
    { at }: LensGrid,
    { frame, width, height, around }: Canvas,
    size: number,
  ): [number, number, number, number] | null {
    const directions = this.geometry.getAttribute("direction").array;
    const n = at.length;
    const shown = (low: number, high: number) =>
      [
        Math.max(
          0,
          at.findLastIndex((line) => line <= low),
        ),
        (at.findIndex((line) => line >= high) + n) % n,
      ] as const;
    const [u0, u1] = around ? shown(-frame.left / frame.width, (width - frame.left) / frame.width) : shown(0, 1);
    const [v0, v1] = around
      ? shown((frame.top + frame.height - height) / frame.height, (frame.top + frame.height) / frame.height)
      : shown(0, 1);
    const part = [Infinity, Infinity, -Infinity, -Infinity] as [number, number, number, number];
    for (let row = v0; row <= v1; row++) {
      for (let column = u0; column <= u1; column++) {
        const node = 4 * (row * n + column);
        const along = (axis: Axis) =>
          axis[0] * directions[node]! + axis[1] * directions[node + 1]! + axis[2] * directions[node + 2]!;
        const ahead = along(look);
        // A direction that ends beside the face counts as well: what lies between it and the next may end on it.
        if (directions[node + 3]! < 0.5 || ahead < BESIDE) continue;
        const [x, y] = [along(right) / ahead, along(up) / ahead];
        part[0] = Math.min(part[0], x);
        part[1] = Math.min(part[1], y);
        part[2] = Math.max(part[2], x);
        part[3] = Math.max(part[3], y);
      }
    }
    const pixel = (tangent: number) => ((tangent / HALF + 1) / 2) * size;
    const [left, bottom] = [part[0], part[1]].map((low) => Math.max(0, Math.floor(pixel(low)) - 2)) as [number, number];
    const [end, top] = [part[2], part[3]].map((high) => Math.min(size, Math.ceil(pixel(high)) + 2)) as [number, number];
    return left < end && bottom < top ? [left, bottom, end, top] : null;
  }

  /** Pulls the faces through the grid, onto a canvas in which the frame lies somewhere. */
  pull(renderer: THREE.WebGLRenderer, grid: LensGrid, { frame, width, height }: Canvas) {
    const places = this.geometry.getAttribute("position") as THREE.BufferAttribute;
    const n = grid.at.length;
    for (let node = 0; node < n * n; node++) {
      const [u, v] = [grid.at[node % n]!, grid.at[Math.floor(node / n)]!];
      places.setXYZ(
        node,
        (2 * (frame.left + u * frame.width)) / width - 1,
        1 - (2 * (frame.top + (1 - v) * frame.height)) / height,
        0,
      );
    }
    places.needsUpdate = true;
    renderer.render(this.scene, this.flat);
  }

  /** What was drawn on the faces last, linear, and clear where there is only sky. */
  get colours(): THREE.Texture {
    return this.faces.texture;
  }

  /** Lays something else over the same grid, which was pulled just before. */
  lay(renderer: THREE.WebGLRenderer, grid: LensGrid, canvas: Canvas, material: THREE.Material) {
    this.mesh.material = material;
    this.pull(renderer, grid, canvas);
    this.mesh.material = this.material;
  }

  private take(grid: LensGrid) {
    if (this.pulledBy?.directions === grid.directions) return;
    const n = grid.at.length;
    if (this.pulledBy?.at.length !== n) {
      const corners: number[] = [];
      for (let row = 0; row < n - 1; row++) {
        for (let column = 0; column < n - 1; column++) {
          const low = row * n + column;
          corners.push(low, low + 1, low + n + 1, low, low + n + 1, low + n);
        }
      }
      this.geometry.setIndex(corners);
      this.geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array(3 * n * n), 3));
    }
    const bytes = Uint8Array.from(atob(grid.directions), (letter) => letter.charCodeAt(0));
    const numbers = new DataView(bytes.buffer);
    const directions = new Float32Array(4 * n * n);
    for (let node = 0; node < n * n; node++) {
      const [right, up, ahead, drawn] = [0, 2, 4, 6].map((at) => numbers.getInt16(8 * node + at, true)) as [
        number,
        number,
        number,
        number,
      ];
      directions.set([right / WHOLE, up / WHOLE, -ahead / WHOLE, drawn / ONE], 4 * node);
    }
    this.geometry.setAttribute("direction", new THREE.BufferAttribute(directions, 4));
    this.pulledBy = grid;
  }

  dispose() {
    this.faces.dispose();
    this.geometry.dispose();
    this.material.dispose();
  }
}

/** A colour in the numbers a screen is given. */
export function displayed(colour: THREE.Color): THREE.Vector3 {
  const { r, g, b } = colour.clone().convertLinearToSRGB();
  return new THREE.Vector3(r, g, b);
}
