import * as THREE from "three";
import type { Sheet } from "../api/client";
import type { FrameRect } from "./stage";

export type LensGrid = NonNullable<Sheet["lens"]["grid"]>;
type FaceName = LensGrid["faces"][number]["name"];

/** Where each face looks and what is up on it, in the camera's axes (to the right, up, towards the viewer), and its place among the others. */
const FACES: Record<FaceName, { look: [number, number, number]; up: [number, number, number]; at: [number, number] }> = {
  ahead: { look: [0, 0, -1], up: [0, 1, 0], at: [0, 0] },
  right: { look: [1, 0, 0], up: [0, 1, 0], at: [1, 0] },
  left: { look: [-1, 0, 0], up: [0, 1, 0], at: [2, 0] },
  behind: { look: [0, 0, 1], up: [0, 1, 0], at: [0, 1] },
  up: { look: [0, 1, 0], up: [0, 0, 1], at: [1, 1] },
  down: { look: [0, -1, 0], up: [0, 0, -1], at: [2, 1] },
};
const [COLUMNS, ROWS] = [3, 2];
/** Half of a face's angle of view, as a tangent: a little over a quarter turn, so that no seam is seen. */
const HALF = 1.03;
const [SMALLEST, LARGEST] = [64, 2048];
const WHOLE = 32767;

const VERTEX = `
  attribute vec4 way;
  varying vec4 looks;
  void main() { looks = way; gl_Position = vec4(position.xy, 0.0, 1.0); }
`;
const FRAGMENT = `
  uniform sampler2D faces;
  uniform vec3 sky;
  uniform vec3 around;
  varying vec4 looks;
  vec2 placed(vec2 on, vec2 at) { return (at + 0.5 + 0.5 * on / ${HALF.toFixed(4)}) / vec2(${COLUMNS}.0, ${ROWS}.0); }
  void main() {
    vec3 w = looks.xyz, size = abs(w);
    vec2 at;
    if (size.z >= size.x && size.z >= size.y) at = w.z < 0.0 ? placed(vec2(w.x, w.y) / size.z, vec2(0.0, 0.0)) : placed(vec2(-w.x, w.y) / size.z, vec2(0.0, 1.0));
    else if (size.x >= size.y) at = w.x > 0.0 ? placed(vec2(w.z, w.y) / size.x, vec2(1.0, 0.0)) : placed(vec2(-w.z, w.y) / size.x, vec2(2.0, 0.0));
    else at = w.y > 0.0 ? placed(vec2(w.x, w.z) / size.y, vec2(1.0, 1.0)) : placed(vec2(w.x, -w.z) / size.y, vec2(2.0, 1.0));
    vec4 met = texture2D(faces, at);
    gl_FragColor = vec4(met.rgb / max(met.a, 0.001), 1.0);
    #include <tonemapping_fragment>
    #include <colorspace_fragment>
    gl_FragColor.rgb = mix(sky, gl_FragColor.rgb, clamp(met.a, 0.0, 1.0));
    if (looks.w < 0.5) gl_FragColor.rgb = around;
  }
`;

/** Pictures no matrix can say: the faces of a cube, drawn as plain pictures and pulled through the grid of ways the sheet tells. */
export class Pulled {
  private readonly faces = new THREE.WebGLRenderTarget(1, 1, { type: THREE.HalfFloatType, samples: 4, generateMipmaps: false });
  private readonly geometry = new THREE.BufferGeometry();
  private readonly material: THREE.ShaderMaterial;
  private readonly scene = new THREE.Scene();
  private readonly flat = new THREE.Camera();
  private readonly face = new THREE.Camera();
  private told: LensGrid | null = null;

