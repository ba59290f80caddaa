import * as THREE from "three";
import type { Sheet } from "../api/client";
import { type Canvas, FACE_LOOKUP, type FaceAxes, type LensGrid, type Pulled, WAY_VERTEX } from "./pulled";

/** How a picture is made to tell where it is soft: hatched there, or with lines of equal blur. */
export type Softness = "hatched" | "lines";
/** What the sheet says of the blur, its limit in pixels of the picture, and how that is to be seen. */
export interface Soft { how: Softness; blur: Sheet["focus"]["blur"]; limit: number; fromStand: boolean }

const VERTEX = `
  #include <clipping_planes_pars_vertex>
  varying vec3 seen;
  void main() {
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    seen = mvPosition.xyz;
    gl_Position = projectionMatrix * mvPosition;
    #include <clipping_planes_vertex>
  }
`;
const DEPTH = `
  #include <clipping_planes_pars_fragment>
  uniform vec3 axis;
  uniform float fromStand;
  uniform vec2 bounds;
  varying vec3 seen;
  void main() {
    #include <clipping_planes_fragment>
    float away = mix(dot(seen, axis), length(seen), fromStand);
    if (away < bounds.x || away > bounds.y) discard;
    gl_FragColor = vec4(1.0 / away, 0.0, 0.0, 1.0);
  }
`;
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
  float at_way(vec3 w) { return texture2D(depth, on_faces(w)).r; }
  void main() {
    vec2 p = gl_FragCoord.xy, uv = (p - frame.xy) / frame.zw;
    if (any(lessThan(uv, vec2(0.0))) || any(greaterThan(uv, vec2(1.0))) || looks.w < 0.5) discard;
    vec3 w = looks.xyz, x = dFdx(w), y = dFdy(w);
    float here = at_way(w);
    bool ended = ends(here, at_way(w - x), at_way(w + x), at_way(w - y), at_way(w + y));
    vec2 aside = looks.z < -1e-4 ? looks.xy / -looks.z : vec2(0.0);
    shown(q.x + dot(q.yz, aside) - here, ended, p);
  }
