import * as THREE from "three";
import type { Sheet } from "../api/client";
import type { Depths } from "./depths";
import { type Canvas, FACE_LOOKUP, type LensGrid, type Pulled, DIRECTION_VERTEX } from "./pulled";

/** How a picture is made to tell where it is soft: drawn with its blur, hatched there, or with lines of equal blur. */
export type Softness = "drawn" | "hatched" | "lines";
/**
 * What the sheet says of the blur, its limit in pixels of the picture and how many of those it is across, and how that
 * is to be seen.
 */
export interface Soft {
  how: Softness;
  blur: Sheet["focus"]["blur"];
  limit: number;
  across: number;
  fromStand: boolean;
}

/** From how far the inverse of a depth lies beside that of the focus, to what is drawn over the picture there. */
const SHOWN = `
  uniform float times;
  uniform float limit;
  uniform float lines;
  uniform float ratio;
  /** Whether a surface ends there: along one, the inverse of a depth goes on as it went before. */
  bool ends(float here, float left, float right, float below, float above) {
    float bends = abs(left + right - 2.0 * here) + abs(below + above - 2.0 * here);
    float goes = 0.5 * (abs(right - left) + abs(above - below));
    return bends > 0.5 * goes + 1e-7;
  }
  void shown(float off, bool ended, vec2 p) {
    float blur = times * abs(off);
    float over = log2(max(blur, 1e-6) / limit);
    float steep = fwidth(over), slope = fwidth(off);
    if (lines < 0.5) {
      if (over <= 0.0) discard;
      float apart = 9.0 * ratio;
      float share = mod(p.x + p.y, apart) / apart;
      float wide = mix(0.13, 0.4, clamp(over / 4.0, 0.0, 1.0));
      if (share > wide + 0.12) discard;
      gl_FragColor = share < wide ? vec4(1.0, 1.0, 1.0, 0.72) : vec4(0.0, 0.0, 0.0, 0.4);
      return;
    }
    if (ended) discard;
    float focus = abs(off) / max(slope, 1e-9) / ratio;
    if (focus < 2.6 && slope * times < limit) {
      gl_FragColor = focus < 1.5 ? vec4(0.914, 0.851, 0.651, 1.0) : vec4(0.0, 0.0, 0.0, 0.6);
      return;
    }
    float level = max(0.0, floor(over + 0.5));
    float beside = abs(over - level) / max(steep, 1e-6) / ratio;
    if (steep > 0.4 || level > 5.0 || beside > 1.9) discard;
    gl_FragColor = beside < (level < 0.5 ? 1.2 : 0.7) ? vec4(1.0, 1.0, 1.0, 0.95) : vec4(0.0, 0.0, 0.0, 0.45);
  }
`;
const FLAT = `
  uniform sampler2D depth;
  uniform vec2 size;
  uniform vec4 frame;
  uniform vec3 q;
  ${SHOWN}
  void main() {
    vec2 p = gl_FragCoord.xy, uv = (p - frame.xy) / frame.zw;
    if (any(lessThan(uv, vec2(0.0))) || any(greaterThan(uv, vec2(1.0)))) discard;
    float here = texture2D(depth, p / size).r;
    vec2 x = vec2(1.0, 0.0), y = vec2(0.0, 1.0);
    bool ended = ends(here, texture2D(depth, (p - x) / size).r, texture2D(depth, (p + x) / size).r, texture2D(depth, (p - y) / size).r, texture2D(depth, (p + y) / size).r);
    shown(q.x + q.y * uv.x + q.z * uv.y - here, ended, p);
  }
`;
const PULLED = `
  uniform sampler2D depth;
  uniform vec4 frame;
  uniform vec3 q;
  ${SHOWN}
  varying vec4 looks;
  ${FACE_LOOKUP}
  float at_direction(vec3 w) { return texture2D(depth, on_faces(w)).r; }
  void main() {
    vec2 p = gl_FragCoord.xy, uv = (p - frame.xy) / frame.zw;
    if (any(lessThan(uv, vec2(0.0))) || any(greaterThan(uv, vec2(1.0))) || looks.w < 0.5) discard;
    vec3 w = looks.xyz, x = dFdx(w), y = dFdy(w);
    float here = at_direction(w);
    bool ended = ends(here, at_direction(w - x), at_direction(w + x), at_direction(w - y), at_direction(w + y));
    vec2 aside = looks.z < -1e-4 ? looks.xy / -looks.z : vec2(0.0);
    shown(looks.w * (q.x + dot(q.yz, aside) - here), ended, p);
  }
`;
const values = () => ({
  depth: { value: null as THREE.Texture | null },
  size: { value: new THREE.Vector2() },
  frame: { value: new THREE.Vector4() },
  q: { value: new THREE.Vector3() },
  times: { value: 0 },
  limit: { value: 1 },
  lines: { value: 0 },
  ratio: { value: 1 },
});
const laid = (vertexShader: string, fragmentShader: string, uniforms: ReturnType<typeof values>) =>
  new THREE.ShaderMaterial({
    vertexShader,
    fragmentShader,
    uniforms,
    depthTest: false,
    depthWrite: false,
    transparent: true,
  });