  constructor(sky: THREE.Color, around: THREE.Color) {
    this.material = new THREE.ShaderMaterial({
      vertexShader: VERTEX, fragmentShader: FRAGMENT, depthTest: false, depthWrite: false,
      uniforms: { faces: { value: this.faces.texture }, sky: { value: displayed(sky) }, around: { value: displayed(around) } },
    });
    const mesh = new THREE.Mesh(this.geometry, this.material);
    mesh.frustumCulled = false;
    this.scene.add(mesh);
    this.face.matrixAutoUpdate = false;
  }

  /** Draws the faces of a set as seen from a camera's place, `near` metres away and farther. */
  drawFaces(renderer: THREE.WebGLRenderer, set: THREE.Scene, eye: THREE.Matrix4, grid: LensGrid, beyond: number, wide: number, near: number, far: number) {
    const size = Math.round(Math.min(LARGEST, Math.max(SMALLEST, grid.face_over_frame * wide * HALF)));
    this.faces.setSize(COLUMNS * size, ROWS * size);
    const background = set.background;
    set.background = null;
    renderer.setRenderTarget(this.faces);
    renderer.setClearColor("#000000", 0);
    this.face.projectionMatrix.makePerspective(-HALF * near, HALF * near, HALF * near, -HALF * near, near, far);
    this.face.projectionMatrixInverse.copy(this.face.projectionMatrix).invert();
    for (const { name, beyond: begins } of grid.faces) {
      if (begins > beyond) continue;
      const { look, up, at: [column, row] } = FACES[name];
      this.face.matrix.identity().lookAt(new THREE.Vector3(), new THREE.Vector3(...look), new THREE.Vector3(...up)).premultiply(eye);
      this.face.matrixWorld.copy(this.face.matrix);
      this.face.matrixWorldInverse.copy(this.face.matrix).invert();
      this.faces.viewport.set(column * size, row * size, size, size);
      this.faces.scissor.set(column * size, row * size, size, size);
      this.faces.scissorTest = true;
      renderer.setRenderTarget(this.faces);
      renderer.clear();
      renderer.render(set, this.face);
    }
    renderer.setRenderTarget(null);
    set.background = background;
  }

  /** Pulls the faces through the grid, onto a canvas in which the frame lies somewhere. */
  pull(renderer: THREE.WebGLRenderer, grid: LensGrid, frame: FrameRect, width: number, height: number) {
    this.take(grid);
    const places = this.geometry.getAttribute("position") as THREE.BufferAttribute;
    const n = grid.at.length;
    for (let node = 0; node < n * n; node++) {
      const [u, v] = [grid.at[node % n]!, grid.at[Math.floor(node / n)]!];
      places.setXYZ(node, (2 * (frame.left + u * frame.width)) / width - 1, 1 - (2 * (frame.top + (1 - v) * frame.height)) / height, 0);
    }
    places.needsUpdate = true;
    renderer.render(this.scene, this.flat);
  }

  private take(grid: LensGrid) {
    if (this.told?.ways === grid.ways) return;
    const n = grid.at.length;
    if (this.told?.at.length !== n) {
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
    const bytes = Uint8Array.from(atob(grid.ways), (letter) => letter.charCodeAt(0));
    const numbers = new DataView(bytes.buffer);
    const ways = new Float32Array(4 * n * n);
    for (let node = 0; node < n * n; node++) {
      const [right, up, ahead, drawn] = [0, 2, 4, 6].map((at) => numbers.getInt16(8 * node + at, true)) as [number, number, number, number];
      ways.set([right / WHOLE, up / WHOLE, -ahead / WHOLE, drawn], 4 * node);
    }
    this.geometry.setAttribute("way", new THREE.BufferAttribute(ways, 4));
    this.told = grid;
  }

  dispose() {
    this.faces.dispose();
    this.geometry.dispose();
    this.material.dispose();
  }
}

/** A colour in the numbers a screen is given. */
function displayed(colour: THREE.Color): THREE.Vector3 {
  const { r, g, b } = colour.clone().convertLinearToSRGB();
  return new THREE.Vector3(r, g, b);
}