`;
const FARTHEST = 1e30;

const inNumbers = () => new THREE.WebGLRenderTarget(1, 1, { type: THREE.FloatType, minFilter: THREE.NearestFilter, magFilter: THREE.NearestFilter, generateMipmaps: false });
const told = () => ({
  depth: { value: null as THREE.Texture | null }, size: { value: new THREE.Vector2() }, frame: { value: new THREE.Vector4() }, q: { value: new THREE.Vector3() },
  times: { value: 0 }, limit: { value: 1 }, lines: { value: 0 }, ratio: { value: 1 },
});
const laid = (vertexShader: string, fragmentShader: string, uniforms: ReturnType<typeof told>) =>
  new THREE.ShaderMaterial({ vertexShader, fragmentShader, uniforms, depthTest: false, depthWrite: false, transparent: true });

/** Draws over a picture where it is soft, from the depths of the set as the camera sees it and from what the sheet says of the blur. */
export class SoftnessOver {
  private readonly depths = inNumbers();
  private readonly ofFaces = inNumbers();
  private readonly seen = { axis: { value: new THREE.Vector3(0, 0, -1) }, fromStand: { value: 0 }, bounds: { value: new THREE.Vector2(0, FARTHEST) } };
  /** Draws depths instead of colours; what opens the set opens this too. */
  readonly depth = new THREE.ShaderMaterial({ vertexShader: VERTEX, fragmentShader: DEPTH, clipping: true, side: THREE.DoubleSide, uniforms: this.seen });
  private readonly flatTold = told();
  private readonly pulledTold = told();
  private readonly over = laid("void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }", FLAT, this.flatTold);
  private readonly overPulled = laid(WAY_VERTEX, PULLED, this.pulledTold);
  private readonly quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.over);
  private readonly scene = new THREE.Scene();
  private readonly flat = new THREE.Camera();

  constructor() {
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
  }

  /** Over a picture seen with a matrix, which was just drawn `wide` × `high` pixels large. */
  draw(renderer: THREE.WebGLRenderer, set: THREE.Scene, eye: THREE.Camera, soft: Soft, canvas: Canvas, wide: number, high: number) {
    const at = soft.blur.at;
    if (!at || soft.blur.times_px === 0) return;
    this.depths.setSize(wide, high);
    renderer.getViewport(this.depths.viewport);
    this.depths.scissor.copy(this.depths.viewport);
    this.seen.axis.value.set(0, 0, -1);
    this.measured(renderer, set, soft.fromStand, () => {
      renderer.setRenderTarget(this.depths);
      renderer.clear();
      renderer.render(set, eye);
      renderer.setRenderTarget(null);
    });
    this.tell(this.flatTold, this.depths.texture, soft, canvas, at);
    this.flatTold.size.value.set(wide, high);
    renderer.setViewport(0, 0, wide, high);
    this.laying(renderer, () => renderer.render(this.scene, this.flat));
  }

  /** Over a picture that was just pulled through a grid; `bounds`: what is nearer or farther from the stand is not there. */
  pull(renderer: THREE.WebGLRenderer, set: THREE.Scene, eye: THREE.Matrix4, pulled: Pulled, grid: LensGrid, soft: Soft, canvas: Canvas, reach: readonly [number, number], bounds: readonly [number, number]) {
    if (soft.blur.times_px === 0) return;
    const place = renderer.getViewport(new THREE.Vector4());
    const room = renderer.getScissor(new THREE.Vector4());
    this.seen.bounds.value.set(bounds[0], Math.min(bounds[1], FARTHEST));
    this.measured(renderer, set, soft.fromStand, () =>
      pulled.drawFaces(renderer, set, eye, grid, canvas, ...reach, this.ofFaces, ({ right, up, look }: FaceAxes) => this.seen.axis.value.set(-right[2], -up[2], look[2])));
    this.seen.bounds.value.set(0, FARTHEST);
    this.tell(this.pulledTold, this.ofFaces.texture, soft, canvas, [soft.blur.focus_per_m, ...soft.blur.lean]);
    renderer.setViewport(place);
    renderer.setScissor(room);
    this.laying(renderer, () => pulled.lay(renderer, grid, canvas, this.overPulled));
  }

  /** Only what is of the set has a depth: no sky, no marks of shots, no box, nothing one looks through. */
  private measured(renderer: THREE.WebGLRenderer, set: THREE.Scene, fromStand: boolean, draw: () => void) {
    this.seen.fromStand.value = fromStand ? 1 : 0;
    const [colour, alpha, background] = [renderer.getClearColor(new THREE.Color()), renderer.getClearAlpha(), set.background];
    const hidden: THREE.Object3D[] = [];
    set.traverseVisible((object) => {
      const seenThrough = object instanceof THREE.Mesh && [object.material].flat().some((material: THREE.Material) => material.transparent);
      if (object instanceof THREE.Line || seenThrough) hidden.push(object);
    });
    hidden.forEach((object) => { object.visible = false; });
    set.background = null;
    set.overrideMaterial = this.depth;
    renderer.setClearColor("#000000", 0);
    draw();
    renderer.setClearColor(colour, alpha);
    set.overrideMaterial = null;
    set.background = background;
    hidden.forEach((object) => { object.visible = true; });
  }

  private laying(renderer: THREE.WebGLRenderer, draw: () => void) {
    const clipping = renderer.clippingPlanes;
    renderer.clippingPlanes = [];
    renderer.autoClear = false;
    draw();
    renderer.autoClear = true;
    renderer.clippingPlanes = clipping;
  }

  private tell(own: ReturnType<typeof told>, depth: THREE.Texture, { how, blur, limit }: Soft, { frame, height, ratio }: Canvas, q: readonly [number, number, number]) {
    own.depth.value = depth;
    own.q.value.set(...q);
    own.times.value = blur.times_px;
    own.limit.value = limit;
    own.lines.value = how === "lines" ? 1 : 0;
    own.ratio.value = ratio;
    own.frame.value.set(frame.left * ratio, (height - frame.top - frame.height) * ratio, frame.width * ratio, frame.height * ratio);
  }

  dispose() {
    [this.depths, this.ofFaces, this.depth, this.over, this.overPulled, this.quad.geometry].forEach((one) => one.dispose());
  }
}