/**
 * Draws over a picture where it is soft, from the depths of the set as the camera sees it and from what the sheet says
 * of the blur.
 */
export class SoftnessOver {
  private readonly flatValues = values();
  private readonly pulledValues = values();
  private readonly over = laid("void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }", FLAT, this.flatValues);
  private readonly overPulled = laid(DIRECTION_VERTEX, PULLED, this.pulledValues);
  private readonly quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.over);
  private readonly scene = new THREE.Scene();
  private readonly flat = new THREE.Camera();

  constructor() {
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
  }

  /** Over a picture seen with a matrix, which was just drawn `wide` × `high` pixels large. */
  draw(
    renderer: THREE.WebGLRenderer,
    set: THREE.Scene,
    eye: THREE.Camera,
    depths: Depths,
    soft: Soft,
    canvas: Canvas,
    wide: number,
    high: number,
  ) {
    const at = soft.blur.at;
    if (!at || soft.blur.times_px === 0) return;
    this.tell(this.flatValues, depths.through(renderer, set, eye, soft.fromStand, wide, high), soft, canvas, at);
    this.flatValues.size.value.set(wide, high);
    renderer.setViewport(0, 0, wide, high);
    this.laying(renderer, () => renderer.render(this.scene, this.flat));
  }

  /** Over a picture that was just pulled through a grid; `depth`: on the faces it was pulled from. */
  pull(
    renderer: THREE.WebGLRenderer,
    pulled: Pulled,
    grid: LensGrid,
    depth: THREE.Texture,
    soft: Soft,
    canvas: Canvas,
  ) {
    this.tell(this.pulledValues, depth, soft, canvas, [soft.blur.focus_per_m, ...soft.blur.lean]);
    this.laying(renderer, () => pulled.lay(renderer, grid, canvas, this.overPulled));
  }

  private laying(renderer: THREE.WebGLRenderer, draw: () => void) {
    const clipping = renderer.clippingPlanes;
    renderer.clippingPlanes = [];
    renderer.autoClear = false;
    draw();
    renderer.autoClear = true;
    renderer.clippingPlanes = clipping;
  }

  private tell(
    own: ReturnType<typeof values>,
    depth: THREE.Texture,
    { how, blur, limit }: Soft,
    { frame, height, ratio }: Canvas,
    q: readonly [number, number, number],
  ) {
    own.depth.value = depth;
    own.q.value.set(...q);
    own.times.value = blur.times_px;
    own.limit.value = limit;
    own.lines.value = how === "lines" ? 1 : 0;
    own.ratio.value = ratio;
    own.frame.value.set(
      frame.left * ratio,
      (height - frame.top - frame.height) * ratio,
      frame.width * ratio,
      frame.height * ratio,
    );
  }

  dispose() {
    [this.over, this.overPulled, this.quad.geometry].forEach((one) => one.dispose());
  }
}
